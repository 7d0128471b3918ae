/** A path that was driven by hand: cut, made simpler and smoother, measured, and played again as a trajectory. */
import type { Moment, MoveTrajectory } from '../motion/plan/types'
import type { Lens } from '../optics/lens'
import { placeAt } from './lengths'
import type { MovePoint } from './show'

/** Of the picture's width: what nobody sees. */
export const USUAL_TOLERANCE = 0.0015
const REST_S = 0.2
/** Below this it stands, picture widths. */
const STANDS = 0.0015
const MOST_POINTS = 2000

/** How far two places are apart, in widths of the picture at the closer of the two. */
export function apart(lens: Lens, a: Omit<MovePoint, 's'>, b: Omit<MovePoint, 's'>): number {
  const hfov = Math.min(lens.hfovDeg(a.zoom), lens.hfovDeg(b.zoom))
  const across = (a.panDeg - b.panDeg) * Math.cos((((a.tiltDeg + b.tiltDeg) / 2) * Math.PI) / 180)
  const zoom = Math.abs(Math.log(lens.focalMm(a.zoom) / lens.focalMm(b.zoom))) / 2
  return Math.hypot(across, a.tiltDeg - b.tiltDeg) / hfov + zoom
}

/** From one time to another; it begins at 0 again. */
export function trimmed(points: readonly MovePoint[], fromS: number, toS: number): MovePoint[] {
  const inside = points.filter(({ s }) => s > fromS && s < toS)
  const all = [{ s: fromS, ...placeAt(points, fromS) }, ...inside, { s: toS, ...placeAt(points, toS) }]
  return all.map((p) => ({ s: p.s - fromS, panDeg: p.panDeg, tiltDeg: p.tiltDeg, zoom: p.zoom }))
}

/** Without the rest before it sets off and after it has come to a stop, but for a moment of each. */
export function withoutRest(lens: Lens, points: readonly MovePoint[]): MovePoint[] {
  const [first, last] = [points[0]!, points.at(-1)!]
  const begins = points.findIndex((p) => apart(lens, p, first) > STANDS)
  if (begins < 0) return [...points]
  let ends = points.length - 1
  while (ends > 0 && apart(lens, points[ends]!, last) <= STANDS) ends -= 1
  const fromS = Math.max(first.s, points[begins]!.s - REST_S)
  const toS = Math.min(last.s, points[Math.min(points.length - 1, ends + 1)]!.s + REST_S)
  return toS > fromS ? trimmed(points, fromS, toS) : [...points]
}

/** Each point becomes the mean of those around it, weighed by how near they are in time; the ends stay. */
export function smoothed(points: readonly MovePoint[], seconds: number): MovePoint[] {
  if (seconds <= 0) return [...points]
  return points.map((p, i) => {
    // As much on either side, so that the ends stay where they are.
    const reach = Math.min(seconds, p.s - points[0]!.s, points.at(-1)!.s - p.s)
    if (reach <= 0) return p
    const sum = { weight: 0, panDeg: 0, tiltDeg: 0, zoom: 0 }
    const add = (q: MovePoint) => {
      const weight = 1 - Math.abs(q.s - p.s) / (reach + 1e-9)
      if (weight <= 0) return false
      sum.weight += weight
      for (const axis of ['panDeg', 'tiltDeg', 'zoom'] as const) sum[axis] += weight * q[axis]
      return true
    }
    add(p)
    for (let k = i - 1; k >= 0 && add(points[k]!); k--);
    for (let k = i + 1; k < points.length && add(points[k]!); k++);
    const mean = (axis: 'panDeg' | 'tiltDeg' | 'zoom') => sum[axis] / sum.weight
    return { s: p.s, panDeg: mean('panDeg'), tiltDeg: mean('tiltDeg'), zoom: mean('zoom') }
  })
}

/**
 * As few points as keep the path, at its times, within a tolerance: the worst point is kept, again and again (Ramer,
 * Douglas, Peucker, with the distance at the same time).
 * @param tolerance picture widths
 */
export function simplified(lens: Lens, points: readonly MovePoint[], tolerance: number): MovePoint[] {
  const keep = new Set([0, points.length - 1])
  const open: [number, number][] = [[0, points.length - 1]]
  for (let span = open.pop(); span && keep.size < MOST_POINTS; span = open.pop()) {
    const [from, to] = span
    const ends = [points[from]!, points[to]!]
    let [worst, at] = [tolerance, -1]
    for (let i = from + 1; i < to; i++) {
      const off = apart(lens, points[i]!, placeAt(ends, points[i]!.s))
      if (off > worst) [worst, at] = [off, i]
    }
    if (at < 0) continue
    keep.add(at)
    open.push([from, at], [at, to])
  }
  return [...keep].sort((a, b) => a - b).map((i) => points[i]!)
}

/** How far a kept path is from what was recorded, in picture widths. */
export function offFrom(
  lens: Lens,
  recorded: readonly MovePoint[],
  kept: readonly MovePoint[],
): { median: number; most: number } {
  const path = curve(kept)
  const off = recorded.map((p) => apart(lens, p, path.at(p.s))).sort((a, b) => a - b)
  return { median: off[Math.floor(off.length / 2)] ?? 0, most: off.at(-1) ?? 0 }
}

type Axis = 'panDeg' | 'tiltDeg' | 'zoom'

/**
 * The slopes of a curve through points that never runs past them (Fritsch and Butland's harmonic mean, with the
 * lengths of the stretches).
 */
function slopes(points: readonly MovePoint[], value: (p: MovePoint) => number): number[] {
  const n = points.length
  const run = (i: number) => points[i + 1]!.s - points[i]!.s
  const rise = (i: number) => (value(points[i + 1]!) - value(points[i]!)) / run(i)
  return points.map((_, i) => {
    // It stands at both ends.
    if (i === 0 || i === n - 1) return 0
    const [a, b] = [rise(i - 1), rise(i)]
    if (a * b <= 0) return 0
    const [w1, w2] = [2 * run(i) + run(i - 1), run(i) + 2 * run(i - 1)]
    return (w1 + w2) / (w1 / a + w2 / b)
  })
}

/** Position, speed and acceleration between two points with slopes (cubic Hermite). */
function between(h: number, t: number, y0: number, y1: number, d0: number, d1: number): Moment {
  const [c, d] = [(3 * (y1 - y0)) / h - 2 * d0 - d1, (2 * (y0 - y1)) / h + d0 + d1]
  return {
    position: y0 + h * (d0 * t + c * t * t + d * t * t * t),
    velocity: d0 + 2 * c * t + 3 * d * t * t,
    acceleration: (2 * c + 6 * d * t) / h,
  }
}

/** Where a path is at a time, along a smooth curve through its points. */
export const curveAt = (points: readonly MovePoint[]) => curve(points).at

function curve(points: readonly MovePoint[]) {
  const of = (axis: Axis) => slopes(points, (p) => p[axis])
  const [pan, tilt, zoom] = [of('panDeg'), of('tiltDeg'), of('zoom')]
  const moment = (axis: Axis, d: readonly number[], i: number, s: number): Moment => {
    const [a, b] = [points[i]!, points[i + 1]!]
    const h = b.s - a.s
    return between(h, Math.min(1, Math.max(0, (s - a.s) / h)), a[axis], b[axis], d[i]!, d[i + 1]!)
  }
  const indexOf = (s: number) => {
    let [low, high] = [0, points.length - 2]
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (points[middle]!.s <= s) low = middle
      else high = middle - 1
    }
    return low
  }
  const all = (s: number) => {
    const i = indexOf(s)
    return {
      pan: moment('panDeg', pan, i, s),
      tilt: moment('tiltDeg', tilt, i, s),
      zoom: moment('zoom', zoom, i, s),
    }
  }
  return {
    all,
    at(s: number) {
      const m = all(s)
      return { panDeg: m.pan.position, tiltDeg: m.tilt.position, zoom: m.zoom.position }
    },
  }
}

export interface ReplayOf {
  /** 25 to 400. */
  percent: number
  backwards: boolean
}

/** The path as a trajectory that a camera can follow. The zoom becomes the logarithm of the focal length. */
export function replayOf(
  points: readonly MovePoint[],
  lens: Lens,
  { percent, backwards }: ReplayOf,
): MoveTrajectory {
  const path = curve(points)
  const [first, last] = [points[0]!.s, points.at(-1)!.s]
  const rate = percent / 100
  const seconds = (last - first) / rate
  const sign = backwards ? -1 : 1
  return {
    seconds,
    at(s) {
      const inside = Math.min(seconds, Math.max(0, s))
      const still = s <= 0 || s >= seconds
      const own = backwards ? last - inside * rate : first + inside * rate
      const { pan, tilt, zoom } = path.all(own)
      const timed = (m: Moment): Moment => ({
        position: m.position,
        velocity: still ? 0 : m.velocity * rate * sign,
        acceleration: still ? 0 : m.acceleration * rate * rate,
      })
      const log = (units: number) => Math.log(lens.focalMm(units))
      // The lens's own curve, by differences: units per second become logarithms per second.
      const step = 1
      const slope = (log(zoom.position + step) - log(zoom.position - step)) / (2 * step)
      const z = timed(zoom)
      return {
        pan: timed(pan),
        tilt: timed(tilt),
        zoom: {
          position: log(zoom.position),
          velocity: z.velocity * slope,
          acceleration: z.acceleration * slope,
        },
        focus: { position: 0, velocity: 0, acceleration: 0 },
      }
    },
  }
}
