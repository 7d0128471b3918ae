/** What pictures that a camera took of its surroundings tell of its head and lens. */

import {
  type Guess,
  homography,
  type Look,
  learnTurning,
  offBy,
  type Turning,
} from '../../core/learning/turning'
import { panTiltOf, toRoom } from '../../core/optics/sphere'
import { type Matched, Matcher } from './matches'

export interface LearnFrom {
  pictures: Uint8Array[]
  looks: Look[]
  /** Indices of pictures that show, in part, the same. */
  pairs: [number, number][]
  guess: Guess
  /** Is it known well what the head and the widest are like? */
  near: boolean
  /** The picture has left and right exchanged. */
  mirrored: boolean
}

export interface Target {
  pan: number
  tilt: number
}

export interface FromPictures {
  /** Null where there was too little to see. */
  turning: Turning | null
  /** Points that were found in each pair. */
  found: number[]
  /** Where there is most to see that stands still, the best first, in the head's steps from its profile's zero. */
  targets: Target[]
}

/** Times that the points are looked for again where they must be by what is known by then. */
const AGAIN = 1
/** A point that fits this well stands still, and one that is so far off moves, half-widths. */
const [STILL, MOVES] = [0.0016, 0.004]
/** So near to each other they are one thing to look at; one that moves there counts as much against it. */
const TOGETHER = 0.045
const MOVERS = 2
const LEAST_STILL = 4
const TARGETS = 3
/** Another place to look at is so many of these away. */
const ELSEWHERE = 3
const RAD = Math.PI / 180

/** As the pictures have it, where the first lies in the second is told with x the other way. */
const mirroredLaid = (h: number[]) => h.map((x, i) => ([1, 2, 3, 6].includes(i) ? -x : x))

export async function learnFromPictures(order: LearnFrom): Promise<FromPictures> {
  const matcher = await Matcher.of(order.pictures)
  try {
    return learnBy(matcher, order)
  } finally {
    matcher.close()
  }
}

function learnBy(matcher: Matcher, { looks, pairs, guess, near, mirrored }: LearnFrom): FromPictures {
  const match = (laid: (a: number, b: number) => number[] | null): Matched[] =>
    pairs.map(([a, b]) => {
      const h = laid(a, b)
      const points = matcher.match(a, b, h && mirrored ? mirroredLaid(h) : h)
      return { a, b, points: mirrored ? points.map(([xa, ya, xb, yb]) => [-xa, ya, -xb, yb]) : points }
    })
  const laidBy = (known: Omit<Guess, 'pointSigma'>) => (a: number, b: number) =>
    homography(known, looks[a]!, looks[b]!)
  // What the widest shows is known by then; between zoom positions it is looked for everywhere.
  const first = near ? laidBy(guess) : () => null
  let matched = match((a, b) => (looks[a]!.zoom === looks[b]!.zoom ? first(a, b) : null))
  let turning = learnTurning(looks, matched, guess, near)
  for (let i = 0; turning && i < AGAIN; i++) {
    const known = knownOf(turning)
    matched = match(laidBy(known))
    turning = learnTurning(looks, matched, { ...known, pointSigma: guess.pointSigma }, true) ?? turning
  }
  return {
    turning,
    found: matched.map(({ points }) => points.length),
    targets: turning ? targetsIn(turning, looks, matched) : [],
  }
}

const knownOf = (t: Turning) => ({
  panDegPerStep: t.panDegPerStep.value,
  tiltDegPerStep: t.tiltDegPerStep.value,
  tiltAtZeroDeg: t.tiltAtZeroDeg.value,
  focals: t.focals.map(({ value }) => value),
})

interface Seen {
  panDeg: number
  tiltDeg: number
  still: boolean
}

/** The middles of the densest places of points that stand still, away from those that move. */
function targetsIn(turning: Turning, looks: readonly Look[], matched: readonly Matched[]): Target[] {
  const all: Seen[] = []
  for (const { a, b, points } of matched) {
    const [A, B] = [looks[a]!, looks[b]!]
    if (A.zoom !== 0 || B.zoom !== 0) continue
    for (const point of points) {
      const off = offBy(turning, A, B, point)
      if (off < STILL || off > MOVES) all.push({ ...placeOf(turning, A, point), still: off < STILL })
    }
  }
  const reachDeg = TOGETHER / turning.focals[0]!.value / RAD
  const apart = (a: Seen, b: Seen) =>
    Math.hypot((b.panDeg - a.panDeg) * Math.cos(a.tiltDeg * RAD), b.tiltDeg - a.tiltDeg) / reachDeg
  const weightOf = (one: Seen, other: Seen) =>
    Math.exp(-(apart(one, other) ** 2)) * (other.still ? 1 : -MOVERS)
  const rated = all
    .filter(({ still }) => still)
    .map((at) => ({ at, weight: all.reduce((sum, other) => sum + weightOf(at, other), 0) }))
    .sort((a, b) => b.weight - a.weight)
  const out: Seen[] = []
  for (const { at, weight } of rated)
    if (weight >= LEAST_STILL && out.length < TARGETS && out.every((other) => apart(other, at) > ELSEWHERE))
      out.push(at)
  return out.map((at) => {
    const near = all.map((other) => ({ other, weight: Math.max(0, weightOf(at, other)) }))
    const sum = near.reduce((s, { weight }) => s + weight, 0)
    const mean = (of: 'panDeg' | 'tiltDeg') =>
      near.reduce((s, { other, weight }) => s + weight * other[of], 0) / sum
    return {
      pan: mean('panDeg') / turning.panDegPerStep.value,
      tilt: (mean('tiltDeg') - turning.tiltAtZeroDeg.value) / turning.tiltDegPerStep.value,
    }
  })
}

/** Where a point of a picture is, degrees from the profile's zero. */
function placeOf(
  { panDegPerStep, tiltDegPerStep, tiltAtZeroDeg, focals }: Turning,
  at: Look,
  [x, y]: readonly number[],
) {
  const focal = focals[at.zoom]!.value
  const tilt = at.tilt * tiltDegPerStep.value + tiltAtZeroDeg.value
  const ray = toRoom([x! / focal, y! / focal, 1], at.pan * panDegPerStep.value, tilt)
  return panTiltOf(ray)
}
