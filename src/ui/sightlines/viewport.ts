/** What of the map is seen: its pixels against those of the screen. Pure, so that it can be tested without one. */
import type { Px, SurveyMap } from '../../core/survey/map'
import { TILE } from '../../core/survey/surveys'

/** Of a map, or of anything else that is moved and brought closer like one. */
export type Extent = Pick<SurveyMap, 'width' | 'height'>

/** Screen = map x scale + offset. */
export interface Viewport {
  scale: number
  x: number
  y: number
}

export interface Size {
  width: number
  height: number
}

/** Below this height, px, things stand beside each other. */
export const LOW_BELOW = 560

/** Closer than this the pictures have nothing more to show. */
const CLOSEST = 3
/** Of the screen, filled by what it is to hold. */
const AROUND = 0.86
/** Of the map, always left on the screen, px. */
const LEFT = 60

/** The whole map, in the middle. */
export function whole(map: Extent, size: Size): Viewport {
  const scale = Math.min(size.width / map.width, size.height / map.height)
  return { scale, x: (size.width - map.width * scale) / 2, y: (size.height - map.height * scale) / 2 }
}

/** Close enough to hold all of these places, with something around them. */
export function around(map: Extent, size: Size, points: readonly Px[]): Viewport {
  const [xs, ys] = [points.map(({ x }) => x), points.map(({ y }) => y)]
  const [left, right] = [Math.min(...xs), Math.max(...xs)]
  const [top, low] = [Math.min(...ys), Math.max(...ys)]
  const scale = Math.min(size.width / (right - left + 1), size.height / (low - top + 1)) * AROUND
  const x = size.width / 2 - ((left + right) / 2) * scale
  const y = size.height / 2 - ((top + low) / 2) * scale
  return held(map, size, { scale, x, y })
}

/** As high as the screen, with a place in the middle. */
export function filling(map: Extent, size: Size, at: Px): Viewport {
  const scale = Math.max(size.height / map.height, size.width / map.width)
  return held(map, size, { scale, x: size.width / 2 - at.x * scale, y: size.height / 2 - at.y * scale })
}

/** Not closer, farther away or farther out than makes sense. */
export function held(map: Extent, size: Size, { scale, x, y }: Viewport): Viewport {
  const least = whole(map, size).scale * 0.8
  const s = Math.min(CLOSEST, Math.max(least, scale))
  const within = (offset: number, length: number, room: number) =>
    Math.min(room - LEFT, Math.max(LEFT - length, offset))
  return { scale: s, x: within(x, map.width * s, size.width), y: within(y, map.height * s, size.height) }
}

/** Closer or farther by a factor; what is under the point stays there. */
export function zoomed(map: Extent, size: Size, view: Viewport, factor: number, at: Px): Viewport {
  const least = whole(map, size).scale * 0.8
  const scale = Math.min(CLOSEST, Math.max(least, view.scale * factor))
  const by = scale / view.scale
  return held(map, size, { scale, x: at.x - (at.x - view.x) * by, y: at.y - (at.y - view.y) * by })
}

export const toMap = (view: Viewport, { x, y }: Px): Px => ({
  x: (x - view.x) / view.scale,
  y: (y - view.y) / view.scale,
})

export interface Piece {
  level: number
  column: number
  row: number
  /** On the map, px. */
  left: number
  top: number
  width: number
  height: number
}

/** The pieces that are seen, and those about to be, at the level that the screen can show. */
export function piecesIn(map: Extent, levels: number, size: Size, view: Viewport, density: number): Piece[] {
  const level = Math.min(levels - 1, Math.max(0, Math.floor(Math.log2(1 / (view.scale * density)) + 0.3)))
  const side = TILE * 2 ** level
  const from = toMap(view, { x: 0, y: 0 })
  const to = toMap(view, { x: size.width, y: size.height })
  const range = (a: number, b: number, length: number) => {
    const last = Math.ceil(length / side) - 1
    const first = Math.min(last, Math.max(0, Math.floor(a / side - 0.5)))
    const end = Math.min(last, Math.max(0, Math.floor(b / side + 0.5)))
    return Array.from({ length: Math.max(0, end - first + 1) }, (_, i) => first + i)
  }
  return range(from.y, to.y, map.height).flatMap((row) =>
    range(from.x, to.x, map.width).map((column) => ({
      ...{ level, column, row },
      left: column * side,
      top: row * side,
      width: Math.min(side, map.width - column * side),
      height: Math.min(side, map.height - row * side),
    })),
  )
}
