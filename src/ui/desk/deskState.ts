/** What is open on the Desk, and what a touch on the picture does. */

import { useState } from 'react'
import type { Pace } from '../../core/presets/pace'
import type { Tool } from '../picture/tools'
import type { BoardKind } from '../presets/Board'

export type SheetName = 'more' | 'keys' | 'pace' | 'memory'

export function useDeskState() {
  const [tool, setTool] = useState<Tool>('store')
  /** How long an aim or a frame takes; null: as fast as it can. */
  const [toolPace, setToolPace] = useState<Pace | null>(null)
  const [boardKind, setBoardKind] = useState<BoardKind>('camera')
  const [sheet, setSheet] = useState<SheetName | null>(null)
  /** The preset whose sheet is open. */
  const [edited, setEdited] = useState<string | null>(null)
  /** All pictures in place of the Desk. */
  const [all, setAll] = useState(false)
  /** On air over next in place of the Desk. */
  const [air, setAir] = useState(false)
  /** The whole board in place of the picture, in a low window. */
  const [board, setBoard] = useState(false)
  /** A touch on a camera takes it along. */
  const [adding, setAdding] = useState(false)
  /** Blocks are being moved. */
  const [arranging, setArranging] = useState(false)
  return {
    ...{ arranging, setArranging },
    ...{ tool, setTool, toolPace, setToolPace, boardKind, setBoardKind, sheet, setSheet },
    ...{ edited, setEdited, all, setAll, air, setAir, board, setBoard, adding, setAdding },
  }
}

export type DeskState = ReturnType<typeof useDeskState>
