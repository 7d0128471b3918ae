/** What the planner may ask of a head: less than it can, so that there is room to catch up. */
import { type HeadProfile, topSpeed } from '../../heads/profile'
import type { Lens } from '../../optics/lens'
import { zoomSlope } from '../../stick/speeds'
import type { MoveLimits, MoveState, MoveTrajectory } from '../plan/types'

const SPEED_SHARE = 0.9
const ACCEL_SHARE = 0.5
/** Jerk: all of the acceleration within this, s. */
const JERK_S = 0.25
/** Focus motors are not described: units per second over their range, s. */
const FOCUS_RANGE_S = 2

/** @param from, to zoom positions between which the move goes */
export function limitsOf(profile: HeadProfile, lens: Lens, from: number, to: number): MoveLimits {
  const of = (speed: number, accel: number) => ({
    speed: speed * SPEED_SHARE,
    accel: accel * ACCEL_SHARE,
    jerk: (accel * ACCEL_SHARE) / JERK_S,
  })
  // The same units are more to the eye at one end than at the other: the least along the way counts.
  const slopes = [0, 0.25, 0.5, 0.75, 1].map((s) => zoomSlope(lens, from + (to - from) * s))
  const slope = Math.min(...slopes)
  const zoomTop = profile.zoomSpeedsPerSec[profile.zoomSpeedsPerSec.length - 1]!
  const focus = Math.abs(profile.focus.far - profile.focus.near) / FOCUS_RANGE_S
  return {
    pan: of(topSpeed(profile.pan), profile.pan.accelDegPerSec2),
    tilt: of(topSpeed(profile.tilt), profile.tilt.accelDegPerSec2),
    zoom: of(zoomTop * slope, profile.zoomAccelPerSec2 * slope),
    focus: of(focus, focus * 4),
  }
}

/** What the picture shows at a focal length, which is told by its logarithm, degrees. */
export const hfovAt = ({ lens }: HeadProfile, log: number): number =>
  (2 * Math.atan(lens.sensorWidthMm / (2 * Math.exp(log))) * 180) / Math.PI

/** Picture widths per second that the picture moves: the turn across it, and its edges while it zooms. */
export function screenSpeed({ pan, tilt, zoom }: MoveState, hfovDeg: number): number {
  const across = pan.velocity * Math.cos((tilt.position * Math.PI) / 180)
  return Math.hypot(across, tilt.velocity) / hfovDeg + Math.abs(zoom.velocity) / 2
}

/** An axis that moves by less than this need not be smooth, degrees; or a share of the zoom's logarithm. */
const WORTH = { pan: 0.4, tilt: 0.4, zoom: 0.05 }

/**
 * The longest time in which a move is still smooth, s: in more, an axis would run slower than the head's slowest
 * step, and could only go on and off. Null: any time is.
 */
export function longestSmoothSeconds(
  trajectory: MoveTrajectory,
  profile: HeadProfile,
  lens: Lens,
  zooms: readonly [number, number],
): number | null {
  const { seconds } = trajectory
  const [from, to] = [trajectory.at(0), trajectory.at(seconds)]
  const slope = zoomSlope(lens, (zooms[0] + zooms[1]) / 2)
  const slowest = {
    pan: profile.pan.speedsDegPerSec[0]!,
    tilt: profile.tilt.speedsDegPerSec[0]!,
    zoom: profile.zoomSpeedsPerSec[0]! * slope,
  }
  const mean = (axis: 'pan' | 'tilt' | 'zoom') => Math.abs(to[axis].position - from[axis].position)
  const limits = (['pan', 'tilt', 'zoom'] as const)
    .filter((axis) => mean(axis) > WORTH[axis])
    .map((axis) => mean(axis) / slowest[axis])
  return limits.length > 0 ? Math.min(...limits) : null
}
