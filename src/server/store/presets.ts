/** Writing presets. Each change is one transaction: it is whole, or it has not happened. */
import { and, eq, inArray, isNotNull, isNull, max, sql } from 'drizzle-orm'
import type { PresetPose } from '../../core/presets/pose'
import type { PresetChange } from '../../core/presets/preset'
import { type Database, patiently } from './database'
import { poseColumns } from './poseColumns'
import { picture, preset, presetVersion } from './schema'
import { addVersion, type Shot, type Tx } from './versions'

/** The wanted number if it is free, else the lowest that no preset of this camera has; the table is locked against a second taker. */
async function freeNumber(tx: Tx, eventId: string, cameraId: string, wanted = 1): Promise<number> {
  await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${eventId + cameraId}))`)
  const ofCamera = and(eq(preset.eventId, eventId), eq(preset.cameraId, cameraId), isNull(preset.deletedAt))
  const [holder] = await tx
    .select({ id: preset.id })
    .from(preset)
    .where(and(ofCamera, eq(preset.number, wanted)))
  if (!holder) return wanted
  const rows = await tx.select({ number: preset.number }).from(preset).where(ofCamera)
  const taken = new Set(rows.map((r) => r.number))
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
  /** The heading that it stands under. */
  section?: string
  /** The camera's own memory that holds it too. */
  memory?: number | null
  shot: Shot
}

export async function changePreset(
  db: Database,
  id: string,
  change: PresetChange & { memory?: number | null },
): Promise<boolean> {
  const { pinned, ...values } = change
  const pin =
    pinned === undefined
      ? {}
      : pinned
        ? { pinnedOrder: sql`(select coalesce(max(p.pinned_order), 0) + 1 from preset p)` }
        : { pinnedOrder: null }
  const rows = await db.transaction((tx) =>
    tx
      .update(preset)
      .set({ ...values, ...pin })
      .where(and(eq(preset.id, id), isNull(preset.deletedAt)))
      .returning({ id: preset.id }),
  )
  return rows.length > 0
}

/** Puts presets into this order, on their camera's board or on that of the pinned. */
export function orderPresets(db: Database, ids: readonly string[], board: 'own' | 'pinned'): Promise<void> {
  const column = board === 'own' ? sql`"order"` : sql`"pinned_order"`
  return db.transaction(async (tx) => {
    await tx.execute(
      sql`update ${preset} set ${column} = wanted.place from unnest(${sql.param(ids)}::uuid[]) with ordinality as wanted(id, place) where ${preset.id} = wanted.id`,
    )
  })
}

/** Copies presets into another event, or to another camera, each under its own number where that is free. @returns the copies' ids */
export function copyPresets(
  db: Database,
  ids: readonly string[],
  to: { eventId: string; cameraId: string | null },
): Promise<string[]> {
  return patiently(db).transaction(async (tx) => {
    const copied: string[] = []
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
          // A memory belongs to its camera alone.
          memory: cameraId === row.cameraId ? row.memory : null,
        })
        .returning({ id: preset.id })
      // The picture is shared: none is ever changed.
      await tx.insert(presetVersion).values({ ...current!, presetId: made!.id, version: 1 })
      copied.push(made!.id)
    }
    return copied
  })
}

/** What a new preset was given. */
export interface AddedPreset {
  id: string
  number: number
  order: number
  name: string
  section: string
}

/** Stores a new preset under the next free number, last among its camera's tiles. */
export function addPreset(db: Database, fresh: NewPreset): Promise<AddedPreset> {
  return db.transaction(async (tx) => {
    const number = await freeNumber(tx, fresh.eventId, fresh.cameraId, fresh.number ?? undefined)
    const [last] = await tx
      .select({ order: max(preset.order) })
      .from(preset)
      .where(and(eq(preset.eventId, fresh.eventId), eq(preset.cameraId, fresh.cameraId)))
    const order = (last?.order ?? 0) + 1
    const name = fresh.name ?? `Preset ${number}`
    const section = fresh.section ?? ''
    const [row] = await tx
      .insert(preset)
      .values({
        eventId: fresh.eventId,
        cameraId: fresh.cameraId,
        number,
        order,
        name,
        section,
        memory: fresh.memory ?? null,
        currentVersion: 1,
      })
      .returning({ id: preset.id })
    await addVersion(tx, row!.id, 1, fresh.shot)
    return { id: row!.id, number, order, name, section }
  })
}

/** A new preset of a list: its number is free. */
export interface ListedNew {
  cameraId: string
  number: number
  name: string
  section: string
  mark: string
  pose: PresetPose
}

/** This many rows are written in one statement. */
const BATCH = 500

/** Stores many new presets at once, last among their camera's tiles and in their order. */
export async function addListed(
  db: Database,
  eventId: string,
  fresh: readonly ListedNew[],
): Promise<string[]> {
  const added: string[] = []
  const last = new Map<string, number>()
  for (const cameraId of new Set(fresh.map((p) => p.cameraId))) {
    await db.execute(sql`select pg_advisory_xact_lock(hashtext(${eventId + cameraId}))`)
    const [row] = await db
      .select({ order: max(preset.order) })
      .from(preset)
      .where(and(eq(preset.eventId, eventId), eq(preset.cameraId, cameraId)))
    last.set(cameraId, row?.order ?? 0)
  }
  for (let i = 0; i < fresh.length; i += BATCH) {
    const batch = fresh.slice(i, i + BATCH)
    const made = await db
      .insert(preset)
      .values(
        batch.map(({ pose: _, ...listed }) => {
          const order = last.get(listed.cameraId)! + 1
          last.set(listed.cameraId, order)
          return { ...listed, eventId, order, currentVersion: 1 }
        }),
      )
      .returning({ id: preset.id, cameraId: preset.cameraId, number: preset.number })
    added.push(...made.map(({ id }) => id))
    const ids = new Map(made.map((row) => [`${row.cameraId} ${row.number}`, row.id]))
    await db.insert(presetVersion).values(
      batch.map(({ cameraId, number, pose }) => ({
        presetId: ids.get(`${cameraId} ${number}`)!,
        version: 1,
        ...poseColumns(pose),
        light: null,
        pictureId: null,
      })),
    )
  }
  return added
}

/** Many at once: all of them, or none. */
export async function deletePresets(db: Database, ids: readonly string[]): Promise<void> {
  await db.transaction((tx) =>
    tx
      .update(preset)
      .set({ deletedAt: new Date() })
      .where(and(inArray(preset.id, [...ids]), isNull(preset.deletedAt))),
  )
}

export async function deletePreset(db: Database, id: string): Promise<boolean> {
  const rows = await db.transaction((tx) =>
    tx
      .update(preset)
      .set({ deletedAt: new Date() })
      .where(and(eq(preset.id, id), isNull(preset.deletedAt)))
      .returning({ id: preset.id }),
  )
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

/** The ids of these presets by their numbers. */
export async function numbersOf(db: Database, ids: readonly string[]): Promise<Map<number, string>> {
  const rows = await db
    .select({ id: preset.id, number: preset.number })
    .from(preset)
    .where(inArray(preset.id, [...ids]))
  return new Map(rows.map(({ id, number }) => [number, id]))
}

export async function readPicture(db: Database, id: string): Promise<Buffer | null> {
  const [row] = await db.select({ jpeg: picture.jpeg }).from(picture).where(eq(picture.id, id))
  return row?.jpeg ?? null
}
