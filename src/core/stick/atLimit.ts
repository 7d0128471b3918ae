/** Does a camera stand at an end of where it may be driven? */
import type { Bounds } from './speeds'

/** This near counts as being there: limits slow a head down before them, degrees. */
const NEAR_DEG = 0.25

export function atLimit(
  { pan, tilt }: Pick<Bounds, 'pan' | 'tilt'>,
  pose: { panDeg: number | null; tiltDeg: number | null },
): boolean {
  const at = (deg: number | null, { min, max }: { min: number; max: number }) =>
    deg !== null && (deg <= min + NEAR_DEG || deg >= max - NEAR_DEG)
  return at(pose.panDeg, pan) || at(pose.tiltDeg, tilt)
}
