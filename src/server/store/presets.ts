/** Writing presets. Each change is one transaction: it is whole, or it has not happened. */
import { and, desc, eq, isNotNull, isNull, max, sql } from 'drizzle-orm'
import type { Pace, Parts } from '../../core/presets/pace'
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

/** The wanted number if it is free, else the lowest that no preset of this camera has; the table is locked against a second taker. */
async function freeNumber(tx: Tx, eventId: string, cameraId: string, wanted = 1): Promise<number> {
  await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${eventId + cameraId}))`)
  const rows = await tx
    .select({ number: preset.number })
    .from(preset)
    .where(and(eq(preset.eventId, eventId), eq(preset.cameraId, cameraId), isNull(preset.deletedAt)))
  const taken = new Set(rows.map((r) => r.number))
  if (!taken.has(wanted)) return wanted
  let number = 1
  while (taken.has(number)) number++
  return number
}

export interface NewPreset {
  eventId: string
  cameraId: string
  name: string | null
  /** Null: the next free one. */
  number?: number | null
  shot: Shot
}

/** What of a preset can be changed without storing it anew. */
export interface PresetChange {
  name?: string
  section?: string
  mark?: string
  pace?: Pace | null
  parts?: Parts
  pinned?: boolean
}

export async function changePreset(db: Database, id: string, change: PresetChange): Promise<boolean> {
  const { pinned, ...values } = change
  const pin =
    pinned === undefined
      ? {}
      : pinned
        ? { pinnedOrder: sql`(select coalesce(max(p.pinned_order), 0) + 1 from preset p)` }
        : { pinnedOrder: null }
  const rows = await db
    .update(preset)
    .set({ ...values, ...pin })
    .where(and(eq(preset.id, id), isNull(preset.deletedAt)))
    .returning({ id: preset.id })
  return rows.length > 0
}

/** Puts presets into this order, on their camera's board or on that of the pinned. */
export function orderPresets(db: Database, ids: readonly string[], board: 'own' | 'pinned'): Promise<void> {
  return db.transaction(async (tx) => {
    for (const [i, id] of ids.entries())
      await tx
        .update(preset)
        .set(board === 'own' ? { order: i + 1 } : { pinnedOrder: i + 1 })
        .where(eq(preset.id, id))
  })
}

export interface Version {
  version: number
  pose: PresetPose
  pictureId: string | null
  storedAt: Date
}

/** All that was ever stored in a preset, the newest first. */
export async function readVersions(db: Database, id: string): Promise<Version[]> {
  const rows = await db
    .select()
    .from(presetVersion)
    .where(eq(presetVersion.presetId, id))
    .orderBy(desc(presetVersion.version))
  return rows.map(({ version, panDeg, tiltDeg, zoom, focusAuto, focus, pictureId, storedAt }) => ({
    version,
    pose: { panDeg, tiltDeg, zoom, focusAuto, focus },
    pictureId,
    storedAt,
  }))
}

/** A new version with another picture, or another pose, and all else as it is. False where there is no such preset. */
export function amendPreset(
  db: Database,
  id: string,
  change: { jpeg?: Uint8Array; pose?: PresetPose },
): Promise<boolean> {
  return db.transaction((tx) => amend(tx, id, change))
}

/** Several at once: all of them, or none. */
export function amendPresets(
  db: Database,
  changes: readonly { id: string; pose: PresetPose }[],
): Promise<void> {
  return db.transaction(async (tx) => {
    for (const { id, pose } of changes) await amend(tx, id, { pose })
  })
}

async function amend(
  tx: Tx,
  id: string,
  { jpeg, pose }: { jpeg?: Uint8Array; pose?: PresetPose },
): Promise<boolean> {
  const [row] = await tx
    .select()
    .from(preset)
    .where(and(eq(preset.id, id), isNull(preset.deletedAt)))
    .for('update')
  if (!row) return false
  const versions = await tx.select().from(presetVersion).where(eq(presetVersion.presetId, id))
  const current = versions.find((x) => x.version === row.currentVersion)!
  const version = Math.max(...versions.map((x) => x.version)) + 1
  let { pictureId } = current
  if (jpeg) {
    const [kept] = await tx
      .insert(picture)
      .values({ jpeg: Buffer.from(jpeg), takenAt: new Date() })
      .returning({ id: picture.id })
    pictureId = kept!.id
  }
  await tx.insert(presetVersion).values({ ...current, ...pose, version, pictureId, storedAt: new Date() })
  await tx.update(preset).set({ currentVersion: version }).where(eq(preset.id, id))
  return true
}

/** Copies presets into another event, or to another camera, each under its own number where that is free. */
export function copyPresets(
  db: Database,
  ids: readonly string[],
  to: { eventId: string; cameraId: string | null },
): Promise<number> {
  return db.transaction(async (tx) => {
    let copied = 0
    for (const id of ids) {
      const [row] = await tx
        .select()
        .from(preset)
        .where(and(eq(preset.id, id), isNull(preset.deletedAt)))
      if (!row) continue
      const [current] = await tx
        .select()
        .from(presetVersion)
        .where(and(eq(presetVersion.presetId, id), eq(presetVersion.version, row.currentVersion)))
      const cameraId = to.cameraId ?? row.cameraId
      const free = await freeNumber(tx, to.eventId, cameraId, row.number)
      const { id: _, createdAt: __, ...values } = row
      const [made] = await tx
        .insert(preset)
        .values({
          ...values,
          eventId: to.eventId,
          cameraId,
          number: free,
          currentVersion: 1,
          pinnedOrder: null,
        })
        .returning({ id: preset.id })
      // The picture is shared: none is ever changed.
      await tx.insert(presetVersion).values({ ...current!, presetId: made!.id, version: 1 })
      copied += 1
    }
    return copied
  })
}

/** Stores a new preset under the next free number, last among its camera's tiles. Returns its id. */
export function addPreset(db: Database, fresh: NewPreset): Promise<string> {
  return db.transaction(async (tx) => {
    const number = await freeNumber(tx, fresh.eventId, fresh.cameraId, fresh.number ?? undefined)
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
