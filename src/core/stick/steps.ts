/** From a wanted speed to the head's own speed steps. */

/**
 * The step whose measured speed is nearest, in the sense of ratio; 0 (stand still) below half of the
 * slowest.
 * @param speed the wanted speed, sign ignored, in the unit of the table
 * @param table rising speeds; index 0 is step 1
 * @returns 0 or 1..table.length
 */
export function nearestStep(speed: number, table: readonly number[]): number {
  const wanted = Math.abs(speed)
  if (!(wanted >= table[0]! / 2)) return 0
  let best = 1
  for (let step = 2; step <= table.length; step++) {
    const ratio = (s: number) => Math.abs(Math.log(table[s - 1]! / wanted))
    if (ratio(step) < ratio(best)) best = step
  }
  return best
}
