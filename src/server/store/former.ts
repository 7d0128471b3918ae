/** What cameras were set to before a recall of a look or a match. */
import { and, desc, eq, notInArray } from 'drizzle-orm'
import type { Former, FormerStore } from '../picture/former'
import type { Database } from './database'
import { formerSettings } from './schema'

const MOST = 30

const read = ({ id, what, cameras, at, state }: typeof formerSettings.$inferSelect): Former => ({
  ...{ id, what, cameras, state },
  atMs: at.getTime(),
})

/** @param venue the open one; null: nothing is kept */
export function formerStore(db: Database, venue: () => string | null): FormerStore {
  const newest = async (venueId: string) =>
    db
      .select()
      .from(formerSettings)
      .where(eq(formerSettings.venueId, venueId))
      .orderBy(desc(formerSettings.at))
      .limit(MOST)
  return {
    async add({ id, what, cameras, atMs, state }) {
      const venueId = venue()
      if (!venueId) return
      await db.insert(formerSettings).values({ id, venueId, what, cameras, state, at: new Date(atMs) })
      const kept = (await newest(venueId)).map((row) => row.id)
      await db
        .delete(formerSettings)
        .where(and(eq(formerSettings.venueId, venueId), notInArray(formerSettings.id, kept)))
    },
    async setState(id, state) {
      await db.update(formerSettings).set({ state }).where(eq(formerSettings.id, id))
    },
    async remove(id) {
      await db.delete(formerSettings).where(eq(formerSettings.id, id))
    },
    async all() {
      const venueId = venue()
      return venueId ? (await newest(venueId)).map(read) : []
    },
    async cutShort() {
      const rows = await db
        .update(formerSettings)
        .set({ state: 'cut' })
        .where(eq(formerSettings.state, 'running'))
        .returning()
      return rows.map(read).sort((a, b) => b.atMs - a.atMs)
    },
  }
}
