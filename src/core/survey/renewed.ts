/** What is left of a survey's pictures when a part of it was photographed anew. */
import { pointOf, rayAt, type View } from '../optics/sphere'

/** A former picture is looked at in so many places each way; one that newer pictures show wholly is not needed any more. */
const PLACES = 7
/** So far inside a newer picture it lies over a former one. */
const INSIDE = 0.95
/** So many times one may lie under others: more never happens, and none would be seen. */
const OLDEST = 8

const isIn = (view: View, ray: ReturnType<typeof rayAt>) => {
  const at = pointOf(view, ray)
  return at !== null && Math.abs(at.u) < INSIDE && Math.abs(at.v) < INSIDE
}

/** The former pictures of which something is still to be seen, each one older. */
export function stillSeen<S extends { view: View; age?: number }>(
  former: readonly S[],
  newer: readonly { view: View }[],
): S[] {
  const grid = Array.from({ length: PLACES }, (_, i) => (2 * i) / (PLACES - 1) - 1)
  return former
    .filter(({ view }) =>
      grid.some((u) => grid.some((v) => !newer.some((one) => isIn(one.view, rayAt(view, u, v))))),
    )
    .map((shot) => ({ ...shot, age: Math.min(OLDEST, (shot.age ?? 0) + 1) }))
}
