/**
 * What the planner takes and gives. Pan and tilt are degrees as the head counts them; `zoom` is the natural
 * logarithm of the focal length in mm, since a zoom that is even in it is even to the eye; focus is in the lens's
 * own units. Times are seconds.
 */

export const MOVE_AXES = ['pan', 'tilt', 'zoom', 'focus'] as const
export type MoveAxis = (typeof MOVE_AXES)[number]

/** Position, per second, and per second squared. */
export interface Moment {
  position: number
  velocity: number
  acceleration: number
}
export type MoveState = Record<MoveAxis, Moment>

/** The most that an axis may do: its unit per second, per second squared, per second cubed. */
export interface AxisLimits {
  speed: number
  accel: number
  jerk: number
}
export type MoveLimits = Record<MoveAxis, AxisLimits>

export interface MoveInput {
  /** Also in motion. */
  from: MoveState
  to: Record<MoveAxis, number>
  /** How long it is to take; null: as short as the limits allow. */
  seconds: number | null
  limits: MoveLimits
  /** What the picture shows at a focal length, degrees: turn and zoom are coupled through it. */
  hfovDeg(zoom: number): number
}

export interface MoveTrajectory {
  readonly seconds: number
  /** @param s seconds from its start; before and after it the axes stand at its ends */
  at(s: number): MoveState
}

export interface Plan {
  readonly trajectory: MoveTrajectory
  /** The shortest that the limits allow. */
  readonly leastSeconds: number
  /** It was asked for in less, and takes the shortest. */
  readonly tooShort: boolean
}

/** A planner is any function of this kind. */
export type Planner = (input: MoveInput) => Plan

export const resting = (position: number): Moment => ({ position, velocity: 0, acceleration: 0 })
