/** Cues, tours, recorded moves, clock starts and buttons of an event; and where its running order stands. */
import { isDeepStrictEqual } from 'node:util'
import { and, asc, desc, eq, inArray, lte, max, sql } from 'drizzle-orm'
import * as v from 'valibot'
import type { KeptShow } from '../../core/cues/now'
import { NO_SHOW, type PartData, type PartKind, SHOW_PARTS, type Show } from '../../core/cues/show'
import type { FileShow } from '../../core/formats/venueFile'
import type { Database } from './database'
import { event, showPart, showPartBefore } from './schema'

type Reads = Pick<Database, 'select'>
type Writes = Pick<Database, 'select' | 'insert' | 'update' | 'delete'>

/** What an older version kept lacks fields that have defaults; one that makes no sense is left out. */
export async function readShow(db: Reads, eventId: string): Promise<Show> {
  const rows = await db
    .select()
    .from(showPart)
    .where(eq(showPart.eventId, eventId))
    .orderBy(asc(showPart.order), asc(showPart.createdAt))
  const show: Record<string, unknown[]> = Object.fromEntries(Object.keys(NO_SHOW).map((path) => [path, []]))
  for (const { id, kind, order, version, data } of rows) {
    const parsed = v.safeParse(SHOW_PARTS[kind].schema, data)
    if (parsed.success) show[SHOW_PARTS[kind].path]!.push({ id, order, version, ...parsed.output })
  }
  return show as unknown as Show
}

export type Put = { is: 'kept'; version: number } | { is: 'changed-meanwhile' } | { is: 'elsewhere' }

/**
 * Keeps a part as it is given; one that was deleted comes back under its id.
 * @param version the one that it replaces; null: whatever is there
 */
export async function putPart<K extends PartKind>(
  db: Database,
  eventId: string,
  kind: K,
  id: string,
  data: PartData<K>,
  { version, order }: { version: number | null; order?: number | undefined },
): Promise<Put> {
  return db.transaction(async (tx): Promise<Put> => {
    const [now] = await tx.select().from(showPart).where(eq(showPart.id, id)).for('update')
    if (now && (now.eventId !== eventId || now.kind !== kind)) return { is: 'elsewhere' }
    if (now && version !== null && now.version !== version) return { is: 'changed-meanwhile' }
    if (now) {
      const next = now.version + 1
      if (!isDeepStrictEqual(now.data, data)) await keepBefore(tx, now)
      await tx
        .update(showPart)
        .set({ data, version: next, order: order ?? now.order })
        .where(eq(showPart.id, id))
      return { is: 'kept', version: next }
    }
    const place = order ?? (await endOf(tx, eventId, kind))
    await tx.insert(showPart).values({ id, eventId, kind, order: place, data })
    return { is: 'kept', version: 1 }
  })
}

async function endOf(db: Reads, eventId: string, kind: PartKind): Promise<number> {
  const [row] = await db
    .select({ last: max(showPart.order) })
    .from(showPart)
    .where(and(eq(showPart.eventId, eventId), eq(showPart.kind, kind)))
  return (row?.last ?? 0) + 1
}

const MOST_BEFORE = 20

/** The oldest are dropped. */
async function keepBefore(db: Writes, { id, eventId, version, data }: typeof showPart.$inferSelect) {
  await db
    .insert(showPartBefore)
    .values({ partId: id, eventId, version, data })
    .onConflictDoUpdate({
      target: [showPartBefore.partId, showPartBefore.version],
      set: { data, replacedAt: sql`now()` },
    })
  await db
    .delete(showPartBefore)
    .where(and(eq(showPartBefore.partId, id), lte(showPartBefore.version, version - MOST_BEFORE)))
}

export interface PartBefore {
  version: number
  replacedAt: Date
  data: unknown
}

/** What a part was before, the newest first. */
export async function partsBefore(db: Database, eventId: string, id: string): Promise<PartBefore[]> {
  return db
    .select()
    .from(showPartBefore)
    .where(and(eq(showPartBefore.partId, id), eq(showPartBefore.eventId, eventId)))
    .orderBy(desc(showPartBefore.version))
}

/** @returns false if there is no such part */
export async function deletePart(
  db: Database,
  eventId: string,
  kind: PartKind,
  id: string,
): Promise<boolean> {
  const rows = await db
    .delete(showPart)
    .where(and(eq(showPart.id, id), eq(showPart.eventId, eventId), eq(showPart.kind, kind)))
    .returning({ id: showPart.id })
  return rows.length > 0
}

/** Puts those that are named in this order; the others keep their places. */
export async function orderParts(
  db: Database,
  eventId: string,
  kind: PartKind,
  ids: readonly string[],
): Promise<void> {
  await db.transaction(async (tx) => {
    const rows = await tx
      .select({ id: showPart.id, order: showPart.order })
      .from(showPart)
      .where(and(eq(showPart.eventId, eventId), eq(showPart.kind, kind), inArray(showPart.id, [...ids])))
    const places = rows.map(({ order }) => order).sort((a, b) => a - b)
    const known = ids.filter((id) => rows.some((row) => row.id === id))
    for (const [i, id] of known.entries())
      await tx
        .update(showPart)
        .set({ order: places[i]! + i * 1e-6 })
        .where(eq(showPart.id, id))
  })
}

/** All of a file. @param instead what is there is replaced; else only parts of the same id */
export async function putShow(db: Writes, eventId: string, show: FileShow, instead: boolean): Promise<void> {
  if (instead) await db.delete(showPart).where(eq(showPart.eventId, eventId))
  for (const [kind, { path }] of Object.entries(SHOW_PARTS) as [PartKind, { path: keyof FileShow }][])
    for (const { id, order, ...data } of show[path]) {
      await db
        .insert(showPart)
        .values({ id, eventId, kind, order, data: data as unknown as PartData<PartKind> })
        .onConflictDoUpdate({
          target: showPart.id,
          // A page that has the former one open must not write over it unseen.
          set: { data: data as unknown as PartData<PartKind>, order, version: sql`${showPart.version} + 1` },
        })
    }
}

export async function keepShow(db: Database, eventId: string, showKept: KeptShow): Promise<void> {
  await db.update(event).set({ showKept }).where(eq(event.id, eventId))
}
