/** What a touch on the live picture does. */

import { type Pace, paceText } from '../../core/presets/pace'

export const TOOLS = ['store', 'follow', 'aim', 'frame', 'focusPoint', 'nudge'] as const
export type Tool = (typeof TOOLS)[number]

interface ToolWords {
  label: string
  /** What to do with the picture, in a few words. */
  how: string
}

export const TOOL_WORDS: Record<Tool, ToolWords> = {
  store: { label: 'Drag to store', how: '' },
  follow: { label: 'Follow hand', how: 'Drag the picture' },
  aim: { label: 'Aim', how: 'Touch what is to be in the middle' },
  frame: { label: 'Frame', how: 'Draw a box around it' },
  focusPoint: { label: 'Focus point', how: 'Touch what is to be sharp' },
  nudge: { label: 'Nudge', how: 'Touch the side to which the picture is to move' },
}

/** How aims, frames, nudges and zooms travel; null is as fast as the camera can. */
export const TOOL_PACES: readonly (Pace | null)[] = [
  null,
  { kind: 'timed', seconds: 2 },
  { kind: 'timed', seconds: 4 },
  { kind: 'timed', seconds: 8 },
  { kind: 'steady', degPerSec: 3 },
]

export function nextToolPace(pace: Pace | null): Pace | null {
  const at = TOOL_PACES.findIndex((one) => JSON.stringify(one) === JSON.stringify(pace))
  return TOOL_PACES[(at + 1) % TOOL_PACES.length] ?? null
}

export const paceWords = (pace: Pace | null): string => paceText(pace) || 'quick'
