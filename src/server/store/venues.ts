/** Venues: making, naming, opening and deleting them. */
import { and, asc, eq, ne } from 'drizzle-orm'
import type { OscSettings } from '../../core/remote/settings'
import { type Database, OPEN_VENUE, oneAtATime } from './database'
import { event, venue } from './schema'

/** Makes a venue with a first event and opens both. */
export async function addVenue(db: Database, name: string): Promise<string> {
  return db.transaction(async (tx) => {
    await oneAtATime(tx, OPEN_VENUE)
    await tx.update(venue).set({ open: false }).where(eq(venue.open, true))
    const [v] = await tx.insert(venue).values({ name, open: true }).returning()
    await tx.insert(event).values({ venueId: v!.id, name: 'First event', open: true })
    return v!.id
  })
}

export async function renameVenue(db: Database, id: string, name: string): Promise<boolean> {
  const rows = await db.transaction((tx) =>
    tx.update(venue).set({ name }).where(eq(venue.id, id)).returning({ id: venue.id }),
  )
  return rows.length > 0
}

/** Opens a venue and closes the former one, in one step. */
export async function openVenue(db: Database, id: string): Promise<boolean> {
  return db.transaction(async (tx) => {
    await oneAtATime(tx, OPEN_VENUE)
    const [target] = await tx.select().from(venue).where(eq(venue.id, id)).for('update')
    if (!target) return false
    await tx
      .update(venue)
      .set({ open: false })
      .where(and(eq(venue.open, true), ne(venue.id, id)))
    await tx.update(venue).set({ open: true }).where(eq(venue.id, id))
    const events = await tx.select().from(event).where(eq(event.venueId, id)).orderBy(asc(event.createdAt))
    if (events.length === 0) await tx.insert(event).values({ venueId: id, name: 'First event', open: true })
    else if (!events.some((e) => e.open)) {
      await tx.update(event).set({ open: true }).where(eq(event.id, events[0]!.id))
    }
    return true
  })
}

/** @returns 'open' where it is the open one, which cannot be deleted */
export async function deleteVenue(db: Database, id: string): Promise<'deleted' | 'open' | 'gone'> {
  return db.transaction(async (tx) => {
    const [target] = await tx.select().from(venue).where(eq(venue.id, id)).for('update')
    if (!target) return 'gone'
    if (target.open) return 'open'
    await tx.delete(venue).where(eq(venue.id, id))
    return 'deleted'
  })
}

export async function keepOsc(db: Database, id: string, osc: OscSettings): Promise<void> {
  await db.update(venue).set({ osc }).where(eq(venue.id, id))
}

export async function keepTimeZone(db: Database, id: string, timeZone: string): Promise<boolean> {
  const rows = await db.update(venue).set({ timeZone }).where(eq(venue.id, id)).returning({ id: venue.id })
  return rows.length > 0
}
