/** What a key or a button does to the selected camera itself. */
import { useRef } from 'react'
import { feelFor } from '../../core/controls/controls'
import type { Pace } from '../../core/presets/pace'
import { changeFeel, controlsNow } from '../input/controlsStore'
import type { PressActions } from '../input/useKeys'
import { live } from '../live/live'
import { toggleGuides } from '../picture/guides'
import { goHome, order, setAutoFocus } from '../presets/actions'
import { preview, takeNext } from '../tally/next'
import { takeOver } from './ClaimChip'
import type { DeskCamera } from './useCamera'

const LEAST_SPEED = 0.05

/** @param pace of what has none of its own */
export function useCameraActions({ view, able }: DeskCamera, pace: Pace | null): PressActions {
  const { id } = view
  /** Whether it was last told to follow a subject from here. */
  const following = useRef(false)
  const nudge = (right: number, up: number) => {
    const by = controlsNow().nudge
    void order({ t: 'nudge', camera: id, right: right * by, up: up * by, pace })
  }
  const speedUp = (by: number) => {
    const { speed } = feelFor(controlsNow(), id)
    changeFeel(id, { speed: Math.min(1, Math.max(LEAST_SPEED, speed + by)) })
  }
  return {
    autoFocus: () => {
      const pose = live().fact('pose', id)
      if (pose) void setAutoFocus(id, !pose.focusAuto)
    },
    focusOnce: () => void order({ t: 'focusOnce', camera: id }),
    home: () => void goHome(id, pace),
    guides: toggleGuides,
    nudgeLeft: () => nudge(-1, 0),
    nudgeRight: () => nudge(1, 0),
    nudgeUp: () => nudge(0, 1),
    nudgeDown: () => nudge(0, -1),
    speedUp: () => speedUp(0.1),
    speedDown: () => speedUp(-0.1),
    subject: () => {
      if (!able?.subject) return
      following.current = !following.current
      void order({ t: 'followSubject', camera: id, on: following.current, sensitivity: 2, size: 2 })
    },
    takeOver: () => takeOver(id),
    preview: () => void preview(view),
    cut: () => void takeNext(view, false),
  }
}
