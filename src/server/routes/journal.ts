/** The log of who did what: read, followed, exported. */
import { Hono } from 'hono'
import Papa from 'papaparse'
import * as v from 'valibot'
import { ENTRY_HEADINGS, ENTRY_KIND_NAMES, Entry, entryCells } from '../../core/people/journal'
import { Days, dropEntries, keepDays, readDays, readEntries } from '../store/journal'
import { Done, documented } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const DAY_MS = 86_400_000
const Whole = v.pipe(v.string(), v.regex(/^\d{1,15}$/), v.transform(Number))
const Wanted = {
  kind: v.optional(v.picklist(ENTRY_KIND_NAMES)),
  text: v.optional(v.pipe(v.string(), v.maxLength(80)), ''),
  refused: v.optional(v.picklist(['0', '1']), '0'),
}
const MOST = 200
const MOST_IN_A_FILE = 50_000
const View = v.object({ days: v.number(), entries: v.array(Entry) })

export function journalRoutes({ db, journal }: Deps) {
  return new Hono()
    .get(
      '/',
      documented('Who did what, the newest first', View),
      given('query', v.object({ ...Wanted, after: v.optional(Whole), before: v.optional(Whole) })),
      async (c) => {
        const { kind = null, text, refused, after = null, before = null } = c.req.valid('query')
        await journal().settled()
        const asked = { kind, text, refused: refused === '1', after, before, limit: MOST }
        const [entries, days] = await Promise.all([readEntries(db, asked), readDays(db)])
        return c.json({ days, entries }, 200)
      },
    )
    .get(
      '/csv',
      documented('Who did what, as CSV', v.string()),
      given('query', v.object(Wanted)),
      async (c) => {
        const { kind = null, text, refused } = c.req.valid('query')
        await journal().settled()
        const asked = { kind, text, refused: refused === '1', after: null, before: null }
        const entries = await readEntries(db, { ...asked, limit: MOST_IN_A_FILE })
        const rows = [[...ENTRY_HEADINGS], ...entries.map(entryCells)]
        c.header('content-disposition', 'attachment; filename="log.csv"')
        // What starts a formula in a spreadsheet is kept from being one.
        const csv = Papa.unparse(rows, { escapeFormulae: true })
        return c.text(`\ufeff${csv}\r\n`, 200, { 'content-type': 'text/csv; charset=utf-8' })
      },
    )
    .put(
      '/days',
      documented('For how many days the log is kept', Done),
      given('json', v.object({ days: Days })),
      async (c) => {
        const { days } = c.req.valid('json')
        await keepDays(db, days)
        await dropEntries(db, new Date(Date.now() - days * DAY_MS))
        return c.json({ ok: true as const }, 200)
      },
    )
}
