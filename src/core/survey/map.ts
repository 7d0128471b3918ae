/**
 * The picture of all that a camera can reach, as an equirectangular map: one pixel is as many degrees of pan
 * across as of tilt down, everywhere. Pixels count from the left and the top; angles in degrees.
 */
import * as v from 'valibot'
import type { Fov, PanTilt } from '../optics/aim'
import { nearTurn } from '../optics/aim'
import { panTiltOf, rayAt, type View } from '../optics/sphere'
import type { Reach } from './plan'

const Deg = v.pipe(v.number(), v.minValue(-720), v.maxValue(720))

export const SurveyMap = v.object({
  projection: v.literal('equirectangular'),
  /** At the left edge, and at the upper one. */
  panDeg: Deg,
  tiltDeg: Deg,
  pxPerDeg: v.pipe(v.number(), v.gtValue(0), v.maxValue(200)),
  width: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(20_000)),
  height: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(20_000)),
})
export type SurveyMap = v.InferOutput<typeof SurveyMap>

export interface Px {
  x: number
  y: number
}

/** More would be larger than any screen shows and any phone holds. */
const MOST_WIDE = 10_000

/** The map that holds all that is seen from these poses, at the pictures' own resolution. */
export function mapFor(reach: Reach, fov: Fov, pictureWidth: number): SurveyMap {
  const left = reach.pan.minDeg - fov.hfovDeg / 2
  const right = reach.pan.maxDeg + fov.hfovDeg / 2
  const top = Math.min(90, reach.tilt.maxDeg + fov.vfovDeg / 2)
  const low = Math.max(-90, reach.tilt.minDeg - fov.vfovDeg / 2)
  // In the middle of a picture, where it has the fewest pixels in a degree.
  const own = (pictureWidth / 2 / Math.tan((fov.hfovDeg * Math.PI) / 360)) * (Math.PI / 180)
  const pxPerDeg = Math.min(own, MOST_WIDE / (right - left))
  return {
    projection: 'equirectangular',
    panDeg: left,
    tiltDeg: top,
    pxPerDeg,
    width: Math.max(1, Math.round((right - left) * pxPerDeg)),
    height: Math.max(1, Math.round((top - low) * pxPerDeg)),
  }
}

export const toPx = (map: SurveyMap, { panDeg, tiltDeg }: PanTilt): Px => ({
  x: (panDeg - map.panDeg) * map.pxPerDeg,
  y: (map.tiltDeg - tiltDeg) * map.pxPerDeg,
})

export const toPanTilt = (map: SurveyMap, { x, y }: Px): PanTilt => ({
  panDeg: map.panDeg + x / map.pxPerDeg,
  tiltDeg: map.tiltDeg - y / map.pxPerDeg,
})

/** Each edge of a frame is drawn through so many points: on the map straight edges bend. */
const POINTS = 12

/**
 * The edge of what a view sees, on the map, from its upper left corner clockwise. Its points hang together:
 * where the frame crosses the map's seam they go on beyond it.
 */
export function frameOn(map: SurveyMap, view: View): Px[] {
  const corners = [
    [-1, 1],
    [1, 1],
    [1, -1],
    [-1, -1],
  ] as const
  const points: Px[] = []
  let near = view.panDeg
  for (const [i, [u0, v0]] of corners.entries()) {
    const [u1, v1] = corners[(i + 1) % 4]!
    for (let k = 0; k < POINTS; k++) {
      const s = k / POINTS
      const { panDeg, tiltDeg } = panTiltOf(rayAt(view, u0 + (u1 - u0) * s, v0 + (v1 - v0) * s))
      near = nearTurn(panDeg, near)
      points.push(toPx(map, { panDeg: near, tiltDeg }))
    }
  }
  return points
}

/** The view that just holds a box of the map. @param aspect width over height of the picture */
export function viewOfBox(map: SurveyMap, a: Px, b: Px, aspect: number): View {
  const middle = toPanTilt(map, { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 })
  const cos = Math.max(0.05, Math.cos((middle.tiltDeg * Math.PI) / 180))
  const width = (Math.abs(a.x - b.x) / map.pxPerDeg) * cos
  const height = Math.abs(a.y - b.y) / map.pxPerDeg
  const half = (deg: number) => Math.tan((Math.min(160, deg) * Math.PI) / 360)
  const wide = Math.max(half(width), half(height) * aspect, 1e-4)
  const hfovDeg = (2 * Math.atan(wide) * 180) / Math.PI
  const vfovDeg = (2 * Math.atan(wide / aspect) * 180) / Math.PI
  return { ...middle, hfovDeg, vfovDeg }
}
