/**
 * What pictures from one place tell of a head and its lens: between two pictures of a camera that only turns, points
 * move by K R K^-1, so that the degrees of the head's own steps, the tilt's zero, the focal length at each zoom, the
 * offset of the optical axis and the lens's bend are found together, from points that were matched.
 *
 * Points of a picture: x right, y up, half the picture's width is 1. Focal lengths in the same unit.
 * Source: docs/learning.md.
 */
import { bent, straightened } from '../optics/bend'
import { type Block, type Solved, solveRobustly } from './solve'

const RAD = Math.PI / 180
const { atan, cos, exp, hypot, log, max, sin } = Math

/** A picture, and what the head said when it was taken. */
export interface Look {
  /** Its own steps from where its profile has zero. */
  pan: number
  tilt: number
  /** Index of the zoom position. */
  zoom: number
}

/** Two pictures of the same things: quadruples xa, ya, xb, yb. */
export interface Pair {
  a: number
  b: number
  points: readonly (readonly [number, number, number, number])[]
}

export interface Guess {
  /** Degrees per step as the profile has it, right and up positive. */
  panDegPerStep: number
  tiltDegPerStep: number
  /** Tilt where the profile has zero, degrees. */
  tiltAtZeroDeg: number
  /** At each zoom position. */
  focals: readonly number[]
  /** Half-widths in which a point is found, one standard deviation. */
  pointSigma: number
}

export interface Figure {
  value: number
  /** One standard deviation; Infinity where nothing tells it. */
  sigma: number
}

export interface Turning {
  panDegPerStep: Figure
  tiltDegPerStep: Figure
  tiltAtZeroDeg: Figure
  focals: Figure[]
  /** Terms of the bend by the tangent of the angle from the axis: r (1 + k1 r² + k2 r⁴). */
  bend: [Figure, Figure]
  /** Where the optical axis is in the picture, at the widest and at the longest. */
  axisWide: [Figure, Figure]
  axisTele: [Figure, Figure]
  /** What is left over, in units of what the points are good for. */
  rms: number
}

/** Rounding of a head's count, and how exactly it comes to rest, in its own steps. */
const REST_STEPS = 0.6
/** A head with the finest steps comes to rest no better than this, degrees. */
const REST_DEG = 0.004
/** Points of one pair share what is wrong with it: together they count as so many. */
const WORTH = 8
/** Lenses bend no more than this. */
const BEND = [0.25, 0.25] as const
/** An axis is no further off the middle than this, half-widths. */
const AXIS = 0.03

interface Layout {
  size: number
  zooms: number
  focal(i: number): number
  dev(look: number): number
}

const [PAN, TILT, ZERO, K1, K2, WX, WY, TX, TY] = [0, 1, 2, 3, 4, 5, 6, 7, 8] as const
const FIRST_FOCAL = 9

function layout(zooms: number, looks: number): Layout {
  return {
    zooms,
    size: FIRST_FOCAL + zooms + 2 * looks,
    focal: (i) => FIRST_FOCAL + i,
    dev: (look) => FIRST_FOCAL + zooms + 2 * look,
  }
}

/** Residuals of a pair: where the points of the first should be in the second. */
function pairBlock({ a, b, points }: Pair, looks: readonly Look[], l: Layout, guess: Guess): Block {
  const [A, B] = [looks[a]!, looks[b]!]
  const axisShare = (p: Float64Array, z: number) => {
    const [w, t] = [p[FIRST_FOCAL]!, p[FIRST_FOCAL + l.zooms - 1]!]
    return l.zooms < 2 || t === w ? 0 : (p[l.focal(z)]! - w) / (t - w)
  }
  const camera = (p: Float64Array, look: Look, at: number) => {
    const pan = (guess.panDegPerStep * p[PAN]! * look.pan + p[l.dev(at)]!) * RAD
    const tilt = (guess.tiltDegPerStep * p[TILT]! * look.tilt + p[ZERO]! + p[l.dev(at) + 1]!) * RAD
    const s = axisShare(p, look.zoom)
    return {
      pan,
      st: sin(tilt),
      ct: cos(tilt),
      f: exp(p[l.focal(look.zoom)]!),
      cx: p[WX]! + (p[TX]! - p[WX]!) * s,
      cy: p[WY]! + (p[TY]! - p[WY]!) * s,
    }
  }
  const on: number[] = [PAN, TILT, ZERO, K1, K2, WX, WY, TX, TY]
  for (const i of [l.focal(A.zoom), l.focal(B.zoom), l.focal(0), l.focal(l.zooms - 1)])
    if (!on.includes(i)) on.push(i)
  on.push(l.dev(a), l.dev(a) + 1, l.dev(b), l.dev(b) + 1)
  return {
    on,
    counts: Math.min(1, WORTH / Math.max(1, points.length)),
    residuals(p) {
      const [ca, cb] = [camera(p, A, a), camera(p, B, b)]
      const turn = ca.pan - cb.pan
      const [sp, cp] = [sin(turn), cos(turn)]
      const bend = [p[K1]!, p[K2]!] as const
      const out = new Float64Array(2 * points.length)
      for (let i = 0; i < points.length; i++) {
        const [xa, ya, xb, yb] = points[i]!
        const [x, y] = straightened((xa - ca.cx) / ca.f, (ya - ca.cy) / ca.f, bend)
        // Into the room as the first has it, turned by what is between both, into the second.
        const y1 = y * ca.ct + ca.st
        const z1 = -y * ca.st + ca.ct
        const x2 = x * cp + z1 * sp
        const z2 = -x * sp + z1 * cp
        const y3 = y1 * cb.ct - z2 * cb.st
        const z3 = max(1e-3, y1 * cb.st + z2 * cb.ct)
        const [u, v] = bent(x2 / z3, y3 / z3, bend)
        out[2 * i] = (u * cb.f + cb.cx - xb) / guess.pointSigma
        out[2 * i + 1] = (v * cb.f + cb.cy - yb) / guess.pointSigma
      }
      return out
    },
  }
}

const prior = (index: number, at: number, sigma: number): Block => ({
  on: [index],
  counts: 1,
  prior: true,
  residuals: (p) => Float64Array.of((p[index]! - at) / sigma),
})

interface Problem {
  looks: readonly Look[]
  pairs: readonly Pair[]
  guess: Guess
}

/** @param sigmas of the points, half-widths, one round after the other: from what a bad start needs to what they are good for */
function solveFrom({ looks, pairs, guess }: Problem, sigmas: readonly number[], rounds?: number): Solved {
  const l = layout(guess.focals.length, looks.length)
  const start = new Float64Array(l.size)
  start[PAN] = 1
  start[TILT] = 1
  start[ZERO] = guess.tiltAtZeroDeg
  guess.focals.forEach((f, i) => {
    start[l.focal(i)] = log(f)
  })
  const rest = (degPerStep: number) => hypot(REST_STEPS * degPerStep, REST_DEG)
  const known = [
    ...looks.flatMap((_, i) => [
      prior(l.dev(i), 0, rest(guess.panDegPerStep)),
      prior(l.dev(i) + 1, 0, rest(guess.tiltDegPerStep)),
    ]),
    // Little is known of these before; enough that what no picture tells stays where it is.
    prior(PAN, 1, 3),
    prior(TILT, 1, 3),
    prior(ZERO, guess.tiltAtZeroDeg, 20),
    prior(K1, 0, BEND[0]),
    prior(K2, 0, BEND[1]),
    ...[WX, WY, TX, TY].map((i) => prior(i, 0, AXIS)),
    ...guess.focals.map((f, i) => prior(l.focal(i), log(f), 1.5)),
  ]
  let solved: Solved | null = null
  for (const pointSigma of sigmas) {
    const blocks = pairs.map((pair) => pairBlock(pair, looks, l, { ...guess, pointSigma }))
    solved = solveRobustly([...blocks, ...known], solved?.p ?? start, rounds)
  }
  return solved!
}

/** Degrees per step from how far points moved, were the focal length as given. @returns null where no pair tells */
function roughScale(
  looks: readonly Look[],
  pairs: readonly Pair[],
  focals: readonly number[],
  axis: 'pan' | 'tilt',
): number | null {
  const found: number[] = []
  const other = axis === 'pan' ? 'tilt' : 'pan'
  const k = axis === 'pan' ? 0 : 1
  for (const { a, b, points } of pairs) {
    const [A, B] = [looks[a]!, looks[b]!]
    const steps = B[axis] - A[axis]
    if (A.zoom !== B.zoom || steps === 0 || Math.abs(B[other] - A[other]) > 0.02 * Math.abs(steps)) continue
    const f = focals[A.zoom]!
    const turns = points.map((q) => (atan(q[k]! / f) - atan(q[k + 2]! / f)) / RAD).sort((x, y) => x - y)
    found.push(turns[turns.length >> 1]! / steps)
  }
  found.sort((x, y) => x - y)
  return found[found.length >> 1] ?? null
}

/** The profile may be of another head: it is tried with lenses this much longer and shorter. */
const TRIED = [1, 0.7, 1.4, 0.5, 2]
/** Half-widths in which points are trusted: far off at first, and then as they are. */
const [FAR, NEAR] = [0.02, 0.004]
const QUICK_ROUNDS = 12

/** The best start: which way its steps go, how large they are, how long its lens is at its widest. */
function startOf({ looks, pairs, guess }: Problem): Guess {
  const wide = pairs.filter(({ a, b }) => looks[a]!.zoom === 0 && looks[b]!.zoom === 0)
  const used = [...new Set(wide.flatMap(({ a, b }) => [a, b]))]
  const few: Pick<Problem, 'looks' | 'pairs'> = {
    looks: used.map((i) => looks[i]!),
    pairs: wide.map(({ a, b, points }) => ({ a: used.indexOf(a), b: used.indexOf(b), points })),
  }
  let best = { guess, cost: Number.POSITIVE_INFINITY }
  for (const factor of TRIED) {
    const focals = [guess.focals[0]! * factor]
    const tried: Guess = {
      ...guess,
      focals,
      panDegPerStep: roughScale(few.looks, few.pairs, focals, 'pan') ?? guess.panDegPerStep,
      tiltDegPerStep: roughScale(few.looks, few.pairs, focals, 'tilt') ?? guess.tiltDegPerStep,
    }
    // Where tilts were counted the other way, so was the tilt at zero.
    if (tried.tiltDegPerStep * guess.tiltDegPerStep < 0) tried.tiltAtZeroDeg = -guess.tiltAtZeroDeg
    const { p, cost } = solveFrom({ ...few, guess: tried }, [FAR], QUICK_ROUNDS)
    if (cost >= 0.98 * best.cost) continue
    const f0 = exp(p[FIRST_FOCAL]!)
    best = {
      cost,
      guess: {
        ...tried,
        panDegPerStep: tried.panDegPerStep * p[PAN]!,
        tiltDegPerStep: tried.tiltDegPerStep * p[TILT]!,
        tiltAtZeroDeg: p[ZERO]!,
        focals: guess.focals.map((f) => (f * f0) / guess.focals[0]!),
      },
    }
  }
  return best.guess
}

/**
 * @param looks in the order of the pairs' indices
 * @param near is the guess as good as known? Else other scales and lenses are tried
 * @returns null where the pictures tell nothing
 */
export function learnTurning(
  looks: readonly Look[],
  pairs: readonly Pair[],
  guess: Guess,
  near = false,
): Turning | null {
  const enough = pairs.filter(({ points }) => points.length >= 8)
  const wide = enough.filter(({ a, b }) => looks[a]!.zoom === 0 && looks[b]!.zoom === 0)
  if (wide.length < 3) return null
  const start = near ? guess : startOf({ looks, pairs: enough, guess })
  const { p, sigma, rms } = solveFrom(
    { looks, pairs: enough, guess: start },
    near ? [NEAR, guess.pointSigma] : [FAR, NEAR, guess.pointSigma],
  )
  const scaled = (i: number, by: number): Figure => ({
    value: p[i]! * by,
    sigma: hypot(sigma[i]!, LEFT_OUT / 2) * Math.abs(by),
  })
  const plain = (i: number): Figure => ({ value: p[i]!, sigma: sigma[i]! })
  return {
    panDegPerStep: scaled(PAN, start.panDegPerStep),
    tiltDegPerStep: scaled(TILT, start.tiltDegPerStep),
    tiltAtZeroDeg: plain(ZERO),
    focals: guess.focals.map((_, i) => {
      const value = exp(p[FIRST_FOCAL + i]!)
      return {
        value,
        sigma:
          value *
          hypot(sigma[FIRST_FOCAL + i]! * misfitAt({ looks, pairs: enough, guess: start }, p, i), LEFT_OUT),
      }
    }),
    bend: [plain(K1), plain(K2)],
    axisWide: [plain(WX), plain(WY)],
    axisTele: [plain(TX), plain(TY)],
    rms,
  }
}

/** What no model of a lens is without, as a share. */
const LEFT_OUT = 0.001

/** How much worse the pairs of a zoom position fit, as wholes, than their points by themselves would: 1 or more. */
function misfitAt({ looks, pairs, guess }: Problem, p: Float64Array, zoom: number): number {
  const l = layout(guess.focals.length, looks.length)
  let [sum, count] = [0, 0]
  for (const pair of pairs) {
    if (looks[pair.a]!.zoom !== zoom && looks[pair.b]!.zoom !== zoom) continue
    const r = pairBlock(pair, looks, l, guess).residuals(p)
    const n = r.length / 2
    const middle = (k: 0 | 1) => {
      const of = Array.from({ length: n }, (_, i) => r[2 * i + k]!).sort((x, y) => x - y)
      return of[n >> 1]!
    }
    sum += ((middle(0) ** 2 + middle(1) ** 2) * Math.min(n, WORTH)) / 2
    count += 1
  }
  return count === 0 ? 1 : Math.max(1, Math.sqrt(sum / count))
}

/** How a picture lies in another by what is known by now: 9 numbers, row by row, for points as above. */
export function homography(
  { panDegPerStep, tiltDegPerStep, tiltAtZeroDeg, focals }: Omit<Guess, 'pointSigma'>,
  a: Look,
  b: Look,
): number[] {
  const turn = (a.pan - b.pan) * panDegPerStep * RAD
  const [ta, tb] = [a, b].map(({ tilt }) => (tilt * tiltDegPerStep + tiltAtZeroDeg) * RAD) as [number, number]
  const [sp, cp, sa, ca, sb, cb] = [sin(turn), cos(turn), sin(ta), cos(ta), sin(tb), cos(tb)]
  const [fa, fb] = [focals[a.zoom]!, focals[b.zoom]!]
  // As the residuals have it: x2, y3, z3 of (x, y, 1) are linear in x, y and 1.
  const x2 = [cp, -sa * sp, ca * sp]
  const z2 = [-sp, -sa * cp, ca * cp]
  const y1 = [0, ca, sa]
  const y3 = y1.map((v, i) => v * cb - z2[i]! * sb)
  const z3 = y1.map((v, i) => v * sb + z2[i]! * cb)
  const row = (r: number[], k: number) => [(k * r[0]!) / fa, (k * r[1]!) / fa, k * r[2]!]
  return [...row(x2, fb), ...row(y3, fb), ...row(z3, 1)]
}

/** How far a pair of points is off what has been learnt, half-widths. */
export function offBy(turning: Turning, a: Look, b: Look, point: Pair['points'][number]): number {
  const { panDegPerStep, tiltDegPerStep, tiltAtZeroDeg, focals, bend, axisWide, axisTele } = turning
  const l = layout(focals.length, 2)
  const p = new Float64Array(l.size)
  const values = [1, 1, tiltAtZeroDeg.value, bend[0].value, bend[1].value]
  p.set([...values, ...[...axisWide, ...axisTele].map(({ value }) => value)])
  focals.forEach(({ value }, i) => {
    p[l.focal(i)] = log(value)
  })
  const guess = {
    panDegPerStep: panDegPerStep.value,
    tiltDegPerStep: tiltDegPerStep.value,
    ...{ tiltAtZeroDeg: 0, focals: [], pointSigma: 1 },
  }
  const [x, y] = pairBlock({ a: 0, b: 1, points: [point] }, [a, b], l, guess).residuals(p)
  return hypot(x!, y!)
}
