/** A seat grid over the barn's numbered benches, against where their people truly sit. */

import { seeded } from '../../core/seeded'
import { type Seat, type SeatGrid, seatsOf } from '../../core/survey/seatGrid'
import { BENCH_ROWS, benchPeople, benchSeat, SEATS_PER_ROW } from './cast'

/** The camera for the benches: where it hangs, looking back from the stage. */
const EYE = [0, 4.1, 13.4] as const
/** Of a head that sits, above the bench, m. */
const HEAD = 1.1

/** As its operator sees it: pan 0 points away from the stage. */
function seen([x, y, z]: readonly [number, number, number]) {
  const [dx, dy, dz] = [x - EYE[0], y + HEAD - EYE[1], z - EYE[2]]
  const deg = 180 / Math.PI
  return { panDeg: Math.atan2(-dx, -dz) * deg, tiltDeg: Math.atan2(dy, Math.hypot(dx, dz)) * deg }
}

/** A hall of the barn's own benches, carried on to so many rows and seats, with somebody on each. */
function hall(rows: number, seats: number): (readonly [number, number, number])[] {
  const random = seeded(8012)
  return Array.from({ length: rows * seats }, (_, i) => {
    const [x, y, z] = benchSeat(Math.floor(i / seats), i % seats)
    return [x + (random() - 0.5) * 0.2, y, z] as const
  })
}

test.each([
  ['the barn as it is', BENCH_ROWS, SEATS_PER_ROW, benchPeople().map(({ at }) => at)],
  ['eight rows of twelve', 8, 12, hall(8, 12)],
] as const)(
  '%s: every person is within a tenth of the frame’s width from its middle',
  (_, rows, seatsOfRow, people) => {
    const grid: SeatGrid = {
      corners: [
        seen(benchSeat(0, 0)),
        seen(benchSeat(0, seatsOfRow - 1)),
        seen(benchSeat(rows - 1, seatsOfRow - 1)),
        seen(benchSeat(rows - 1, 0)),
      ],
      seats: Array.from({ length: rows }, () => seatsOfRow),
      ...{ aislesAfter: [], aisleSeats: 0, bow: 0, firstRow: 1, firstSeat: 1, backwards: false },
      ...{ numbering: '12.7', overlap: 0.5 },
    }
    const seats = seatsOf(grid) as Seat[]
    expect(seats).toHaveLength(rows * seatsOfRow)
    expect(people.length).toBeGreaterThan(30)
    for (const person of people) {
      const at = seen(person)
      const off = seats.map((seat) => {
        const right = (at.panDeg - seat.panDeg) * Math.cos((seat.tiltDeg * Math.PI) / 180)
        return Math.hypot(right, at.tiltDeg - seat.tiltDeg) / seat.hfovDeg
      })
      expect(Math.min(...off)).toBeLessThan(0.1)
    }
  },
)
