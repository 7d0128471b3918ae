/** How long a move takes. */

/**
 * Seconds for a move from rest to rest with a trapezoid of speed.
 * @param distance, speed, accel in one unit, the unit per second, and per second squared
 */
export function travelSeconds(distance: number, speed: number, accel: number): number {
  const d = Math.abs(distance)
  const ramp = (speed * speed) / accel
  return d >= ramp ? d / speed + speed / accel : 2 * Math.sqrt(d / accel)
}
