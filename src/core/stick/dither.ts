/**
 * A head knows only some speeds. Between two of them it is told the one and the other in turn, so that
 * the mean is the speed that was wanted (sigma-delta). Never across zero: below the slowest step it runs
 * at the slowest, and below half of that it stands. Never faster than the head can follow, since
 * then it would only shake. Source: docs/optics.md, section Stick.
 */

/** A step is held at least this long, ms; longer on a line that is shared. */
export const LEAST_HOLD_MS = 20
/** And at most so long that it shifts the mean over a second by no more than this. */
const MOST_OFF = 0.0085
/** A head that starts its ramp anew with every packet keeps a step for this long, ms. */
export const RAMP_HOLD_MS = 220
/** Times come in ticks: a hold ends with the tick that is nearest. */
const HALF_TICK_MS = 10
/** What is owed is forgotten beyond this many steps' worth, s: a stall must not be caught up with. */
const MOST_OWED_S = 0.08

export interface Dither {
  /** The step that runs, 1..n with its sign; 0 stands. */
  step: number
  sinceMs: number
  /** Distance that was wanted and not yet travelled, in the unit of the table. */
  owed: number
  atMs: number
}

export const DITHER_AT_REST: Dither = { step: 0, sinceMs: 0, owed: 0, atMs: 0 }

/** The speed of a signed step. */
export const speedOfStep = (step: number, table: readonly number[]): number =>
  step === 0 ? 0 : Math.sign(step) * table[Math.abs(step) - 1]!

/**
 * @param wanted signed speed in the unit of the table
 * @param table rising speeds; index 0 is step 1
 * @param accel how fast the head can change its speed, the unit per second
 * @returns the new state; its `step` is what the head is to be told now
 */
export function dither(
  before: Dither,
  wanted: number,
  table: readonly number[],
  accel: number,
  nowMs: number,
  leastHoldMs = LEAST_HOLD_MS,
): Dither {
  const speed = Math.min(Math.abs(wanted), table[table.length - 1]!)
  const sign = Math.sign(wanted)
  if (!(speed >= table[0]! / 2)) return { step: 0, sinceMs: nowMs, owed: 0, atMs: nowMs }
  let upper = 0
  while (upper < table.length - 1 && table[upper]! < speed) upper += 1
  // Exactly on a step, or at an end of the table: nothing to alternate.
  if (upper === 0 || table[upper] === speed) {
    const step = sign * (upper + 1)
    return { step, sinceMs: before.step === step ? before.sinceMs : nowMs, owed: 0, atMs: nowMs }
  }
  const [low, high] = [table[upper - 1]!, table[upper]!]
  const gap = high - low
  const same = Math.sign(before.step) === sign && before.atMs > 0
  const seconds = same ? (nowMs - before.atMs) / 1000 : 0
  const ran = Math.abs(speedOfStep(before.step, table))
  const limit = gap * MOST_OWED_S
  const owed = same ? Math.max(-limit, Math.min(limit, before.owed + (speed - ran) * seconds)) : 0
  const hold = Math.max(leastHoldMs, Math.min((MOST_OFF * speed) / gap, gap / accel) * 1000)
  const between = same && (Math.abs(before.step) === upper || Math.abs(before.step) === upper + 1)
  const held = between && nowMs - before.sinceMs < hold - HALF_TICK_MS
  if (held) return { ...before, owed, atMs: nowMs }
  // The one of the two after whose hold less is owed, so that the rest swings evenly about nothing.
  const step = sign * (owed > (((low + high) / 2 - speed) * hold) / 1000 ? upper + 1 : upper)
  return { step, sinceMs: step === before.step ? before.sinceMs : nowMs, owed, atMs: nowMs }
}
