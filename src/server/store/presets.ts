/** Writing presets. Each change is one transaction: it is whole, or it has not happened. */
import { and, eq, isNotNull, isNull, max, sql } from 'drizzle-orm'
import type { PresetPose } from '../../core/presets/pose'
import type { Database } from './database'
import { picture, preset, presetVersion } from './schema'

export interface Shot {
  pose: PresetPose
  jpeg: Uint8Array | null
  takenAt: Date
}

type Tx = Parameters<Parameters<Database['transaction']>[0]>[0]

async function addVersion(tx: Tx, presetId: string, version: number, shot: Shot): Promise<void> {
  let pictureId: string | null = null
  if (shot.jpeg) {
    const [row] = await tx
      .insert(picture)
      .values({ jpeg: Buffer.from(shot.jpeg), takenAt: shot.takenAt })
      .returning({ id: picture.id })
    pictureId = row!.id
  }
  await tx
    .insert(presetVersion)
    .values({ presetId, version, ...shot.pose, pictureId, storedAt: shot.takenAt })
}

/** The lowest number no preset of this camera has; the table is locked against a second taker. */
async function freeNumber(tx: Tx, eventId: string, cameraId: string): Promise<number> {
  await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${eventId + cameraId}))`)
  const rows = await tx
    .select({ number: preset.number })
    .from(preset)
    .where(and(eq(preset.eventId, eventId), eq(preset.cameraId, cameraId), isNull(preset.deletedAt)))
  const taken = new Set(rows.map((r) => r.number))
  let number = 1
  while (taken.has(number)) number++
  return number
}

export interface NewPreset {
  eventId: string
  cameraId: string
  name: string | null
  shot: Shot
}

/** Stores a new preset under the next free number, last among its camera's tiles. Returns its id. */
export function addPreset(db: Database, fresh: NewPreset): Promise<string> {
  return db.transaction(async (tx) => {
    const number = await freeNumber(tx, fresh.eventId, fresh.cameraId)
    const [last] = await tx
      .select({ order: max(preset.order) })
      .from(preset)
      .where(and(eq(preset.eventId, fresh.eventId), eq(preset.cameraId, fresh.cameraId)))
    const [row] = await tx
      .insert(preset)
      .values({
        eventId: fresh.eventId,
        cameraId: fresh.cameraId,
        number,
        order: (last?.order ?? 0) + 1,
        name: fresh.name ?? `Preset ${number}`,
        currentVersion: 1,
      })
      .returning({ id: preset.id })
    await addVersion(tx, row!.id, 1, fresh.shot)
    return row!.id
  })
}

/** Stores over a preset; its former version is kept. Returns the version that was current; null where there is no such preset. */
export function overwritePreset(db: Database, id: string, shot: Shot): Promise<number | null> {
  return db.transaction(async (tx) => {
    const [row] = await tx
      .select()
      .from(preset)
      .where(and(eq(preset.id, id), isNull(preset.deletedAt)))
      .for('update')
    if (!row) return null
    const [newest] = await tx
      .select({ version: max(presetVersion.version) })
      .from(presetVersion)
      .where(eq(presetVersion.presetId, id))
    const version = (newest?.version ?? 0) + 1
    await addVersion(tx, id, version, shot)
    await tx.update(preset).set({ currentVersion: version }).where(eq(preset.id, id))
    return row.currentVersion
  })
}

/** Makes a kept version the current one again. False where there is none. */
export async function useVersion(db: Database, id: string, version: number): Promise<boolean> {
  const found = await db
    .select({ version: presetVersion.version })
    .from(presetVersion)
    .where(and(eq(presetVersion.presetId, id), eq(presetVersion.version, version)))
  if (found.length === 0) return false
  await db.update(preset).set({ currentVersion: version }).where(eq(preset.id, id))
  return true
}

export async function renamePreset(db: Database, id: string, name: string): Promise<boolean> {
  const rows = await db
    .update(preset)
    .set({ name })
    .where(and(eq(preset.id, id), isNull(preset.deletedAt)))
    .returning({ id: preset.id })
  return rows.length > 0
}

export async function deletePreset(db: Database, id: string): Promise<boolean> {
  const rows = await db
    .update(preset)
    .set({ deletedAt: new Date() })
    .where(and(eq(preset.id, id), isNull(preset.deletedAt)))
    .returning({ id: preset.id })
  return rows.length > 0
}

/** Brings a deleted preset back; under the next free number where its own was taken meanwhile. */
export function restorePreset(db: Database, id: string): Promise<boolean> {
  return db.transaction(async (tx) => {
    const [row] = await tx
      .select()
      .from(preset)
      .where(and(eq(preset.id, id), isNotNull(preset.deletedAt)))
      .for('update')
    if (!row) return false
    const free = await freeNumber(tx, row.eventId, row.cameraId)
    const [holder] = await tx
      .select({ id: preset.id })
      .from(preset)
      .where(
        and(
          eq(preset.eventId, row.eventId),
          eq(preset.cameraId, row.cameraId),
          eq(preset.number, row.number),
          isNull(preset.deletedAt),
        ),
      )
    await tx
      .update(preset)
      .set({ deletedAt: null, number: holder ? free : row.number })
      .where(eq(preset.id, id))
    return true
  })
}

export async function readPicture(db: Database, id: string): Promise<Buffer | null> {
  const [row] = await db.select({ jpeg: picture.jpeg }).from(picture).where(eq(picture.id, id))
  return row?.jpeg ?? null
}
