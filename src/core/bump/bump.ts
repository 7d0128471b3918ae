/**
 * A camera that was bumped: its mount stands otherwise than when its presets were stored, so that the same pan and
 * tilt look elsewhere. Points that were matched between pictures of then and now, taken at the same poses, tell the
 * one turn that explains all of them, its roll too, and whether the lens sees wider or narrower than it did.
 * Angles in degrees as the operator has them. Source: docs/sightlines.md.
 */
import * as v from 'valibot'
import { type Block, solveRobustly } from '../learning/solve'
import type { PanTilt } from '../optics/aim'
import { bent } from '../optics/bend'
import { panTiltOf, rayAt, toRoom, type Vec3, type View } from '../optics/sphere'
import { directionOf, dot, toOwn, toWorld } from '../room/placed'

const Deg = v.pipe(v.number(), v.minValue(-180), v.maxValue(180))

export const Bump = v.object({
  /** What was seen in a direction is now seen in that direction, rolled, tilted and panned by these, in this order. */
  panDeg: Deg,
  tiltDeg: Deg,
  rollDeg: Deg,
  /** What was as large as 1 in the picture is as large as this now: below 1 the lens sees wider. */
  larger: v.pipe(v.number(), v.minValue(0.2), v.maxValue(5)),
})
export type Bump = v.InferOutput<typeof Bump>

export const BumpFound = v.object({
  ...Bump.entries,
  /** One standard deviation of the turns, and of the size. */
  sigmaDeg: v.number(),
  sigmaLarger: v.number(),
  /** How many pictures agree. */
  pictures: v.number(),
})
export type BumpFound = v.InferOutput<typeof BumpFound>

/** Two pictures taken at the same pose, then and now, with points of both: -1..1 across, the same unit up. */
export interface ThenAndNow {
  was: View
  now: View
  points: readonly (readonly [number, number, number, number])[]
}

/** Points are found to about this, half-widths; those of one picture share an error, and count as so many. */
const SIGMA = 0.5 / 320
const COUNTS_AS = 8
const RAD = Math.PI / 180
const LEAST = 12
/** A picture agrees where so many of its points lie within this, half-widths. */
const AGREES = 0.01
const MOST_AGREE = 0.5

const turnOf = ({ panDeg, tiltDeg, rollDeg }: Pick<Bump, 'panDeg' | 'tiltDeg' | 'rollDeg'>) => ({
  headingDeg: panDeg,
  pitchDeg: tiltDeg,
  rollDeg,
})

/** Where something that was seen in a direction of the head's is seen now. */
export const bumped = (direction: Vec3, bump: Bump): Vec3 => toWorld(direction, turnOf(bump))

/** The point of today's picture that shows a direction, in half-widths; null behind it. */
function pointIn(view: View, direction: Vec3, larger: number): [number, number] | null {
  const own = toOwn(direction, {
    headingDeg: view.panDeg,
    pitchDeg: view.tiltDeg,
    rollDeg: view.rollDeg ?? 0,
  })
  if (own[2] <= 1e-6) return null
  const [x, y] = [own[0] / own[2], own[1] / own[2]]
  const [bx, by] = view.bend ? bent(x, y, view.bend) : [x, y]
  const focal = larger / Math.tan((view.hfovDeg * RAD) / 2)
  return [bx * focal, by * focal]
}

const aspectOf = ({ hfovDeg, vfovDeg }: View) => Math.tan((hfovDeg * RAD) / 2) / Math.tan((vfovDeg * RAD) / 2)

/** @returns null where too little was recognised */
export function solveBump(pairs: readonly ThenAndNow[]): BumpFound | null {
  const usable = pairs.filter(({ points }) => points.length >= LEAST)
  if (usable.length === 0) return null
  const measured = usable.map(({ was, now, points }) => {
    const aspect = aspectOf(was)
    return {
      now,
      points: points.map(([xa, ya, xb, yb]) => ({ was: rayAt(was, xa, ya * aspect), x: xb, y: yb })),
    }
  })
  const bumpIn = (p: ArrayLike<number>): Bump => ({
    panDeg: p[0]! / RAD,
    tiltDeg: p[1]! / RAD,
    rollDeg: p[2]! / RAD,
    larger: Math.exp(p[3]!),
  })
  const blocks: Block[] = measured.map(({ now, points }) => ({
    on: [0, 1, 2, 3],
    counts: Math.min(1, COUNTS_AS / points.length),
    residuals(p) {
      const bump = bumpIn(p)
      const out = new Float64Array(2 * points.length)
      points.forEach(({ was, x, y }, i) => {
        const at = pointIn(now, bumped(was, bump), bump.larger)
        out[2 * i] = at ? (at[0] - x) / SIGMA : 1e4
        out[2 * i + 1] = at ? (at[1] - y) / SIGMA : 1e4
      })
      return out
    },
  }))
  const solved = solveRobustly(blocks, startOf(measured))
  const bump = bumpIn(solved.p)
  const agree = measured.filter(({ now, points }) => {
    const near = points.filter(({ was, x, y }) => {
      const at = pointIn(now, bumped(was, bump), bump.larger)
      return at !== null && Math.hypot(at[0] - x, at[1] - y) < AGREES
    })
    return near.length >= Math.max(LEAST, MOST_AGREE * points.length)
  })
  if (agree.length === 0 || !v.is(Bump, bump)) return null
  return {
    ...bump,
    sigmaDeg: Math.max(...[0, 1, 2].map((k) => solved.sigma[k]!)) / RAD,
    sigmaLarger: solved.sigma[3]! * bump.larger,
    pictures: agree.length,
  }
}

/** From how the middles of most points have moved. */
function startOf(
  measured: readonly { now: View; points: readonly { was: Vec3; x: number; y: number }[] }[],
): number[] {
  const [pans, tilts]: [number[], number[]] = [[], []]
  for (const { now, points } of measured)
    for (const { was, x, y } of points) {
      const [a, b] = [panTiltOf(was), panTiltOf(rayAt(now, x, y * aspectOf(now)))]
      pans.push(((((b.panDeg - a.panDeg + 180) % 360) + 360) % 360) - 180)
      tilts.push(b.tiltDeg - a.tiltDeg)
    }
  const middle = (all: number[]) => all.sort((a, b) => a - b)[all.length >> 1]!
  return [middle(pans) * RAD, middle(tilts) * RAD, 0, 0]
}

/** The pan and tilt that now look where these looked then. */
export const turnedPlace = (at: PanTilt, bump: Bump): PanTilt => panTiltOf(bumped(directionOf(at), bump))

/** How a picture of then was taken, told by the directions of now; its roll comes in. */
export function bumpedView(view: View, bump: Bump): View {
  const forward = bumped(directionOf(view), bump)
  const { panDeg, tiltDeg } = panTiltOf(forward)
  const wasUp = toWorld([0, 1, 0], {
    headingDeg: view.panDeg,
    pitchDeg: view.tiltDeg,
    rollDeg: view.rollDeg ?? 0,
  })
  const up = bumped(wasUp, bump)
  // Where the picture's up has gone, seen in the picture that is not rolled.
  const right = toRoom([1, 0, 0], panDeg, tiltDeg)
  const level = toRoom([0, 1, 0], panDeg, tiltDeg)
  return { ...view, panDeg, tiltDeg, rollDeg: -Math.atan2(dot(up, right), dot(up, level)) / RAD }
}

/** Is it more than what measuring is unsure of, and more than an arrival is off? */
export function isBumped({ panDeg, tiltDeg, rollDeg, larger, sigmaDeg, sigmaLarger }: BumpFound): boolean {
  const turned = Math.hypot(panDeg, tiltDeg, rollDeg)
  return turned > Math.max(0.15, 3 * sigmaDeg) || lensChanged({ larger, sigmaLarger })
}

export const lensChanged = ({ larger, sigmaLarger }: Pick<BumpFound, 'larger' | 'sigmaLarger'>): boolean =>
  Math.abs(larger - 1) > Math.max(0.015, 3 * sigmaLarger)

/** As "1.3° right, 0.7° down, the picture turned 2.1° clockwise; everything is 4 % smaller". */
export function bumpWords(found: BumpFound): string {
  const { panDeg, tiltDeg, rollDeg, larger } = found
  const turn = (deg: number, minus: string, plus: string) =>
    `${Math.abs(deg).toFixed(1)}° ${deg < 0 ? minus : plus}`
  const words = [turn(panDeg, 'left', 'right'), turn(tiltDeg, 'down', 'up')]
  if (Math.abs(rollDeg) >= 0.1)
    words.push(`the picture turned ${turn(rollDeg, 'clockwise', 'anticlockwise')}`)
  const percent = Math.round(Math.abs(larger - 1) * 100)
  const lens = lensChanged(found) ? `; everything is ${percent} % ${larger > 1 ? 'larger' : 'smaller'}` : ''
  return `${words.join(', ')}${lens}`
}
