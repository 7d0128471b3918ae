/**
 * How a push takes hold: at once with a part of it, then rising, so that a camera neither jumps nor lags.
 * A release acts at once, whatever is left to the head's own brakes; so does a turn to the other side.
 */

/** What a push begins with, as a share of full. */
const START = 0.12
/** From nothing to full takes this long, s. */
const RISE_S = 0.22

/**
 * @param before the ramped push -1..1
 * @param target the hand's push -1..1
 * @param seconds since the last step
 */
export function ramp(before: number, target: number, seconds: number): number {
  if (target === 0 || !Number.isFinite(target)) return 0
  const sign = Math.sign(target)
  const wanted = Math.abs(target)
  const now = Math.sign(before) === sign ? Math.abs(before) : 0
  if (wanted <= now) return target
  const from = now === 0 ? Math.min(START, wanted) : now
  return sign * Math.min(wanted, now === 0 ? from : from + Math.max(0, seconds) / RISE_S)
}
