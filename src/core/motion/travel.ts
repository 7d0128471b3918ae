/** How long a move takes, and the speed step with which it takes about a given time. */
import type { AxisProfile } from '../heads/profile'

/**
 * Seconds for a move from rest to rest with a trapezoid of speed.
 * @param distance, speed, accel in one unit, the unit per second, and per second squared
 */
export function travelSeconds(distance: number, speed: number, accel: number): number {
  const d = Math.abs(distance)
  const ramp = (speed * speed) / accel
  return d >= ramp ? d / speed + speed / accel : 2 * Math.sqrt(d / accel)
}

/** The slowest step, from 1, with which the axis is there within this time, s; else its fastest. */
export function stepWithin(distanceDeg: number, seconds: number, axis: AxisProfile): number {
  const { speedsDegPerSec, accelDegPerSec2 } = axis
  const step = speedsDegPerSec.findIndex(
    (speed) => travelSeconds(distanceDeg, speed, accelDegPerSec2) <= seconds,
  )
  return step < 0 ? speedsDegPerSec.length : step + 1
}

/** The step, from 1, with which the axis takes most nearly this long, s. */
export function stepForSeconds(distanceDeg: number, seconds: number, axis: AxisProfile): number {
  const { speedsDegPerSec, accelDegPerSec2 } = axis
  const off = speedsDegPerSec.map((speed) =>
    Math.abs(travelSeconds(distanceDeg, speed, accelDegPerSec2) - seconds),
  )
  return 1 + off.indexOf(Math.min(...off))
}
