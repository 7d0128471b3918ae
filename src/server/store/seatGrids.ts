/** Seat grids of an event, with the presets that they made. */
import { and, eq, inArray, isNull } from 'drizzle-orm'
import type { GridSeat, SeatGrid } from '../../core/survey/seatGrid'
import type { Database } from './database'
import { preset, seatGrid } from './schema'

export interface GridRow {
  id: string
  cameraId: string
  section: string
  grid: SeatGrid
  /** Of presets that are still there. */
  seats: GridSeat[]
}

/** Those of which some presets are left. */
export async function readGrids(db: Pick<Database, 'select'>, eventId: string): Promise<GridRow[]> {
  const rows = await db.select().from(seatGrid).where(eq(seatGrid.eventId, eventId))
  const ids = rows.flatMap(({ seats }) => seats.map(({ presetId }) => presetId))
  if (ids.length === 0) return []
  const there = await db
    .select({ id: preset.id })
    .from(preset)
    .where(and(inArray(preset.id, ids), isNull(preset.deletedAt)))
  const known = new Set(there.map(({ id }) => id))
  return rows
    .map(({ eventId: _, ...row }) => ({
      ...row,
      seats: row.seats.filter(({ presetId }) => known.has(presetId)),
    }))
    .filter(({ seats }) => seats.length > 0)
}

export async function addGrid(
  db: Pick<Database, 'insert'>,
  eventId: string,
  row: Omit<GridRow, 'id'> & { id?: string },
): Promise<void> {
  await db
    .insert(seatGrid)
    .values({ eventId, ...row })
    .onConflictDoUpdate({ target: seatGrid.id, set: row })
}

export async function setGrid(db: Pick<Database, 'update'>, id: string, grid: SeatGrid): Promise<void> {
  await db.update(seatGrid).set({ grid }).where(eq(seatGrid.id, id))
}
