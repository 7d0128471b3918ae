/** A move as the planner would make it, before it is made: for what is drawn of it. */
import type { HeadProfile } from '../../heads/profile'
import type { Lens } from '../../optics/lens'
import { planMove } from '../plan/planMove'
import { type Plan, resting } from '../plan/types'
import { logOf } from './followMove'
import { hfovAt, limitsOf, screenSpeed } from './limits'

interface Place {
  panDeg: number
  tiltDeg: number
  /** Lens units. */
  zoom: number
}

/** From rest to rest. @param seconds null: as short as it can be smooth */
export function previewOf(
  profile: HeadProfile,
  lens: Lens,
  from: Place,
  to: Place,
  seconds: number | null,
): Plan {
  return planMove({
    from: {
      pan: resting(from.panDeg),
      tilt: resting(from.tiltDeg),
      zoom: resting(logOf(lens, from.zoom)),
      focus: resting(0),
    },
    to: { pan: to.panDeg, tilt: to.tiltDeg, zoom: logOf(lens, to.zoom), focus: 0 },
    seconds,
    limits: limitsOf(profile, lens, from.zoom, to.zoom),
    hfovDeg: (log) => hfovAt(profile, log),
  })
}

/** Its speed over the screen, picture widths per second, at even steps of its time. */
export function hillOf(
  { trajectory }: Pick<Plan, 'trajectory'>,
  profile: HeadProfile,
  samples = 48,
): number[] {
  return Array.from({ length: samples + 1 }, (_, i) => {
    const state = trajectory.at((trajectory.seconds * i) / samples)
    return screenSpeed(state, hfovAt(profile, state.zoom.position))
  })
}
