/** Seat grids of an event, with the presets that they made. */
import { and, eq, inArray, isNull, max } from 'drizzle-orm'
import type { PresetPose } from '../../core/presets/pose'
import { type Regrid, regrid } from '../../core/survey/regrid'
import type { GridSeat, Seat, SeatGrid } from '../../core/survey/seatGrid'
import { type Database, patiently } from './database'
import { addListed, deletePresets, numbersOf, restorePreset } from './presets'
import { preset, seatGrid } from './schema'
import { amendPresets } from './versions'

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
  const known = await presetsThere(
    db,
    rows.flatMap(({ seats }) => seats),
  )
  return rows
    .map(({ eventId: _, ...row }) => ({
      ...row,
      seats: row.seats.filter(({ presetId }) => known.has(presetId)),
    }))
    .filter(({ seats }) => seats.length > 0)
}

/** Those of a grid whose presets are still there. */
async function presetsThere(db: Pick<Database, 'select'>, seats: readonly GridSeat[]): Promise<Set<string>> {
  const ids = seats.map(({ presetId }) => presetId)
  if (ids.length === 0) return new Set()
  const rows = await db
    .select({ id: preset.id })
    .from(preset)
    .where(and(inArray(preset.id, ids), isNull(preset.deletedAt)))
  return new Set(rows.map(({ id }) => id))
}

/** The camera of a grid; null if there is no such grid. */
export async function cameraOfGrid(
  db: Pick<Database, 'select'>,
  eventId: string,
  id: string,
): Promise<string | null> {
  const [row] = await db.select().from(seatGrid).where(of(eventId, id))
  return row?.cameraId ?? null
}

const of = (eventId: string, id: string) => and(eq(seatGrid.eventId, eventId), eq(seatGrid.id, id))

/**
 * What becomes of a block's presets: all of it, or nothing.
 * @param seatsNow of the changed block @param posed poses of those within reach, by label
 * @returns null if it is gone; else what became of its presets, and the ids of those that are others now
 */
export function putRegrid(
  db: Database,
  eventId: string,
  id: string,
  grid: SeatGrid,
  seatsNow: readonly Seat[],
  posed: ReadonlyMap<string, PresetPose>,
): Promise<{ change: Regrid; ids: string[] } | null> {
  return patiently(db).transaction(async (transaction) => {
    const tx = transaction as unknown as Database
    // Two who change it at once must not both make the same seats.
    const [row] = await tx.select().from(seatGrid).where(of(eventId, id)).for('update')
    if (!row) return null
    const { cameraId, section } = row
    const change = regrid(row.grid, row.seats, await presetsThere(tx, row.seats), grid, seatsNow)
    if (change.gone.length > 0) await deletePresets(tx, change.gone)
    for (const { presetId } of change.back) await restorePreset(tx, presetId)
    const kept = [...change.stay, ...change.back]
    await amendPresets(
      tx,
      kept.flatMap(({ presetId, seat }) => {
        const pose = posed.get(seat.label)
        return pose ? [{ id: presetId, pose }] : []
      }),
    )
    // A name that somebody gave it stays.
    for (const { presetId, seat, was } of change.stay)
      if (was !== seat.label)
        await tx
          .update(preset)
          .set({ name: seat.label })
          .where(and(eq(preset.id, presetId), eq(preset.name, was)))
    const fresh = change.fresh.filter(({ label }) => posed.has(label))
    const [last] = await tx
      .select({ number: max(preset.number) })
      .from(preset)
      .where(and(eq(preset.eventId, eventId), eq(preset.cameraId, cameraId), isNull(preset.deletedAt)))
    const first = (last?.number ?? 0) + 1
    const made = await addListed(
      tx,
      eventId,
      fresh.map(({ label }, i) => ({
        ...{ cameraId, section, pose: posed.get(label)!, name: label, number: first + i, mark: '' },
      })),
    )
    const byNumber = await numbersOf(tx, made)
    const seats = [
      ...change.seats,
      ...fresh.map(({ label }, i) => ({ label, presetId: byNumber.get(first + i)! })),
    ]
    await tx.update(seatGrid).set({ grid, seats }).where(eq(seatGrid.id, row.id))
    return { change, ids: [...kept.map(({ presetId }) => presetId), ...change.gone, ...made] }
  })
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
