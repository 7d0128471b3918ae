/** The running order on paper, and as a table for other programs. */
import Papa from 'papaparse'
import { listed } from './order'
import type { CueView, StepDoes } from './show'

export interface SheetRow {
  number: number
  expected: string
  name: string
  notes: string
  /** The steps in words. */
  steps: readonly string[]
}

/** @param words of a step */
export const sheetRows = (cues: readonly CueView[], words: (does: StepDoes) => string): SheetRow[] =>
  listed(cues).map(({ expected, name, notes, steps }, i) => ({
    ...{ number: i + 1, expected: expected ?? '', name, notes },
    steps: steps.map(({ start, does }) =>
      start.kind === 'at' ? `${start.seconds} s: ${words(does)}` : `then: ${words(does)}`,
    ),
  }))

/** A cell that a spreadsheet would take for a formula is not one. */
const plain = (text: string) => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text)

export const sheetCsv = (rows: readonly SheetRow[]): string =>
  `${Papa.unparse({
    fields: ['Number', 'Expected', 'Cue', 'Notes', 'Steps'],
    data: rows.map((row) => [
      row.number,
      row.expected,
      plain(row.name),
      plain(row.notes),
      plain(row.steps.join(' | ')),
    ]),
  })}\r\n`

const ESCAPES: Record<string, string> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
}
const safe = (text: string) => text.replace(/[&<>"']/g, (c) => ESCAPES[c]!)

/** A clean page, black on white, without scripts. */
export function sheetHtml(event: string, venue: string, rows: readonly SheetRow[]): string {
  const body = rows
    .map(
      ({ number, expected, name, notes, steps }) =>
        `<tr><td>${number}</td><td>${safe(expected)}</td><td><b>${safe(name)}</b><br>${safe(notes)}</td><td>${steps
          .map(safe)
          .join('<br>')}</td></tr>`,
    )
    .join('\n')
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${safe(event)}: running order</title>
<style>
body{font:12pt/1.35 "Atkinson Hyperlegible Next",sans-serif;color:#000;background:#fff;margin:14mm}
h1{font-size:18pt;margin:0}p{margin:0 0 6mm}table{border-collapse:collapse;width:100%}
th,td{border-bottom:1px solid #888;padding:2mm;text-align:left;vertical-align:top}
tr{break-inside:avoid}td:last-child{font-size:9.5pt}
</style></head>
<body><h1>${safe(event)}</h1><p>${safe(venue)}, running order</p>
<table><thead><tr><th>No.</th><th>Time</th><th>Cue</th><th>Steps</th></tr></thead><tbody>
${body}
</tbody></table></body></html>
`
}
