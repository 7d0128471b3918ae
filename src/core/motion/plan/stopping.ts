/**
 * How an axis that is in motion comes to rest without a step: what it accelerates by fades first, in the time that
 * the jerk allows, and its speed meanwhile and after.
 */
import type { AxisLimits, Moment } from './types'

/** Seconds in which the speed, and in which the acceleration, goes to zero. */
export interface Stop {
  speed: number
  accel: number
}

export function stopFor({ velocity, acceleration }: Moment, { accel, jerk }: AxisLimits): Stop {
  const [v, a] = [Math.abs(velocity), Math.abs(acceleration)]
  // Each part may use half of the jerk: it is 4 a / T for the one and 6 v / T² for the other.
  const fade = (8 * a) / jerk
  const brake =
    v === 0 ? 0 : Math.max((1.5 * v) / Math.max(accel * 0.5, accel - a / 3), Math.sqrt((12 * v) / jerk))
  return { speed: brake, accel: fade }
}

export const stopSeconds = (moment: Moment, limits: AxisLimits): number => {
  const { speed, accel } = stopFor(moment, limits)
  return Math.max(speed, accel)
}

/** What is left of a speed and of an acceleration after a share x of their times, each with its derivatives. */
const SPEED = {
  position: (x: number) => x ** 4 / 2 - x ** 3 + x - 0.5,
  velocity: (x: number) => 2 * x ** 3 - 3 * x * x + 1,
  acceleration: (x: number) => 6 * x * x - 6 * x,
}
const ACCEL = {
  position: (x: number) => x ** 4 / 4 - (2 * x ** 3) / 3 + (x * x) / 2 - 1 / 12,
  velocity: (x: number) => x ** 3 - 2 * x * x + x,
  acceleration: (x: number) => 3 * x * x - 4 * x + 1,
}

/** How fast an axis is t seconds after its stop began. */
export function velocityLeft({ velocity: v, acceleration: a }: Moment, stop: Stop, t: number): number {
  const ofSpeed = t < stop.speed ? v * SPEED.velocity(t / stop.speed) : 0
  return ofSpeed + (t < stop.accel ? a * stop.accel * ACCEL.velocity(t / stop.accel) : 0)
}

/** What it accelerates by then. */
export function accelerationLeft({ velocity: v, acceleration: a }: Moment, stop: Stop, t: number): number {
  const ofSpeed = t < stop.speed ? (v * SPEED.acceleration(t / stop.speed)) / stop.speed : 0
  return ofSpeed + (t < stop.accel ? a * ACCEL.acceleration(t / stop.accel) : 0)
}

/** Where it is then, counted from where it will stand. */
export function wayLeft({ velocity: v, acceleration: a }: Moment, stop: Stop, t: number): number {
  const ofSpeed = t < stop.speed ? v * stop.speed * SPEED.position(t / stop.speed) : 0
  return ofSpeed + (t < stop.accel ? a * stop.accel ** 2 * ACCEL.position(t / stop.accel) : 0)
}
