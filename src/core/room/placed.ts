/** Directions between a camera's own axes and the room's. Angles in degrees, vectors as in optics/sphere. */
import type { PanTilt } from '../optics/aim'
import { panTiltOf, toRoom, type Vec3 } from '../optics/sphere'
import type { PlacedCamera } from './room'

const RAD = Math.PI / 180
const { cos, sin } = Math

export type Turned = Pick<PlacedCamera, 'headingDeg' | 'pitchDeg' | 'rollDeg'>

/** About z, then about x, then about the upright: small errors of level first. */
export function toWorld([x, y, z]: Vec3, { headingDeg, pitchDeg, rollDeg }: Turned): Vec3 {
  const [sr, cr] = [sin(rollDeg * RAD), cos(rollDeg * RAD)]
  const level: Vec3 = [x * cr - y * sr, x * sr + y * cr, z]
  return toRoom(level, headingDeg, pitchDeg)
}

export function toOwn([x, y, z]: Vec3, { headingDeg, pitchDeg, rollDeg }: Turned): Vec3 {
  const [sh, ch] = [sin(headingDeg * RAD), cos(headingDeg * RAD)]
  const [sp, cp] = [sin(pitchDeg * RAD), cos(pitchDeg * RAD)]
  const [sr, cr] = [sin(rollDeg * RAD), cos(rollDeg * RAD)]
  const [x1, z1] = [x * ch - z * sh, x * sh + z * ch]
  const [y2, z2] = [y * cp - z1 * sp, y * sp + z1 * cp]
  return [x1 * cr + y2 * sr, -x1 * sr + y2 * cr, z2]
}

export const directionOf = ({ panDeg, tiltDeg }: PanTilt): Vec3 => toRoom([0, 0, 1], panDeg, tiltDeg)

export const minus = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]]
export const along = (from: Vec3, way: Vec3, far: number): Vec3 => [
  from[0] + way[0] * far,
  from[1] + way[1] * far,
  from[2] + way[2] * far,
]
export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
export const lengthOf = (a: Vec3): number => Math.hypot(a[0], a[1], a[2])

/** The way in which a camera looks at a pan and tilt of its own, in the room. */
export const wayOf = (camera: Turned, at: PanTilt): Vec3 => toWorld(directionOf(at), camera)

/** Where a camera must turn to see a place of the room, and how far away it is. */
export function seenFrom(camera: PlacedCamera, place: Vec3): PanTilt & { away: number } {
  const way = minus(place, camera.at)
  return { ...panTiltOf(toOwn(way, camera)), away: lengthOf(way) }
}
