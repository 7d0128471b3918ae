/** How long a move takes, and how fast it must be to take a given time. */

/**
 * Seconds for a move from rest to rest with a trapezoid of speed.
 * @param distance, speed, accel in one unit, the unit per second, and per second squared
 */
export function travelSeconds(distance: number, speed: number, accel: number): number {
  const d = Math.abs(distance)
  const ramp = (speed * speed) / accel
  return d >= ramp ? d / speed + speed / accel : 2 * Math.sqrt(d / accel)
}

/** The cruising speed with which such a move takes this long; the fastest there is where it cannot. */
export function speedForSeconds(distance: number, seconds: number, accel: number): number {
  const d = Math.abs(distance)
  const half = accel * seconds
  const inner = half * half - 4 * accel * d
  return inner <= 0 ? Number.POSITIVE_INFINITY : (half - Math.sqrt(inner)) / 2
}
