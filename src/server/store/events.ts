/** The events of a venue. One is open at a time. */
import { and, eq, sql } from 'drizzle-orm'
import type { Guard } from '../../core/orders/guardSettings'
import { type Database, oneAtATime, openEventOf } from './database'
import { event } from './schema'

export async function addEvent(db: Database, venueId: string, name: string): Promise<string> {
  return db.transaction(async (tx) => {
    await oneAtATime(tx, openEventOf(venueId))
    await tx.update(event).set({ open: false }).where(eq(event.venueId, venueId))
    const [row] = await tx.insert(event).values({ venueId, name, open: true }).returning({ id: event.id })
    return row!.id
  })
}

/** @returns false if it does not exist */
export async function changeEvent(
  db: Database,
  id: string,
  change: { name?: string; words?: string[]; guard?: Guard },
): Promise<boolean> {
  const rows = await db.transaction((tx) =>
    tx.update(event).set(change).where(eq(event.id, id)).returning({ id: event.id }),
  )
  return rows.length > 0
}

/** Opens an event of a venue; the one that was open is closed. @returns false if it does not exist */
export function openEvent(db: Database, venueId: string, id: string): Promise<boolean> {
  return db.transaction(async (tx) => {
    await oneAtATime(tx, openEventOf(venueId))
    const [found] = await tx
      .select({ id: event.id })
      .from(event)
      .where(and(eq(event.id, id), eq(event.venueId, venueId)))
      .for('update')
    if (!found) return false
    await tx.update(event).set({ open: false }).where(eq(event.venueId, venueId))
    await tx.update(event).set({ open: true }).where(eq(event.id, id))
    return true
  })
}

/** Deletes an event for good, with its presets; not the open one. @returns false if it does not exist, or is open */
export async function deleteEvent(db: Database, id: string): Promise<boolean> {
  const rows = await db.transaction((tx) =>
    tx
      .delete(event)
      .where(and(eq(event.id, id), sql`not ${event.open}`))
      .returning({ id: event.id }),
  )
  return rows.length > 0
}
