/**
 * A monotone piecewise cubic through measured points, and its inverse.
 * Slopes as in F. N. Fritsch and R. E. Carlson, "Monotone Piecewise Cubic Interpolation", 1980, with
 * the harmonic mean at inner points, so that the curve never overshoots between two measurements.
 */

export interface MonotoneCurve {
  /** Value at x; held constant outside the measured range. */
  at(x: number): number
  /** The x at which the curve has the value y; held at the ends outside the range. */
  inverse(y: number): number
}

function slopes(xs: number[], ys: number[]): number[] {
  const n = xs.length
  const secant = (i: number) => (ys[i + 1]! - ys[i]!) / (xs[i + 1]! - xs[i]!)
  return xs.map((_, i) => {
    if (i === 0) return secant(0)
    if (i === n - 1) return secant(n - 2)
    const left = secant(i - 1)
    const right = secant(i)
    if (left * right <= 0) return 0
    const wl = 2 * (xs[i + 1]! - xs[i]!) + (xs[i]! - xs[i - 1]!)
    const wr = xs[i + 1]! - xs[i]! + 2 * (xs[i]! - xs[i - 1]!)
    return (wl + wr) / (wl / left + wr / right)
  })
}

/**
 * @param points at least two [x, y] pairs, x strictly rising, y strictly rising or strictly falling
 * @throws RangeError if they are not
 */
export function monotoneCurve(points: readonly (readonly [number, number])[]): MonotoneCurve {
  const xs = points.map((p) => p[0])
  const ys = points.map((p) => p[1])
  const rising = ys[ys.length - 1]! > ys[0]!
  for (let i = 1; i < xs.length; i++) {
    const up = ys[i]! > ys[i - 1]!
    if (!(xs[i]! > xs[i - 1]!) || up !== rising || ys[i] === ys[i - 1]) {
      throw new RangeError(`point ${i} of the curve breaks its order`)
    }
  }
  if (xs.length < 2) throw new RangeError('a curve needs two points at least')
  const m = slopes(xs, ys)
  const last = xs.length - 1

  const segment = (i: number, x: number) => {
    const h = xs[i + 1]! - xs[i]!
    const t = (x - xs[i]!) / h
    const t2 = t * t
    const t3 = t2 * t
    return (
      (2 * t3 - 3 * t2 + 1) * ys[i]! +
      (t3 - 2 * t2 + t) * h * m[i]! +
      (-2 * t3 + 3 * t2) * ys[i + 1]! +
      (t3 - t2) * h * m[i + 1]!
    )
  }

  const at = (x: number) => {
    if (x <= xs[0]!) return ys[0]!
    if (x >= xs[last]!) return ys[last]!
    let i = 0
    while (x > xs[i + 1]!) i++
    return segment(i, x)
  }

  const inverse = (y: number) => {
    const sign = rising ? 1 : -1
    if (sign * y <= sign * ys[0]!) return xs[0]!
    if (sign * y >= sign * ys[last]!) return xs[last]!
    let i = 0
    while (sign * y > sign * ys[i + 1]!) i++
    let low = xs[i]!
    let high = xs[i + 1]!
    // Bisection to the last bit: about 50 halvings, and it cannot diverge.
    for (let k = 0; k < 60; k++) {
      const mid = (low + high) / 2
      if (mid === low || mid === high) break
      if (sign * segment(i, mid) < sign * y) low = mid
      else high = mid
    }
    return (low + high) / 2
  }

  return { at, inverse }
}
