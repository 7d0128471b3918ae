/**
 * Robust non-linear least squares: Levenberg and Marquardt's steps with Cauchy's weights, and what is known of each
 * parameter at the end. Blocks of residuals touch few parameters each, so that only those are differentiated.
 */
import { CholeskyDecomposition, inverse, Matrix, solve } from 'ml-matrix'

export interface Block {
  /** Indices of the parameters on which its residuals depend. */
  readonly on: readonly number[]
  /** Residuals in units of their own uncertainty, each to be about 1. */
  residuals(p: Float64Array): Float64Array
  /** How many independent measurements a residual stands for: points of one pair of pictures share an error. */
  readonly counts: number
  /** An expectation from elsewhere: it is not robust, and no measurement. */
  readonly prior?: boolean
}

export interface Solved {
  p: Float64Array
  /** One standard deviation of each parameter; Infinity where nothing tells it. */
  sigma: Float64Array
  /** Half the weighted sum of squares. */
  cost: number
  /** Root mean square of the residuals that are trusted. */
  rms: number
}

/** Cauchy's: what is further off counts less and less. */
const TRUSTED = 2.4
const ROUNDS = 60
const { abs, log1p, max, sqrt } = Math
const trust = (r: number) => 1 / (1 + (r / TRUSTED) ** 2)

/** Difference by which a parameter is tried. */
const nudge = (x: number) => 1e-6 * max(1, abs(x))

function costOf(blocks: readonly Block[], p: Float64Array): number {
  let cost = 0
  for (const block of blocks)
    for (const r of block.residuals(p))
      cost += block.counts * 0.5 * (block.prior ? r * r : TRUSTED ** 2 * log1p((r / TRUSTED) ** 2))
  return Number.isFinite(cost) ? cost : Number.POSITIVE_INFINITY
}

interface Normal {
  a: Matrix
  g: Float64Array
}

function normal(blocks: readonly Block[], p: Float64Array): Normal {
  const n = p.length
  const a = Matrix.zeros(n, n)
  const g = new Float64Array(n)
  for (const { on, residuals, counts, prior } of blocks) {
    const r0 = residuals(p)
    const columns = on.map((k) => {
      const was = p[k]!
      const h = nudge(was)
      p[k] = was + h
      const up = residuals(p)
      p[k] = was - h
      const down = residuals(p)
      p[k] = was
      return up.map((x, i) => (x - down[i]!) / (2 * h))
    })
    const weights = r0.map((r) => counts * (prior ? 1 : trust(r)))
    for (const [i, column] of columns.entries()) {
      let gi = 0
      for (let k = 0; k < r0.length; k++) gi += weights[k]! * column[k]! * r0[k]!
      g[on[i]!] = g[on[i]!]! + gi
      for (let j = 0; j <= i; j++) {
        const other = columns[j]!
        let sum = 0
        for (let k = 0; k < r0.length; k++) sum += weights[k]! * column[k]! * other[k]!
        const [x, y] = [on[i]!, on[j]!]
        a.set(x, y, a.get(x, y) + sum)
        if (x !== y) a.set(y, x, a.get(y, x) + sum)
      }
    }
  }
  return { a, g }
}

/** Damped, it is positive definite but for rounding. */
function stepOf(damped: Matrix, wanted: Matrix): Matrix {
  const factors = new CholeskyDecomposition(damped)
  return factors.isPositiveDefinite() ? factors.solve(wanted) : solve(damped, wanted, true)
}

/** @param start is left as it is */
export function solveRobustly(blocks: readonly Block[], start: ArrayLike<number>, rounds = ROUNDS): Solved {
  const { p, cost } = leastOf(blocks, start, rounds)
  return { p, cost, ...spread(blocks, p) }
}

/** The same without what is known of each parameter at the end, which costs more than all the rest. */
export function leastOf(
  blocks: readonly Block[],
  start: ArrayLike<number>,
  rounds = ROUNDS,
): Pick<Solved, 'p' | 'cost'> {
  let p = Float64Array.from(start)
  let cost = costOf(blocks, p)
  let damping = 1e-3
  for (let round = 0; round < rounds; round++) {
    const { a, g } = normal(blocks, p)
    let better = false
    let gained = 0
    for (let attempt = 0; attempt < 8 && !better; attempt++) {
      const damped = a.clone()
      for (let i = 0; i < p.length; i++) damped.set(i, i, a.get(i, i) * (1 + damping) + 1e-9)
      const step = stepOf(damped, Matrix.columnVector(Array.from(g, (x) => -x)))
      const next = p.map((x, i) => x + step.get(i, 0))
      const then = costOf(blocks, next)
      if (then < cost) {
        gained = cost - then
        p = next
        cost = then
        damping = max(1e-9, damping / 5)
        better = true
      } else damping *= 6
    }
    if (!better || gained < 1e-7 * (1 + cost)) break
  }
  return { p, cost }
}

/** A parameter that nothing tells is as unsure as one over the root of this. */
const NOTHING_KNOWN = 1e-9

/**
 * One standard deviation of each parameter. Where only sums of several are known, as where all points lie on a line,
 * each of them is very unsure.
 */
export function unsureness(blocks: readonly Block[], p: Float64Array): Float64Array {
  const n = p.length
  const { a } = normal(blocks, p)
  for (let i = 0; i < n; i++) a.set(i, i, a.get(i, i) + NOTHING_KNOWN)
  const factors = new CholeskyDecomposition(a)
  if (!factors.isPositiveDefinite()) return p.map(() => Number.POSITIVE_INFINITY)
  const covariance = factors.solve(Matrix.eye(n))
  const { rms } = leftOver(blocks, p)
  return p.map((_, i) => sqrt(max(0, covariance.get(i, i))) * max(1, rms))
}

/** Root mean square of the residuals that are trusted. */
function leftOver(blocks: readonly Block[], p: Float64Array): Pick<Solved, 'rms'> {
  let [sum, weight] = [0, 0]
  for (const { residuals, counts, prior } of blocks) {
    if (prior) continue
    for (const r of residuals(p)) {
      const w = trust(r)
      sum += counts * w * r * r
      weight += counts * w
    }
  }
  return { rms: weight > 0 ? sqrt(sum / weight) : 0 }
}

/** What is left over says how good the measurements are; never better than they claim. */
function spread(blocks: readonly Block[], p: Float64Array): Pick<Solved, 'sigma' | 'rms'> {
  const { rms } = leftOver(blocks, p)
  const { a } = normal(blocks, p)
  for (let i = 0; i < p.length; i++) a.set(i, i, a.get(i, i) + 1e-12)
  const covariance = inverse(a, true)
  const sigma = p.map((_, i) => {
    const v = covariance.get(i, i)
    return v > 0 && Number.isFinite(v) ? sqrt(v) * max(1, rms) : Number.POSITIVE_INFINITY
  })
  return { sigma, rms }
}
