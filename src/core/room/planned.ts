/** A room drawn from above: where its places lie on the drawing, and how a picture is laid under it. */
import type { Px } from '../survey/map'
import type { Place, PlanPicture, RoomKept, RoomSolved, Spot } from './room'

export interface Spread {
  width: number
  height: number
  /** Px of the drawing in a unit of the room. */
  scale: number
  toPx(x: number, z: number): Px
  toRoom(px: Px): { x: number; z: number }
}

/** Of the drawing's longer side, px. */
const SIDE = 1200
/** Left free around what is drawn, of the longer side. */
const MARGIN = 0.17

/** The drawing that holds these places; z ahead is up. */
export function spread(places: readonly { x: number; z: number }[]): Spread {
  const [xs, zs] = [places.map(({ x }) => x), places.map(({ z }) => z)]
  const [left, right] = [Math.min(...xs), Math.max(...xs)]
  const [low, top] = [Math.min(...zs), Math.max(...zs)]
  const margin = Math.max(right - left, top - low, 1e-6) * MARGIN
  const [wide, high] = [right - left + 2 * margin, top - low + 2 * margin]
  const scale = SIDE / Math.max(wide, high)
  return {
    ...{ width: wide * scale, height: high * scale, scale },
    toPx: (x, z) => ({ x: (x - left + margin) * scale, y: (top + margin - z) * scale }),
    toRoom: ({ x, y }) => ({ x: x / scale + left - margin, z: top + margin - y / scale }),
  }
}

export const placeOf = (solved: RoomSolved, { kind, id }: Spot): Place | undefined =>
  kind === 'camera'
    ? solved.cameras.find(({ cameraId }) => cameraId === id)?.at
    : solved.points.find(({ pointId }) => pointId === id)?.at

/** From the plan's picture, 0..1 from its left and upper edge, to the room. */
export type Laid = (at: { u: number; v: number }) => { x: number; z: number }

/** By two pins: turned, moved and sized as a whole. Null while two are not known. */
export function laidBy(
  { pins }: Pick<RoomKept, 'pins'>,
  solved: RoomSolved | null,
  picture: PlanPicture | null,
): Laid | null {
  const [a, b] = pins
  const [p, q] = a && b && solved ? [placeOf(solved, a.spot), placeOf(solved, b.spot)] : []
  if (!a || !b || !p || !q || !picture) return null
  const { width, height } = picture
  // As complex numbers, up positive: one factor turns and sizes.
  const of = ({ u, v }: { u: number; v: number }) => ({ re: u * width, im: -v * height })
  const [from, to] = [of(a), of(b)]
  const way = { re: to.re - from.re, im: to.im - from.im }
  const room = { re: q[0] - p[0], im: q[2] - p[2] }
  const size = way.re ** 2 + way.im ** 2
  if (size < 1e-9) return null
  const k = {
    re: (room.re * way.re + room.im * way.im) / size,
    im: (room.im * way.re - room.re * way.im) / size,
  }
  return (at) => {
    const here = of(at)
    const [re, im] = [here.re - from.re, here.im - from.im]
    return { x: p[0] + k.re * re - k.im * im, z: p[2] + k.re * im + k.im * re }
  }
}
