/**
 * How a lens bends straight lines: a point at the tangent r from the axis is shown at r (1 + k1 r² + k2 r⁴).
 * Negative terms draw the corners in. Source: D. C. Brown, "Close-Range Camera Calibration", 1971, its radial terms.
 */
export type Bend = readonly [number, number]

const ROUNDS = 12
/** Called for every point of every try: looked up once. */
const { hypot, max } = Math

/** From where a straight lens would show a point to where this one does. */
export function bent(x: number, y: number, [k1, k2]: Bend): [number, number] {
  const r2 = x * x + y * y
  const k = 1 + k1 * r2 + k2 * r2 * r2
  return [x * k, y * k]
}

/** The reverse, by fixed points: bends are small. */
export function straightened(x: number, y: number, [k1, k2]: Bend): [number, number] {
  if (k1 === 0 && k2 === 0) return [x, y]
  const shown = hypot(x, y)
  let r = shown
  for (let i = 0; i < ROUNDS; i++) r = shown / max(0.2, 1 + k1 * r * r + k2 * r * r * r * r)
  const k = shown > 0 ? r / shown : 1
  return [x * k, y * k]
}
