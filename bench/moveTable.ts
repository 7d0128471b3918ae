/** Timed moves as lines of a table. */
import type { Summary } from '../src/conformance/followMoves'

const COLUMNS: readonly [head: string, unit: string, width: number, of: (s: Summary) => string][] = [
  ['in time', '', 9, (s) => `${(100 * s.onTime).toFixed(0)} %`],
  ['lead', 'ms', 7, (s) => s.leadMedianMs.toFixed(0)],
  ['late', 'ms', 8, (s) => s.lateMedianMs.toFixed(0)],
  ['late95', 'ms', 8, (s) => s.lateP95Ms.toFixed(0)],
  ['apart', 'ms', 8, (s) => s.spreadP95Ms.toFixed(0)],
  ['end', '°', 8, (s) => s.endMostDeg.toFixed(3)],
  ['off', '°', 8, (s) => s.offMedianDeg.toFixed(2)],
  ['off95', '°', 8, (s) => s.offP95Deg.toFixed(2)],
  ['kept', '', 8, (s) => `${(100 * s.keptMiddle).toFixed(0)} %`],
  ['always', '', 8, (s) => `${(100 * s.keptWorst).toFixed(0)} %`],
  ['leap', '%/frame', 9, (s) => (100 * s.leapMedian).toFixed(2)],
  ['leap95', '%/frame', 9, (s) => (100 * s.leapP95).toFixed(2)],
]
const NAME = 42

const lineOf = (name: string, cell: (column: (typeof COLUMNS)[number]) => string) =>
  name.padEnd(NAME) + COLUMNS.map((column) => cell(column).padStart(column[2])).join('')

export const movesHead = (): string =>
  [lineOf('', ([head]) => head), lineOf('', ([, unit]) => unit)].join('\n')

export const movesLine = (name: string, summary: Summary): string =>
  lineOf(name, (column) => column[3](summary))
