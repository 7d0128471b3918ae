/** The list of cameras of a venue: adding, changing, ordering, deleting and bringing back. */
import { and, asc, eq, isNull, sql } from 'drizzle-orm'
import type { CameraSettings, Secrets } from '../../core/cameras/connection'
import { SECRET_NAMES } from '../../core/cameras/connection'
import { keptSecrets } from '../../core/cameras/keptSecrets'
import { byAddress } from '../../core/cameras/order'
import type { Learnt } from '../../core/motion/follow/ledger'
import { type Database, databaseFault } from './database'
import { camera } from './schema'
import type { SecretBox } from './secrets'

export type CameraRow = typeof camera.$inferSelect

/** The number is used by another camera of the venue. */
export class NumberTaken extends Error {}

async function orTaken<T>(number: number, work: () => Promise<T>): Promise<T> {
  try {
    return await work()
  } catch (error) {
    if (databaseFault(error) === 'twice')
      throw new NumberTaken(`Number ${number} is used by another camera. Choose another.`)
    throw error
  }
}

/** What of a row is the camera's settings, as the API and the venue file have them. */
export function settingsOf(row: CameraRow): CameraSettings {
  const { number, name, enabled, connection, headProfile, picture, mount, limits, pace, pageUrl } = row
  const { holdPicture, alsoInMemory, leash, headConfirmed } = row
  return {
    number,
    name,
    enabled,
    connection,
    headProfile,
    picture,
    mount,
    limits,
    pace,
    holdPicture,
    alsoInMemory,
    leash,
    headConfirmed,
    pageUrl,
  }
}

export function readCameras(db: Database, venueId: string): Promise<CameraRow[]> {
  return db
    .select()
    .from(camera)
    .where(and(eq(camera.venueId, venueId), isNull(camera.deletedAt)))
    .orderBy(asc(camera.order), asc(camera.number))
}

export async function addCamera(
  db: Database,
  box: SecretBox,
  venueId: string,
  settings: CameraSettings,
  secrets: Secrets,
): Promise<string> {
  return orTaken(settings.number, () =>
    db.transaction(async (tx) => {
      const [last] = await tx
        .select({ order: sql<number>`coalesce(max(${camera.order}), 0)` })
        .from(camera)
        .where(eq(camera.venueId, venueId))
      const [row] = await tx
        .insert(camera)
        .values({ venueId, ...settings, order: Number(last?.order ?? 0) + 1, secrets: box.seal(secrets) })
        .returning({ id: camera.id })
      return row!.id
    }),
  )
}

/**
 * @param secrets those given replace the kept ones; an empty one removes it
 * @returns false if it does not exist
 */
export async function changeCamera(
  db: Database,
  box: SecretBox,
  id: string,
  settings: CameraSettings,
  secrets: Secrets,
): Promise<boolean> {
  return orTaken(settings.number, () =>
    db.transaction(async (tx) => {
      const [row] = await tx.select().from(camera).where(eq(camera.id, id)).for('update')
      if (!row || row.deletedAt) return false
      const merged: Secrets = keptSecrets(box.open(row.secrets), row, settings)
      for (const name of SECRET_NAMES) if (secrets[name] !== undefined) merged[name] = secrets[name]
      await tx
        .update(camera)
        .set({ ...settings, secrets: box.seal(merged) })
        .where(eq(camera.id, id))
      return true
    }),
  )
}

export async function deleteCamera(db: Database, id: string): Promise<boolean> {
  const rows = await db.transaction((tx) =>
    tx
      .update(camera)
      .set({ deletedAt: new Date() })
      .where(and(eq(camera.id, id), isNull(camera.deletedAt)))
      .returning({ id: camera.id }),
  )
  return rows.length > 0
}

/** Brings a deleted camera back, with its presets; under the next free number where its own was taken. */
export async function restoreCamera(db: Database, id: string): Promise<boolean> {
  return db.transaction(async (tx) => {
    const [row] = await tx.select().from(camera).where(eq(camera.id, id)).for('update')
    if (!row?.deletedAt) return false
    const used = new Set((await readCameras(tx as unknown as Database, row.venueId)).map((c) => c.number))
    let number = row.number
    while (used.has(number)) number += 1
    await tx.update(camera).set({ deletedAt: null, number }).where(eq(camera.id, id))
    return true
  })
}

/** Puts the cameras of a venue in this order; those not named come after. */
export async function orderCameras(db: Database, venueId: string, ids: readonly string[]): Promise<void> {
  await db.transaction(async (tx) => {
    const rows = await readCameras(tx as unknown as Database, venueId)
    const place = (row: CameraRow) => (ids.includes(row.id) ? ids.indexOf(row.id) : ids.length + row.order)
    const sorted = [...rows].sort((a, b) => place(a) - place(b))
    for (const [i, row] of sorted.entries()) {
      await tx
        .update(camera)
        .set({ order: i + 1 })
        .where(eq(camera.id, row.id))
    }
  })
}

/** Gives the numbers 1, 2, 3 ... and the same order by address. */
export async function numberByAddress(db: Database, venueId: string): Promise<void> {
  await db.transaction(async (tx) => {
    const rows = (await readCameras(tx as unknown as Database, venueId)).sort(byAddress)
    // First beyond all numbers, since no two may be equal even for a moment.
    for (const [i, row] of rows.entries()) {
      await tx
        .update(camera)
        .set({ number: 100_000 + i })
        .where(eq(camera.id, row.id))
    }
    for (const [i, row] of rows.entries()) {
      await tx
        .update(camera)
        .set({ number: i + 1, order: i + 1 })
        .where(eq(camera.id, row.id))
    }
  })
}

/** What of a camera is set at the Desk. */
export type CameraHabits = Partial<
  Pick<CameraSettings, 'limits' | 'pace' | 'holdPicture' | 'alsoInMemory' | 'leash' | 'headConfirmed'>
>

/** @returns false if it does not exist */
export async function setHabits(db: Database, id: string, habits: CameraHabits): Promise<boolean> {
  const rows = await db.transaction((tx) =>
    tx
      .update(camera)
      .set(habits)
      .where(and(eq(camera.id, id), isNull(camera.deletedAt)))
      .returning({ id: camera.id }),
  )
  return rows.length > 0
}

export async function setHeadProfile(
  db: Pick<Database, 'update'>,
  id: string,
  headProfile: string,
): Promise<void> {
  await db.update(camera).set({ headProfile }).where(eq(camera.id, id))
}

/** What a camera's head makes of its speeds. */
export async function keepLearnt(db: Database, id: string, learnt: Learnt): Promise<void> {
  await db.update(camera).set({ learnt }).where(eq(camera.id, id))
}
