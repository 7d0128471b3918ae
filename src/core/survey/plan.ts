/**
 * From which poses a camera photographs everything that it can reach, so that neighbouring pictures overlap.
 * Angles in degrees, as the operator sees them.
 */
import type { Fov, PanTilt } from '../optics/aim'
import { panTiltOf, rayAt } from '../optics/sphere'

export interface Reach {
  pan: { minDeg: number; maxDeg: number }
  tilt: { minDeg: number; maxDeg: number }
}

/** Of each picture's width and height, shared with the next. */
export const OVERLAP = 0.25
/** A row is looked at in so many places for where its pictures are narrowest. */
const HEIGHTS = 9
const HALF_TURN = 180

/** From one end to the other with no step larger than asked. */
function spread(minDeg: number, maxDeg: number, stepDeg: number): number[] {
  const steps = Math.max(0, Math.ceil((maxDeg - minDeg) / stepDeg - 1e-9))
  if (steps === 0) return [(minDeg + maxDeg) / 2]
  return Array.from({ length: steps + 1 }, (_, i) => minDeg + ((maxDeg - minDeg) * i) / steps)
}

/** How far a picture at this tilt reaches to the side everywhere in its band, degrees of pan. */
function halfWidth(tiltDeg: number, bandDeg: number, fov: Fov): number {
  const view = { panDeg: 0, tiltDeg, ...fov }
  let least = HALF_TURN
  const up = bandDeg / fov.vfovDeg
  for (let i = 0; i < HEIGHTS; i++) {
    const v = up * ((2 * i) / (HEIGHTS - 1) - 1)
    const { panDeg } = panTiltOf(rayAt(view, 1, v))
    // Beyond the zenith it sees what is behind it.
    least = Math.min(least, panDeg <= 0 ? HALF_TURN : panDeg)
  }
  return least
}

/** More would take a quarter of an hour, and be more than a map can show. */
export const MOST_PICTURES = 200

/** No further round than once, and no further up or down than straight: what a head claims beyond is not so. */
export function onSphere({ pan, tilt }: Reach): Reach {
  const within = ({ minDeg, maxDeg }: Reach['pan'], half: number) =>
    maxDeg - minDeg > 2 * half ? { minDeg: -half, maxDeg: half } : { minDeg, maxDeg }
  const { minDeg, maxDeg } = within(tilt, 90)
  return {
    pan: within(pan, HALF_TURN),
    tilt: { minDeg: Math.max(-90, minDeg), maxDeg: Math.min(90, maxDeg) },
  }
}

/** Of a picture's width and height: so far inside a part its outermost pictures look. */
const INTO_PART = 0.4

/** Where the camera looks so that its pictures show a part of what it reaches: from its middle, if that is small. */
export function reachOfPart(reach: Reach, part: Reach, { hfovDeg, vfovDeg }: Fov): Reach {
  const within = (all: Reach['pan'], { minDeg, maxDeg }: Reach['pan'], fovDeg: number) => {
    const middle = (minDeg + maxDeg) / 2
    const clamp = (deg: number) => Math.min(all.maxDeg, Math.max(all.minDeg, deg))
    return {
      minDeg: clamp(Math.min(middle, minDeg + INTO_PART * fovDeg)),
      maxDeg: clamp(Math.max(middle, maxDeg - INTO_PART * fovDeg)),
    }
  }
  return { pan: within(reach.pan, part.pan, hfovDeg), tilt: within(reach.tilt, part.tilt, vfovDeg) }
}

/** How many pictures it takes about, told without making a plan. */
export function aboutHowMany({ pan, tilt }: Reach, fov: Fov, overlap = OVERLAP): number {
  const steps = ({ minDeg, maxDeg }: Reach['pan'], each: number) =>
    Math.ceil((maxDeg - minDeg) / (each * (1 - overlap))) + 1
  return steps(pan, fov.hfovDeg) * steps(tilt, fov.vfovDeg)
}

/** Row by row, to and fro, so that the head turns as little as it can. */
export function planSurvey(reach: Reach, fov: Fov, overlap = OVERLAP): PanTilt[] {
  const { pan, tilt } = reach
  const rowStep = fov.vfovDeg * (1 - overlap)
  const rows = spread(tilt.minDeg, tilt.maxDeg, rowStep)
  const band = rows.length > 1 ? (tilt.maxDeg - tilt.minDeg) / (rows.length - 1) : rowStep
  return rows.flatMap((tiltDeg, row) => {
    const step = Math.min(HALF_TURN, 2 * halfWidth(tiltDeg, band, fov) * (1 - overlap))
    const places = spread(pan.minDeg, pan.maxDeg, step)
    if (row % 2 === 1) places.reverse()
    return places.map((panDeg) => ({ panDeg, tiltDeg }))
  })
}
