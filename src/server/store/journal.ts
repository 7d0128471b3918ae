/** The log of who did what, as it is kept. */
import { and, desc, eq, gt, ilike, lt, or, type SQL, sql } from 'drizzle-orm'
import * as v from 'valibot'
import type { Entry, EntryKind } from '../../core/people/journal'
import type { Database } from './database'
import { journal, ownerSetting } from './schema'

export type NewEntry = typeof journal.$inferInsert

export async function addEntries(db: Database, entries: NewEntry[]): Promise<void> {
  await db.insert(journal).values(entries)
}

export interface Wanted {
  /** Newer than this entry. */
  after: number | null
  /** Older than this entry. */
  before: number | null
  kind: EntryKind | null
  /** Refused ones alone. */
  refused: boolean
  text: string
  limit: number
}

/** The newest first. */
export async function readEntries(db: Database, wanted: Wanted): Promise<Entry[]> {
  const like = `%${wanted.text.replace(/[\\%_]/g, '\\$&')}%`
  const rules: (SQL | undefined)[] = [
    wanted.after === null ? undefined : gt(journal.id, wanted.after),
    wanted.before === null ? undefined : lt(journal.id, wanted.before),
    wanted.kind === null ? undefined : eq(journal.kind, wanted.kind),
    wanted.refused ? sql`${journal.refused} is not null` : undefined,
    wanted.text === ''
      ? undefined
      : or(
          ilike(journal.person, like),
          ilike(journal.camera, like),
          ilike(journal.what, like),
          ilike(journal.eventName, like),
        ),
  ]
  const rows = await db
    .select()
    .from(journal)
    .where(and(...rules))
    .orderBy(desc(journal.id))
    .limit(wanted.limit)
  return rows.map(({ id, at, eventName, person, kind, camera, what, refused }) => ({
    ...{ id, at: at.toISOString(), event: eventName, person, kind, camera, what, refused },
  }))
}

export async function dropEntries(db: Database, before: Date): Promise<void> {
  await db.delete(journal).where(lt(journal.at, before))
}

const DAYS = 'journalDays'
export const USUAL_DAYS = 90
export const Days = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(3650))

export async function readDays(db: Database): Promise<number> {
  const [row] = await db.select().from(ownerSetting).where(eq(ownerSetting.key, DAYS))
  const parsed = v.safeParse(Days, row?.value)
  return parsed.success ? parsed.output : USUAL_DAYS
}

export async function keepDays(db: Database, value: number): Promise<void> {
  await db
    .insert(ownerSetting)
    .values({ key: DAYS, value })
    .onConflictDoUpdate({ target: ownerSetting.key, set: { value } })
}
