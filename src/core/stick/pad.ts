/**
 * The contour pad: where a finger on a square pad pushes the stick. Lines of equal push are rounded
 * squares (superellipses of degree 4), so that the corners are of use too.
 */

const DEGREE = 4

const norm = (x: number, y: number) => (Math.abs(x) ** DEGREE + Math.abs(y) ** DEGREE) ** (1 / DEGREE)

/** The place of a finger, drawn back to the rim where it has slipped beyond; the rim is at 1. */
export function padPlace(x: number, y: number): { x: number; y: number } {
  const beyond = Math.max(1, norm(x, y))
  return { x: x / beyond, y: y / beyond }
}

/** The stick that a finger at (x, y) pushes: its direction, with the pad's radius as its length. */
export function padToStick(x: number, y: number): { x: number; y: number } {
  const length = Math.hypot(x, y)
  if (length === 0) return { x: 0, y: 0 }
  const radius = Math.min(1, norm(x, y))
  return { x: (radius * x) / length, y: (radius * y) / length }
}

/** The place in a direction that the pad measures as this radius. @param angle from the right, counter-clockwise */
export function padPoint(angle: number, radius: number): { x: number; y: number } {
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const reach = radius / norm(c, s)
  return { x: reach * c, y: reach * s }
}

/** The line of points at one radius, as pairs of -1..1. */
export function contour(radius: number, points = 72): [number, number][] {
  return Array.from({ length: points }, (_, i) => {
    const { x, y } = padPoint((i / points) * 2 * Math.PI, radius)
    return [x, y]
  })
}
