/**
 * A move as it is seen from where it begins: the way that the middle of the picture goes over the picture of now, and
 * the frame at its end. Points as u right and v up, -1..1 at the edges of the picture of now; beyond them it is outside.
 */
import { pointOf, rayAt, type View } from '../../optics/sphere'
import type { MoveTrajectory } from '../plan/types'

export interface PointSeen {
  u: number
  v: number
}

export interface PathSeen {
  /** The middle at even steps of the time, for as long as it is in front of the camera. */
  middle: PointSeen[]
  /** The edge of the last picture all the way round, bent as the lens has it; null where some of it is behind the camera. */
  frame: PointSeen[] | null
}

/** Points on each side of the frame. */
const SIDE = 8
const CORNERS = [
  [-1, 1],
  [1, 1],
  [1, -1],
  [-1, -1],
] as const

/**
 * @param viewAt what is in the picture at a place of the plan; zoom as the natural logarithm of the focal length in mm
 * @param seen what is in the picture that it is drawn over; that of its beginning unless it is given
 */
export function pathSeen(
  trajectory: MoveTrajectory,
  viewAt: (panDeg: number, tiltDeg: number, zoom: number) => View,
  samples = 48,
  seen: View | null = null,
): PathSeen {
  const at = (s: number) => {
    const { pan, tilt, zoom } = trajectory.at(s)
    return viewAt(pan.position, tilt.position, zoom.position)
  }
  const now = seen ?? at(0)
  const middle: PointSeen[] = []
  for (let i = 0; i <= samples; i++) {
    const point = pointOf(now, rayAt(at((trajectory.seconds * i) / samples), 0, 0))
    if (!point) break
    middle.push(point)
  }
  const end = at(trajectory.seconds)
  const edge = CORNERS.flatMap(([u, v], i) => {
    const [toU, toV] = CORNERS[(i + 1) % 4]!
    return Array.from({ length: SIDE }, (_, k) =>
      pointOf(now, rayAt(end, u + ((toU - u) * k) / SIDE, v + ((toV - v) * k) / SIDE)),
    )
  })
  const whole = edge.filter((point) => point !== null)
  return { middle, frame: whole.length === edge.length ? whole : null }
}
