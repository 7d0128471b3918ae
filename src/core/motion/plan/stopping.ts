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

/** @returns the motion t seconds after its start, with the position counted from where it will stand */
export function stoppingAt({ velocity: v, acceleration: a }: Moment, stop: Stop, t: number): Moment {
  const moment = { position: 0, velocity: 0, acceleration: 0 }
  if (t < stop.speed) {
    const x = t / stop.speed
    moment.position += v * stop.speed * (x ** 4 / 2 - x ** 3 + x - 0.5)
    moment.velocity += v * (2 * x ** 3 - 3 * x * x + 1)
    moment.acceleration += (v * (6 * x * x - 6 * x)) / stop.speed
  }
  if (t < stop.accel) {
    const x = t / stop.accel
    moment.position += a * stop.accel ** 2 * (x ** 4 / 4 - (2 * x ** 3) / 3 + (x * x) / 2 - 1 / 12)
    moment.velocity += a * stop.accel * (x ** 3 - 2 * x * x + x)
    moment.acceleration += a * (3 * x * x - 4 * x + 1)
  }
  return moment
}
