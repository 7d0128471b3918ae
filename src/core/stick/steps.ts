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
  let step = 1
  // The table rises: past the middle (in ratio) of two steps the upper one is nearer.
  while (step < table.length && wanted * wanted > table[step - 1]! * table[step]!) step += 1
  return step
}
