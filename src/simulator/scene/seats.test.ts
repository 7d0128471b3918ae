/** A seat grid over the barn's numbered benches, against where their people truly sit. */
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

test('every person of the benches is within a tenth of the frame’s width from its middle', () => {
  const [first, last] = [0, BENCH_ROWS - 1]
  const end = SEATS_PER_ROW - 1
  const grid: SeatGrid = {
    corners: [
      seen(benchSeat(first, 0)),
      seen(benchSeat(first, end)),
      seen(benchSeat(last, end)),
      seen(benchSeat(last, 0)),
    ],
    seats: Array.from({ length: BENCH_ROWS }, () => SEATS_PER_ROW),
    ...{ aislesAfter: [], aisleSeats: 0, bow: 0, firstRow: 1, firstSeat: 1, backwards: false },
    ...{ numbering: '12.7', overlap: 0.5 },
  }
  const seats = seatsOf(grid) as Seat[]
  const people = benchPeople()
  expect(people.length).toBeGreaterThan(30)
  for (const person of people) {
    const at = seen(person.at)
    const off = seats.map((seat) => {
      const right = (at.panDeg - seat.panDeg) * Math.cos((seat.tiltDeg * Math.PI) / 180)
      return Math.hypot(right, at.tiltDeg - seat.tiltDeg) / seat.hfovDeg
    })
    expect(Math.min(...off)).toBeLessThan(0.1)
  }
})
