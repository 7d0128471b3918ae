/**
 * The way of a move, without its time: where each axis is when a share s of it is done.
 *
 * The zoom's logarithm runs evenly with s, so the focal length is f0 r^s. Zooming in (r > 1), the target is to
 * cross the screen evenly and straight: its distance from the middle, in picture widths, is x0 (1 - s). For a
 * distance of a degrees from the axis that is a f / f0, so that what is left to turn is a0 (1 - s) r^-s: the turn
 * goes ahead of the zoom. Zooming out is the same move backwards: what was in the middle leaves it evenly.
 *
 * As long as the target is in the picture the head points so that it is seen just there. A wide turn whose target is
 * not seen yet keeps its horizon instead: pan and tilt each run in proportion.
 */
import { MOVE_AXES, type MoveAxis } from './types'

/** A value with its first and second derivative by s. */
export interface Along {
  value: number
  first: number
  second: number
}
export type PathPoint = Record<MoveAxis, Along>
/** @param into is written over, and returned: many points are looked at in a plan, and few are kept */
export type Path = (s: number, into: PathPoint) => PathPoint

export function emptyPoint(): PathPoint {
  const point = {} as PathPoint
  for (const axis of MOVE_AXES) point[axis] = { value: 0, first: 0, second: 0 }
  return point
}

const RAD = Math.PI / 180
/** Beyond this share of the wider picture the target is not in it. */
const SEEN = 0.62
/** Nearer to the zenith than this it would swing the pan, degrees. */
const STEEP_DEG = 75

type Place = Record<MoveAxis, number>

function write(into: Along, value: number, first: number, second: number): void {
  into.value = value
  into.first = first
  into.second = second
}

/** A turn ahead of its zoom, or behind it, by the share of the move. @param log of the ratio of focal lengths */
function turn(into: Along, from: number, way: number, s: number, log: number): void {
  const k = Math.abs(log)
  if (log >= 0) {
    const e = Math.exp(-k * s)
    const left = 1 - s
    const second = -e * (2 * k + k * k * left)
    write(into, from + way * (1 - left * e), way * e * (1 + k * left), way * second)
  } else {
    const e = Math.exp(-k * (1 - s))
    write(into, from + way * s * e, way * e * (1 + k * s), way * e * (2 * k + k * k * s))
  }
}

/** Steps for the derivatives of a way that has no handy ones. */
const H = 1e-3

const change = (into: Along, before: number, now: number, after: number) =>
  write(into, now, (after - before) / (2 * H), (after - 2 * now + before) / (H * H))

/** Where the head must point so that a direction is seen at (x, y) of the picture, as shares of the focal length. */
function pointedSo(
  target: { pan: number; tilt: number },
  x: number,
  y: number,
): { pan: number; tilt: number } {
  const sine = (Math.hypot(x, y, 1) * Math.sin(target.tilt * RAD)) / Math.hypot(y, 1)
  const tilt = Math.asin(Math.min(1, Math.max(-1, sine))) - Math.atan(y)
  const ahead = Math.cos(tilt) - y * Math.sin(tilt)
  return { pan: target.pan - Math.atan2(x, ahead) / RAD, tilt: tilt / RAD }
}

/** Where a direction is seen from a place, as shares of the focal length; null if it is behind. */
function seenFrom(from: Place, target: { pan: number; tilt: number }): { x: number; y: number } | null {
  const [p, t, c] = [(target.pan - from.pan) * RAD, target.tilt * RAD, from.tilt * RAD]
  const [x, y, z] = [Math.sin(p) * Math.cos(t), Math.sin(t), Math.cos(p) * Math.cos(t)]
  const ahead = z * Math.cos(c) + y * Math.sin(c)
  return ahead > 0.1 ? { x: x / ahead, y: (y * Math.cos(c) - z * Math.sin(c)) / ahead } : null
}

/** A direction comes to the middle, or leaves it, evenly and straight over the screen. */
function straight(from: Place, to: Place): ((s: number, into: PathPoint) => void) | null {
  const log = to.zoom - from.zoom
  const comes = log >= 0
  const [target, other] = comes ? [to, from] : [from, to]
  const first = seenFrom(other, target)
  if (!first) return null
  const at = (s: number) => {
    // Going out is coming in, backwards.
    const along = comes ? s : 1 - s
    const left = (1 - along) * Math.exp(-Math.abs(log) * along)
    return pointedSo(target, first.x * left, first.y * left)
  }
  return (s, into) => {
    const before = at(s - H)
    const now = at(s)
    const after = at(s + H)
    change(into.pan, before.pan, now.pan, after.pan)
    change(into.tilt, before.tilt, now.tilt, after.tilt)
  }
}

/** @param hfovDeg what the picture shows at a focal length (its logarithm) */
export function pathBetween(from: Place, to: Place, hfovDeg: (zoom: number) => number): Path {
  const way = {} as Place
  for (const axis of MOVE_AXES) way[axis] = to[axis] - from[axis]
  const wider = Math.max(hfovDeg(from.zoom), hfovDeg(to.zoom))
  const seen = Math.hypot(way.pan, way.tilt) < SEEN * wider
  const level = Math.max(Math.abs(from.tilt), Math.abs(to.tilt)) < STEEP_DEG
  const exact = seen && level && way.pan !== 0 ? straight(from, to) : null
  return (s, into) => {
    if (exact) exact(s, into)
    else {
      turn(into.pan, from.pan, way.pan, s, way.zoom)
      turn(into.tilt, from.tilt, way.tilt, s, way.zoom)
    }
    write(into.zoom, from.zoom + way.zoom * s, way.zoom, 0)
    write(into.focus, from.focus + way.focus * s, way.focus, 0)
    return into
  }
}
