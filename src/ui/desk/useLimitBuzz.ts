/** A short buzz in the hand when the camera that it drives comes to its limit; phones that cannot do without. */
import { useEffect } from 'react'
import { atLimit } from '../../core/stick/atLimit'
import { boundsOf, NO_LIMITS } from '../../core/stick/speeds'
import { sticks } from '../input/sticks'
import { useFactValue } from '../live/useFactValue'
import type { DeskCamera } from './useCamera'

const BUZZ_MS = 35
const EVERY_MS = 120

export function useLimitBuzz({ view, profile }: DeskCamera): void {
  const there = useFactValue(
    'pose',
    view.id,
    (pose) => pose !== null && atLimit(boundsOf(profile, view.limits ?? NO_LIMITS, false), pose),
    EVERY_MS,
  )
  useEffect(() => {
    // Arriving there by a recall is no news for a hand.
    if (there && sticks.pushing) navigator.vibrate?.(BUZZ_MS)
  }, [there])
}
