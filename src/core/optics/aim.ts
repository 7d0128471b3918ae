/**
 * Where to turn a head so that something is where it should be in the picture. All through the sphere:
 * adding angles to pan and tilt is wrong away from the centre. The head cannot roll, so a point can be
 * brought anywhere, but the horizon stays as it is. Angles in degrees; u, v are -1..1, right and up.
 * Source: docs/optics.md.
 */
import { vfovOf } from './lens'
import { rayAt, toCamera, type Vec3, type View } from './sphere'

const RAD = Math.PI / 180

export interface PanTilt {
  panDeg: number
  tiltDeg: number
}

export interface Fov {
  hfovDeg: number
  vfovDeg: number
}

/** An angle brought within a half turn of another, so that the head takes the shorter way. */
export function nearTurn(deg: number, toDeg: number): number {
  return deg - 360 * Math.round((deg - toDeg) / 360)
}

/**
 * Pan and tilt at which a direction of the room is seen at (u, v).
 * @param from the pose now: of two ways round the nearer is taken
 * @returns null if no tilt brings it there, which happens near the zenith only
 */
export function poseToSee(direction: Vec3, u: number, v: number, fov: Fov, from: PanTilt): PanTilt | null {
  const x = u * Math.tan((fov.hfovDeg * RAD) / 2)
  const y = v * Math.tan((fov.vfovDeg * RAD) / 2)
  const n = Math.hypot(x, y, 1)
  const [cx, cy, cz] = [x / n, y / n, 1 / n]
  const reach = Math.hypot(cy, cz)
  const sine = direction[1] / reach
  if (Math.abs(sine) > 1 + 1e-12) return null
  const tilt = Math.asin(Math.max(-1, Math.min(1, sine))) - Math.atan2(cy, cz)
  const forward = -cy * Math.sin(tilt) + cz * Math.cos(tilt)
  const pan = Math.atan2(direction[0], direction[2]) - Math.atan2(cx, forward)
  return { panDeg: nearTurn(pan / RAD, from.panDeg), tiltDeg: tilt / RAD }
}

/** The pose that brings the point (u, v) of this picture to its centre. */
export function aimAt(view: View, u: number, v: number): PanTilt {
  // The centre can always be brought onto any direction.
  return poseToSee(rayAt(view, u, v), 0, 0, view, view)!
}

/** The pose after which what is in the middle now stands this far to the right and up, in picture widths. */
export function nudged(view: View, right: number, up: number): PanTilt {
  const aspect = Math.tan((view.hfovDeg * RAD) / 2) / Math.tan((view.vfovDeg * RAD) / 2)
  return aimAt(view, -2 * right, -2 * up * aspect)
}

/** The pose that keeps the point (u, v) where it is while the field of view becomes another. */
export function zoomedAbout(view: View, u: number, v: number, fov: Fov): PanTilt {
  return poseToSee(rayAt(view, u, v), u, v, fov, view) ?? { panDeg: view.panDeg, tiltDeg: view.tiltDeg }
}

export interface Box {
  /** Two opposite corners, -1..1. */
  u0: number
  v0: number
  u1: number
  v1: number
}

/** Far more than needed: each round removes most of the remaining error. */
const ROUNDS = 14
const DONE = 1e-13

function edgesOf({ u0, v0, u1, v1 }: Box): [number, number][] {
  return [
    [u0, v0],
    [u1, v0],
    [u0, v1],
    [u1, v1],
    [(u0 + u1) / 2, v0],
    [(u0 + u1) / 2, v1],
    [u0, (v0 + v1) / 2],
    [u1, (v0 + v1) / 2],
  ]
}

/**
 * The pose and the field of view in which a box of this picture fills the frame.
 * @param margin what is left free on each side, as a share of the box
 * @param aspect width over height of the picture
 */
export function frameBox(view: View, box: Box, margin: number, aspect: number): PanTilt & Fov {
  const rays = edgesOf(box).map(([u, v]) => rayAt(view, u, v))
  let at: PanTilt = aimAt(view, (box.u0 + box.u1) / 2, (box.v0 + box.v1) / 2)
  let half = 0
  for (let round = 0; round < ROUNDS; round++) {
    const seen = rays.map((ray) => {
      const [x, y, z] = toCamera(ray, at.panDeg, at.tiltDeg)
      return [x / z, y / z] as const
    })
    const xs = seen.map(([x]) => x)
    const ys = seen.map(([, y]) => y)
    const [left, right] = [Math.min(...xs), Math.max(...xs)]
    const [low, high] = [Math.min(...ys), Math.max(...ys)]
    half = (Math.max(right - left, (high - low) * aspect) / 2) * (1 + 2 * margin)
    const [cx, cy] = [(left + right) / 2, (low + high) / 2]
    if (Math.hypot(cx, cy) < DONE) break
    // The middle of what the box has become, brought to the middle of the picture.
    const unit: View = { ...at, hfovDeg: 90, vfovDeg: 90 }
    at = aimAt(unit, cx, cy)
  }
  const hfovDeg = (2 * Math.atan(half)) / RAD
  return {
    panDeg: nearTurn(at.panDeg, view.panDeg),
    tiltDeg: at.tiltDeg,
    hfovDeg,
    vfovDeg: vfovOf(hfovDeg, aspect),
  }
}
