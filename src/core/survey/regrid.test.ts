import fc from 'fast-check'
import { regrid } from './regrid'
import { type GridSeat, type Seat, type SeatGrid, seatsOf } from './seatGrid'

const block = (rows: number, seats: number, change: Partial<SeatGrid> = {}): SeatGrid => ({
  corners: [
    { panDeg: -20, tiltDeg: -20 },
    { panDeg: 20, tiltDeg: -20 },
    { panDeg: 15, tiltDeg: -8 },
    { panDeg: -15, tiltDeg: -8 },
  ],
  seats: Array.from({ length: rows }, () => seats),
  ...{ aislesAfter: [], aisleSeats: 1, bow: 0, firstRow: 1, firstSeat: 1, backwards: false },
  ...{ numbering: '12.7', overlap: 0.5, ...change },
})
const seated = (grid: SeatGrid) => seatsOf(grid) as Seat[]

/** A block with its presets, changed as the server would. */
class Block {
  seats: GridSeat[] = []
  readonly there = new Set<string>()
  readonly names = new Map<string, string>()
  private made = 0

  constructor(public grid: SeatGrid) {
    for (const { label } of seated(grid)) this.make(label)
  }

  private make(label: string): void {
    const presetId = `p${++this.made}`
    this.seats.push({ label, presetId })
    this.there.add(presetId)
    this.names.set(presetId, label)
  }

  change(grid: SeatGrid) {
    const found = regrid(this.grid, this.seats, this.there, grid, seated(grid))
    for (const { presetId, seat } of [...found.stay, ...found.back]) {
      this.there.add(presetId)
      this.names.set(presetId, seat.label)
    }
    for (const id of found.gone) this.there.delete(id)
    this.seats = found.seats
    for (const { label } of found.fresh) this.make(label)
    this.grid = grid
    return found
  }

  get shown(): string[] {
    return [...this.there].map((id) => `${id} ${this.names.get(id)}`).sort()
  }
}

test('a row more makes its seats, a row less takes them away, and back again they are the same presets', () => {
  const one = new Block(block(3, 4))
  const first = one.shown
  expect(one.change(block(4, 4))).toMatchObject({ gone: [], fresh: { length: 4 }, stay: { length: 12 } })
  const four = one.shown
  expect(one.change(block(3, 4))).toMatchObject({ gone: { length: 4 }, fresh: [], stay: { length: 12 } })
  expect(one.shown).toEqual(first)
  expect(one.change(block(4, 4))).toMatchObject({ gone: [], fresh: [], back: { length: 4 } })
  expect(one.shown).toEqual(four)
})

test('called otherwise, each keeps its seat; a preset that somebody removed stays removed', () => {
  const one = new Block(block(2, 3))
  one.there.delete('p5')
  const { stay } = one.change(block(2, 3, { numbering: 'C14', firstRow: 3 }))
  expect(stay.map(({ presetId, seat, was }) => `${presetId} ${was} ${seat.label}`)).toEqual([
    ...['p1 1.1 C1', 'p2 1.2 C2', 'p3 1.3 C3', 'p4 2.1 D1', 'p6 2.3 D3'],
  ])
  one.change(block(1, 3))
  one.change(block(2, 3))
  expect(one.there.has('p5')).toBe(false)
  expect(one.there.size).toBe(5)
})

test('whatever is changed, and changed back, no seat has two presets, none is lost, and the first are there again', () => {
  const any = fc.record({
    rows: fc.integer({ min: 1, max: 6 }),
    seats: fc.integer({ min: 1, max: 6 }),
    backwards: fc.boolean(),
    firstRow: fc.integer({ min: 1, max: 4 }),
    firstSeat: fc.integer({ min: 1, max: 4 }),
    numbering: fc.constantFrom('12.7' as const, 'C14' as const),
  })
  fc.assert(
    fc.property(any, fc.array(any, { minLength: 1, maxLength: 4 }), (start, changes) => {
      const of = ({ rows, seats, ...rest }: typeof start) => block(rows, seats, rest)
      const one = new Block(of(start))
      for (const change of changes) {
        one.change(of(change))
        const named = [...one.there].map((id) => one.names.get(id)!)
        expect(new Set(named).size).toBe(named.length)
        expect(new Set(named)).toEqual(new Set(seated(one.grid).map(({ label }) => label)))
      }
      const last = one.shown
      const again = one.change(one.grid)
      expect([again.fresh, again.gone, again.back]).toEqual([[], [], []])
      expect(one.shown).toEqual(last)
    }),
  )
})
