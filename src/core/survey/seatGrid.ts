/**
 * Numbered places of a block of seats or tables, from where its four corner seats are seen. A block lies in a
 * plane: four directions fix how the plane is seen (a homography of the block), so that places between them are
 * where they truly are, not at means of angles. Angles in degrees, as the operator sees them.
 */
import * as v from 'valibot'
import type { PanTilt } from '../optics/aim'
import { angleBetweenDeg, panTiltOf, toRoom, type Vec3 } from '../optics/sphere'

const Deg = v.pipe(v.number(), v.minValue(-720), v.maxValue(720))
const Corner = v.object({ panDeg: Deg, tiltDeg: Deg })
const whole = (from: number, to: number) => v.pipe(v.number(), v.integer(), v.minValue(from), v.maxValue(to))

export const NUMBERINGS = ['12.7', 'C14'] as const
export const MOST_SEATS = 600

export const SeatGrid = v.pipe(
  v.object({
    /** The first row's first and last seat, the last row's last and first: once round the block. */
    corners: v.tuple([Corner, Corner, Corner, Corner]),
    /** How many seats each row has, from the first to the last; shorter rows stand in the middle. */
    seats: v.pipe(v.array(whole(1, 100)), v.minLength(1), v.maxLength(60)),
    /** An aisle after these seats of the longest row, as wide as `aisleSeats` seats. */
    aislesAfter: v.pipe(v.array(whole(1, 99)), v.maxLength(6)),
    aisleSeats: v.pipe(v.number(), v.minValue(0), v.maxValue(6)),
    /** How far the middle of each row lies behind its ends, in rows; negative where it lies before them. */
    bow: v.pipe(v.number(), v.minValue(-4), v.maxValue(4)),
    firstRow: whole(1, 200),
    firstSeat: whole(1, 200),
    /** Seats are counted from the other end. */
    backwards: v.boolean(),
    numbering: v.picklist(NUMBERINGS),
    /** How much of the neighbours is seen on either side, of a seat's width. */
    overlap: v.pipe(v.number(), v.minValue(0), v.maxValue(2)),
  }),
  v.check(
    ({ seats }) => seats.reduce((sum, n) => sum + n, 0) <= MOST_SEATS,
    `A grid has at most ${MOST_SEATS} seats.`,
  ),
)
export type SeatGrid = v.InferOutput<typeof SeatGrid>

/** Which preset stands for a seat. */
export const GridSeat = v.object({
  label: v.pipe(v.string(), v.maxLength(20)),
  presetId: v.pipe(v.string(), v.uuid()),
  /** It is no longer in the block; its row and its place along it, from 0, for when it is again. */
  out: v.optional(v.pipe(v.string(), v.maxLength(12))),
  /** Somebody removed its preset by itself: no change of the block brings it back. */
  left: v.optional(v.boolean()),
})
export type GridSeat = v.InferOutput<typeof GridSeat>

/** A grid whose presets are made. */
export const MadeGrid = v.object({
  id: v.string(),
  cameraId: v.string(),
  section: v.string(),
  grid: SeatGrid,
  /** Presets that are still there. */
  presets: v.number(),
})
export type MadeGrid = v.InferOutput<typeof MadeGrid>

export interface Seat extends PanTilt {
  row: number
  seat: number
  /** As the venue calls it: "12.7" or "C14". */
  label: string
  /** Of the picture that holds it. */
  hfovDeg: number
}

/** A, B, ... Z, AA, AB ... */
function letters(n: number): string {
  const rest = Math.floor((n - 1) / 26)
  return (rest > 0 ? letters(rest) : '') + String.fromCharCode(65 + ((n - 1) % 26))
}

type M3 = readonly [Vec3, Vec3, Vec3]
const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
]
const dot = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]

/** From the block, 0..1 along a row and 0..1 from the first row to the last, to directions. Null where the corners span none. */
function planeOf(corners: SeatGrid['corners']): ((x: number, y: number) => Vec3) | null {
  const [d1, d2, d3, d4] = corners.map(({ panDeg, tiltDeg }) => toRoom([0, 0, 1], panDeg, tiltDeg)) as [
    Vec3,
    Vec3,
    Vec3,
    Vec3,
  ]
  // A block is a parallelogram in its plane: l3 d3 = l2 d2 + l4 d4 - l1 d1, with l3 = 1. By Cramer's rule.
  const det = dot(d1, cross(d2, d4))
  if (Math.abs(det) < 1e-9) return null
  const l1 = -dot(d3, cross(d2, d4)) / det
  const l2 = dot(d1, cross(d3, d4)) / det
  const l4 = dot(d1, cross(d2, d3)) / det
  if (l1 <= 0 || l2 <= 0 || l4 <= 0) return null
  const along = (k: 0 | 1 | 2) => l2 * d2[k] - l1 * d1[k]
  const back = (k: 0 | 1 | 2) => l4 * d4[k] - l1 * d1[k]
  const m: M3 = [
    [along(0), back(0), l1 * d1[0]],
    [along(1), back(1), l1 * d1[1]],
    [along(2), back(2), l1 * d1[2]],
  ]
  return (x, y) => [dot(m[0], [x, y, 1]), dot(m[1], [x, y, 1]), dot(m[2], [x, y, 1])]
}

/** How wide a picture is at least, and at most, degrees. */
const NARROWEST = 0.5
const WIDEST = 60

/** @returns the seats row by row, or why there are none */
export function seatsOf(grid: SeatGrid): Seat[] | { problem: string } {
  const plane = planeOf(grid.corners)
  if (!plane)
    return {
      problem:
        'These four corners are not those of a block. Touch them once round: the first row from its first seat to its last, then the last row back.',
    }
  const { seats, aislesAfter, aisleSeats, bow, numbering } = grid
  const longest = Math.max(...seats)
  const rows = seats.length
  const aisles = [...new Set(aislesAfter)].filter((after) => after < longest)
  const length = longest - 1 + aisles.length * aisleSeats
  /** Where a place of the longest row lies along it, 0..1; also between two. */
  const along = (place: number) => {
    const before = aisles.filter((after) => place > after - 0.5).length
    return length > 0 ? (place + before * aisleSeats) / length : 0.5
  }
  const all: Seat[] = []
  for (const [r, count] of seats.entries()) {
    const y = rows > 1 ? r / (rows - 1) : 0
    const at = (i: number) => {
      const x = along((longest - count) / 2 + i)
      const curve = rows > 1 ? (bow * (1 - (2 * x - 1) ** 2)) / (rows - 1) : 0
      return panTiltOf(plane(x, y + curve))
    }
    for (let i = 0; i < count; i++) {
      const here = at(i)
      const next = count > 1 ? at(i + 1 < count ? i + 1 : i - 1) : null
      const width = next ? angleBetweenDeg(here, next) : 6
      const row = grid.firstRow + r
      const seat = grid.firstSeat + (grid.backwards ? count - 1 - i : i)
      all.push({
        ...here,
        ...{ row, seat, label: numbering === 'C14' ? `${letters(row)}${seat}` : `${row}.${seat}` },
        hfovDeg: Math.min(WIDEST, Math.max(NARROWEST, width * (1 + 2 * grid.overlap))),
      })
    }
  }
  return all
}
