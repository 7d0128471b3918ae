/** What becomes of a block's presets when its corners, rows or seats are changed: each keeps to its place in the block. */
import { type GridSeat, type Seat, type SeatGrid, seatsOf } from './seatGrid'

export interface Regrid {
  /** Presets that are there and stay, each with its seat as it is now, and what it was called. */
  stay: { presetId: string; seat: Seat; was: string }[]
  /** Presets that an earlier change took away, whose seats are there again. */
  back: { presetId: string; seat: Seat }[]
  /** Seats that never had one. */
  fresh: Seat[]
  /** Presets whose seats are no longer there. */
  gone: string[]
  /** What is to be remembered, but for what is made afresh. */
  seats: GridSeat[]
}

/** By label: which row, and how far along it. */
function placesOf(grid: SeatGrid): Map<string, string> {
  const seats = seatsOf(grid)
  const places = new Map<string, string>()
  if ('problem' in seats) return places
  let row = Number.NaN
  let along = 0
  for (const seat of seats) {
    along = seat.row === row ? along + 1 : 0
    row = seat.row
    places.set(seat.label, `${row - grid.firstRow} ${along}`)
  }
  return places
}

/**
 * @param seats of the block before, with those that earlier changes took away
 * @param there ids of the presets that are there
 * @param after the seats of the new block
 */
export function regrid(
  before: SeatGrid,
  seats: readonly GridSeat[],
  there: ReadonlySet<string>,
  grid: SeatGrid,
  after: readonly Seat[],
): Regrid {
  const [old, now] = [placesOf(before), placesOf(grid)]
  const seatAt = new Map<string | undefined, Seat>(after.map((seat) => [now.get(seat.label), seat]))
  const out: Regrid = { stay: [], back: [], fresh: [], gone: [], seats: [] }
  const held = new Set<Seat>()
  // Those that are in the block come first: what was taken away once must not take a seat from them.
  for (const one of [
    ...seats.filter((s) => s.out === undefined),
    ...seats.filter((s) => s.out !== undefined),
  ]) {
    const { label, presetId } = one
    const isIn = one.out === undefined
    // Of a seat that was there, somebody has removed the preset by itself: no change of the block brings it back.
    const left = one.left || (isIn && !there.has(presetId)) ? { left: true } : {}
    const place = one.out ?? old.get(label)
    const seat = seatAt.get(place)
    if (!seat || held.has(seat)) {
      if (isIn && there.has(presetId)) out.gone.push(presetId)
      out.seats.push({ label, presetId, out: place ?? '', ...left })
      continue
    }
    held.add(seat)
    out.seats.push({ label: seat.label, presetId, ...left })
    if (left.left) continue
    if (isIn) out.stay.push({ presetId, seat, was: label })
    else out.back.push({ presetId, seat })
  }
  out.fresh = after.filter((seat) => !held.has(seat))
  return out
}
