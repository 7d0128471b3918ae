/** Blocks of seats in a room that is written out here in metres, seen by a camera that hangs somewhere in it. */
import fc from 'fast-check'
import { type Seat, type SeatGrid, seatsOf } from './seatGrid'

type P = readonly [number, number, number]
const seen = (camera: P, p: P) => {
  const [x, y, z] = [p[0] - camera[0], p[1] - camera[1], p[2] - camera[2]]
  return {
    panDeg: (Math.atan2(x, z) * 180) / Math.PI,
    tiltDeg: (Math.asin(y / Math.hypot(x, y, z)) * 180) / Math.PI,
  }
}

const PLAIN: Omit<SeatGrid, 'corners' | 'seats'> = {
  ...{ aislesAfter: [], aisleSeats: 0, bow: 0, firstRow: 1, firstSeat: 1, backwards: false },
  ...{ numbering: '12.7', overlap: 0.5 },
}

const room = fc.record({
  camera: fc.tuple(
    fc.double({ min: -4, max: 4, noNaN: true }),
    fc.double({ min: 2.5, max: 5, noNaN: true }),
    fc.double({ min: -3, max: 0, noNaN: true }),
  ),
  rows: fc.integer({ min: 2, max: 12 }),
  perRow: fc.integer({ min: 2, max: 20 }),
  /** How far each row is above the one before it, m. */
  rise: fc.double({ min: 0, max: 0.4, noNaN: true }),
  turn: fc.double({ min: -0.7, max: 0.7, noNaN: true }),
})

test('seats between the corners are where they are in the room: flat floor or tiers, from any place', () => {
  fc.assert(
    fc.property(room, ({ camera, rows, perRow, rise, turn }) => {
      const at = (row: number, i: number): P => {
        const [x, z] = [(i - (perRow - 1) / 2) * 0.6, 6 + row * 0.9]
        return [
          x * Math.cos(turn) - (z - 6) * Math.sin(turn),
          1.1 + row * rise,
          x * Math.sin(turn) + (z - 6) * Math.cos(turn) + 6,
        ]
      }
      const grid: SeatGrid = {
        ...PLAIN,
        corners: [
          seen(camera, at(0, 0)),
          seen(camera, at(0, perRow - 1)),
          seen(camera, at(rows - 1, perRow - 1)),
          seen(camera, at(rows - 1, 0)),
        ],
        seats: Array.from({ length: rows }, () => perRow),
      }
      const seats = seatsOf(grid) as Seat[]
      expect(seats).toHaveLength(rows * perRow)
      for (const [k, seat] of seats.entries()) {
        const truth = seen(camera, at(Math.floor(k / perRow), k % perRow))
        expect(seat.panDeg).toBeCloseTo(truth.panDeg, 6)
        expect(seat.tiltDeg).toBeCloseTo(truth.tiltDeg, 6)
      }
    }),
    { numRuns: 300 },
  )
})

const FLAT = [
  seen([0, 3, 0], [-3, 1, 6]),
  seen([0, 3, 0], [3, 1, 6]),
  seen([0, 3, 0], [3, 1, 10]),
  seen([0, 3, 0], [-3, 1, 10]),
] as SeatGrid['corners']
const label = (grid: Partial<SeatGrid>) =>
  (seatsOf({ ...PLAIN, corners: FLAT, seats: [3, 3], ...grid }) as Seat[]).map((seat) => seat.label)

test('rows and seats are called as the venue calls them', () => {
  expect(label({})).toEqual(['1.1', '1.2', '1.3', '2.1', '2.2', '2.3'])
  expect(label({ numbering: 'C14', firstRow: 26, firstSeat: 11, backwards: true })).toEqual([
    'Z13',
    'Z12',
    'Z11',
    'AA13',
    'AA12',
    'AA11',
  ])
})

test('an aisle leaves its room, a shorter row stands in the middle, a bowed row bends', () => {
  const row = (grid: Partial<SeatGrid>, of: number) =>
    (seatsOf({ ...PLAIN, corners: FLAT, seats: [4, 4, 4], ...grid }) as Seat[]).filter((s) => s.row === of)
  const aisled = row({ aislesAfter: [2], aisleSeats: 2 }, 1)
  const gap = (i: number, seats: Seat[]) => seats[i + 1]!.panDeg - seats[i]!.panDeg
  expect(gap(1, aisled)).toBeGreaterThan(2.5 * gap(0, aisled))
  expect(aisled[0]!.panDeg).toBeCloseTo(FLAT[0].panDeg, 6)
  const short = row({ seats: [4, 2, 4] }, 2)
  expect(short[0]!.panDeg).toBeCloseTo(-short[1]!.panDeg, 6)
  const bowed = row({ bow: 0.5 }, 1)
  const straight = row({}, 1)
  expect(bowed[1]!.tiltDeg).toBeGreaterThan(straight[1]!.tiltDeg + 0.5)
  expect(bowed[0]!.tiltDeg).toBeCloseTo(straight[0]!.tiltDeg, 6)
})

test('corners that cross over span no block, and that is said', () => {
  const [a, b, c, d] = FLAT
  expect(seatsOf({ ...PLAIN, corners: [a, c, b, d], seats: [3, 3] })).toHaveProperty('problem')
  expect(seatsOf({ ...PLAIN, corners: [a, a, c, d], seats: [3, 3] })).toHaveProperty('problem')
})
