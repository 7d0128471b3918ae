/**
 * Between directions in the room and points of the picture. A rectilinear lens maps by the tangent;
 * a tilted head turns the picture as it pans. Room axes: x right, y up, z straight ahead at pan 0,
 * tilt 0. Picture: u right, v up, -1..1 at the edges. Angles in degrees. Source: docs/optics.md.
 */

import { type Bend, bent, straightened } from './bend'

const RAD = Math.PI / 180

export type Vec3 = readonly [number, number, number]

export interface View {
  panDeg: number
  tiltDeg: number
  hfovDeg: number
  vfovDeg: number
  /** How its lens bends straight lines; straight if omitted. */
  bend?: Bend
  /** Anticlockwise about where it looks, as seen by it: of a mount that does not stand upright. 0 if omitted. */
  rollDeg?: number
}

/** Turns a direction of the camera (x right, y up, z forward) into the room: tilt, then pan. */
export function toRoom([x, y, z]: Vec3, panDeg: number, tiltDeg: number): Vec3 {
  const [sp, cp] = [Math.sin(panDeg * RAD), Math.cos(panDeg * RAD)]
  const [st, ct] = [Math.sin(tiltDeg * RAD), Math.cos(tiltDeg * RAD)]
  const y1 = y * ct + z * st
  const z1 = -y * st + z * ct
  return [x * cp + z1 * sp, y1, -x * sp + z1 * cp]
}

/** The reverse: a direction of the room as the camera at (pan, tilt) has it. */
export function toCamera([x, y, z]: Vec3, panDeg: number, tiltDeg: number): Vec3 {
  const [sp, cp] = [Math.sin(panDeg * RAD), Math.cos(panDeg * RAD)]
  const [st, ct] = [Math.sin(tiltDeg * RAD), Math.cos(tiltDeg * RAD)]
  const x1 = x * cp - z * sp
  const z1 = x * sp + z * cp
  return [x1, y * ct - z1 * st, y * st + z1 * ct]
}

/** Turned in the picture's plane, anticlockwise. */
function rolled(x: number, y: number, deg: number): [number, number] {
  const [s, c] = [Math.sin(deg * RAD), Math.cos(deg * RAD)]
  return [x * c - y * s, x * s + y * c]
}

/** The unit direction in the room seen at point (u, v) of the picture. */
export function rayAt(view: View, u: number, v: number): Vec3 {
  const x = u * Math.tan((view.hfovDeg * RAD) / 2)
  const y = v * Math.tan((view.vfovDeg * RAD) / 2)
  const [sx, sy] = view.bend ? straightened(x, y, view.bend) : [x, y]
  const n = Math.hypot(sx, sy, 1)
  const [rx, ry] = view.rollDeg ? rolled(sx, sy, view.rollDeg) : [sx, sy]
  return toRoom([rx / n, ry / n, 1 / n], view.panDeg, view.tiltDeg)
}

/** Where a direction of the room appears in the picture; null behind the camera. */
export function pointOf(view: View, direction: Vec3): { u: number; v: number } | null {
  const [x, y, z] = toCamera(direction, view.panDeg, view.tiltDeg)
  if (z <= 1e-9) return null
  const [px, py] = view.rollDeg ? rolled(x / z, y / z, -view.rollDeg) : [x / z, y / z]
  const [u, v] = view.bend ? bent(px, py, view.bend) : [px, py]
  return { u: u / Math.tan((view.hfovDeg * RAD) / 2), v: v / Math.tan((view.vfovDeg * RAD) / 2) }
}

/** Pan and tilt in degrees at which a direction of the room is straight ahead. */
export function panTiltOf([x, y, z]: Vec3): { panDeg: number; tiltDeg: number } {
  const n = Math.hypot(x, y, z)
  return { panDeg: Math.atan2(x, z) / RAD, tiltDeg: Math.asin(Math.max(-1, Math.min(1, y / n))) / RAD }
}

/** Angle in degrees between two directions given as pan and tilt. */
export function angleBetweenDeg(
  a: { panDeg: number; tiltDeg: number },
  b: { panDeg: number; tiltDeg: number },
): number {
  const dir = (p: { panDeg: number; tiltDeg: number }) => toRoom([0, 0, 1], p.panDeg, p.tiltDeg)
  const [p, q] = [dir(a), dir(b)]
  const cross = Math.hypot(p[1] * q[2] - p[2] * q[1], p[2] * q[0] - p[0] * q[2], p[0] * q[1] - p[1] * q[0])
  return Math.atan2(cross, p[0] * q[0] + p[1] * q[1] + p[2] * q[2]) / RAD
}
