/** The versions of a preset: each store makes one, none is ever changed, any can be gone back to. */
import { and, desc, eq, isNull, max } from 'drizzle-orm'
import type { Light } from '../../core/cameras/light'
import type { PresetPose } from '../../core/presets/pose'
import { type Database, patiently } from './database'
import { poseColumns, poseOf } from './poseColumns'
import { picture, preset, presetVersion } from './schema'

export interface Shot {
  /** Null if the camera does not report its position. */
  pose: PresetPose | null
  /** Exposure and white balance, if they were asked for. */
  light: Light | null
  jpeg: Uint8Array | null
  takenAt: Date
  /** The picture was cut out of a survey. */
  surveyed?: boolean
}

export type Tx = Parameters<Parameters<Database['transaction']>[0]>[0]

export async function addVersion(tx: Tx, presetId: string, version: number, shot: Shot): Promise<void> {
  let pictureId: string | null = null
  if (shot.jpeg) {
    const [row] = await tx
      .insert(picture)
      .values({ jpeg: Buffer.from(shot.jpeg), takenAt: shot.takenAt })
      .returning({ id: picture.id })
    pictureId = row!.id
  }
  await tx.insert(presetVersion).values({
    presetId,
    version,
    ...poseColumns(shot.pose),
    light: shot.light,
    pictureId,
    surveyed: shot.surveyed ?? false,
    storedAt: shot.takenAt,
  })
}

/** What is in the camera's own memory is the former pose: it holds this preset no longer. */
const NOT_IN_MEMORY = { memory: null }

const samePose = (a: PresetPose | null, b: PresetPose | null): boolean =>
  JSON.stringify(a) === JSON.stringify(b)

export interface Version {
  version: number
  pose: PresetPose | null
  light: Light | null
  pictureId: string | null
  storedAt: Date
}

/** All that was always stored in a preset, the newest first. */
export async function readVersions(db: Database, id: string): Promise<Version[]> {
  const rows = await db
    .select()
    .from(presetVersion)
    .where(eq(presetVersion.presetId, id))
    .orderBy(desc(presetVersion.version))
  return rows.map(({ version, light, pictureId, storedAt, ...columns }) => ({
    version,
    pose: poseOf(columns),
    light,
    pictureId,
    storedAt,
  }))
}

export interface Amendment {
  jpeg?: Uint8Array
  /** The picture was cut out of a survey. */
  surveyed?: boolean
  pose?: PresetPose | null
  light?: Light | null
}

/** A new version in which something is other, and all else as it is. False where there is no such preset. */
export function amendPreset(db: Database, id: string, change: Amendment): Promise<boolean> {
  return db.transaction((tx) => amend(tx, id, change))
}

/** Several at once: all of them, or none. */
export function amendPresets(
  db: Database,
  changes: readonly { id: string; pose: PresetPose }[],
): Promise<void> {
  return patiently(db).transaction(async (tx) => {
    for (const { id, pose } of changes) await amend(tx, id, { pose })
  })
}

async function amend(
  tx: Tx,
  id: string,
  { jpeg, pose, light, surveyed = false }: Amendment,
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
  await tx.insert(presetVersion).values({
    ...current,
    ...(pose === undefined ? {} : poseColumns(pose)),
    ...(light === undefined ? {} : { light }),
    version,
    pictureId,
    surveyed: jpeg ? surveyed : current.surveyed,
    storedAt: new Date(),
  })
  const moved = pose !== undefined && !samePose(pose, poseOf(current))
  await tx
    .update(preset)
    .set({ currentVersion: version, ...(moved ? NOT_IN_MEMORY : {}) })
    .where(eq(preset.id, id))
  return true
}

/** Makes a kept version the current one again. False where there is none. */
export function useVersion(db: Database, id: string, version: number): Promise<boolean> {
  return db.transaction(async (tx) => {
    const [row] = await tx.select().from(preset).where(eq(preset.id, id)).for('update')
    const versions = await tx.select().from(presetVersion).where(eq(presetVersion.presetId, id))
    const wanted = versions.find((x) => x.version === version)
    const current = versions.find((x) => x.version === row?.currentVersion)
    if (!row || !wanted) return false
    const same = samePose(poseOf(wanted), current ? poseOf(current) : null)
    await tx
      .update(preset)
      .set({ currentVersion: version, ...(same ? {} : NOT_IN_MEMORY) })
      .where(eq(preset.id, id))
    return true
  })
}

/** Stores over a preset; its former version is kept. Returns the version that was current; null if there is no such preset. */
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
