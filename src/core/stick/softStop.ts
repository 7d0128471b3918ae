/** Limits are approached with a soft stop instead of a bump. */

/** With a delay in the loop, less than e times it between two corrections would swing beyond the limit. */
const CALM = Math.E

/**
 * The speed at which an axis may run towards a limit: it could still brake gently before it.
 * @param speed signed, per second
 * @param at where the axis is, in the same unit
 * @param brake how gently it brakes, per second squared
 * @param lagS what passes until the head obeys, s
 */
export function softStop(
  speed: number,
  at: number,
  limits: { min: number; max: number },
  brake: number,
  lagS: number,
): number {
  if (speed === 0) return 0
  const room = speed > 0 ? limits.max - at : at - limits.min
  if (room <= 0) return 0
  const lag = CALM * lagS
  // Braking from v needs v * lag + v² / 2a; solved for v.
  const most = brake * (Math.sqrt(lag * lag + (2 * room) / brake) - lag)
  return Math.sign(speed) * Math.min(Math.abs(speed), most)
}
