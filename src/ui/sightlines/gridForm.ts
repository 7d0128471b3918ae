/** What is typed of a seat grid, and the grid that it means. */
import * as v from 'valibot'
import type { PanTilt } from '../../core/optics/aim'
import { type NUMBERINGS, SeatGrid } from '../../core/survey/seatGrid'

export interface GridForm {
  rows: string
  /** For all rows, or for each, with commas. */
  seats: string
  firstRow: string
  firstSeat: string
  aislesAfter: string
  bow: number
  backwards: boolean
  numbering: (typeof NUMBERINGS)[number]
  overlap: number
  section: string
}

export const USUAL_FORM: GridForm = {
  ...{ rows: '8', seats: '12', firstRow: '1', firstSeat: '1', aislesAfter: '', bow: 0 },
  ...{ backwards: false, numbering: '12.7', overlap: 0.5, section: 'Seats' },
}

const AISLE_SEATS = 1.5
const numbers = (text: string): number[] =>
  text
    .split(/[\s,;]+/)
    .filter((one) => one !== '')
    .map(Number)

/** @returns the grid; what is to be mended, in a sentence; null while corners are missing */
export function gridOf(form: GridForm, corners: readonly PanTilt[]): SeatGrid | { problem: string } | null {
  if (corners.length < 4) return null
  const rows = Number(form.rows)
  const each = numbers(form.seats)
  if (each.length > 1 && each.length !== rows)
    return {
      problem: `Seats are given for ${each.length} rows. Give one number for all, or one for each row.`,
    }
  const parsed = v.safeParse(SeatGrid, {
    corners: corners.slice(0, 4),
    seats: each.length === 1 && rows >= 1 && rows <= 60 ? Array.from({ length: rows }, () => each[0]) : each,
    aislesAfter: numbers(form.aislesAfter),
    aisleSeats: AISLE_SEATS,
    ...{ bow: form.bow, backwards: form.backwards, numbering: form.numbering, overlap: form.overlap },
    ...{ firstRow: Number(form.firstRow), firstSeat: Number(form.firstSeat) },
  })
  if (parsed.success && parsed.output.seats.length === rows) return parsed.output
  const own = parsed.issues?.find(({ type }) => type === 'check')?.message
  return { problem: own ?? 'Give whole numbers: 1 to 60 rows, 1 to 100 seats in a row.' }
}

/** What would have been typed for a grid. */
export const formOf = (grid: SeatGrid, section: string): GridForm => ({
  rows: String(grid.seats.length),
  seats: new Set(grid.seats).size === 1 ? String(grid.seats[0]) : grid.seats.join(', '),
  firstRow: String(grid.firstRow),
  firstSeat: String(grid.firstSeat),
  aislesAfter: grid.aislesAfter.join(', '),
  ...{ bow: grid.bow, backwards: grid.backwards, numbering: grid.numbering, overlap: grid.overlap, section },
})
