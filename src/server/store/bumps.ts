/** Mends of cameras that were bumped: all of it, or nothing. */
import { and, eq, inArray } from 'drizzle-orm'
import type { PresetPose } from '../../core/presets/pose'
import type { RoomKept, RoomSolved } from '../../core/room/room'
import type { Limits } from '../../core/stick/speeds'
import { type Database, patiently } from './database'
import { putRoom } from './room'
import { type BeforeMend, bumpMend, camera, preset } from './schema'
import { readGrids, setGrid } from './seatGrids'
import { keepSurvey, type NewSurvey, readSurveys, removeSurvey } from './surveys'
import { amendPresets, useVersion as setVersion } from './versions'

export interface Mend {
  presets: readonly { id: string; pose: PresetPose }[]
  limits: Limits | null
  /** Null: none of its points was touched in this camera. */
  room: { version: number; kept: RoomKept; solved: RoomSolved | null } | null
  grids: BeforeMend['grids']
  /** `gone`: it could not be drawn anew. */
  survey: { is: 'none' } | { is: 'gone' } | ({ is: 'kept' } & Omit<NewSurvey, 'eventId' | 'cameraId'>)
  before: Omit<BeforeMend, 'presets'>
}

async function versionsOf(db: Database, ids: readonly string[]): Promise<Map<string, number>> {
  if (ids.length === 0) return new Map()
  const rows = await db
    .select({ id: preset.id, version: preset.currentVersion })
    .from(preset)
    .where(inArray(preset.id, [...ids]))
  return new Map(rows.map(({ id, version }) => [id, version]))
}

/** Somebody has changed the room since it was solved: nothing is mended. */
export class RoomChanged extends Error {}

async function putMarks(db: Database, eventId: string, room: Mend['room']): Promise<void> {
  if (room && (await putRoom(db, eventId, room.version, room.kept, room.solved)) === null)
    throw new RoomChanged()
}

async function putCorners(db: Database, eventId: string, grids: BeforeMend['grids']): Promise<void> {
  const now = await readGrids(db, eventId)
  for (const { id, corners } of grids) {
    const grid = now.find((one) => one.id === id)?.grid
    if (grid) await setGrid(db, id, { ...grid, corners })
  }
}

async function putSurvey(db: Database, eventId: string, cameraId: string, survey: Mend['survey']) {
  if (survey.is === 'kept') {
    const { takenAt, about, tiles, shots } = survey
    await keepSurvey(db, { eventId, cameraId, takenAt, about, tiles, shots })
  } else if (survey.is === 'gone')
    for (const one of await readSurveys(db, eventId))
      if (one.cameraId === cameraId) await removeSurvey(db, one.id)
}

export function keepMend(db: Database, eventId: string, cameraId: string, mend: Mend): Promise<void> {
  return patiently(db).transaction(async (transaction) => {
    const tx = transaction as unknown as Database
    const ids = mend.presets.map(({ id }) => id)
    const before = await versionsOf(tx, ids)
    await amendPresets(tx, mend.presets)
    const after = await versionsOf(tx, ids)
    await tx.update(camera).set({ limits: mend.limits }).where(eq(camera.id, cameraId))
    await putMarks(tx, eventId, mend.room)
    await putCorners(tx, eventId, mend.grids)
    await putSurvey(tx, eventId, cameraId, mend.survey)
    const kept: BeforeMend = {
      ...mend.before,
      presets: ids.flatMap((id) => {
        const [was, is] = [before.get(id), after.get(id)]
        return was !== undefined && is !== undefined ? [{ id, before: was, after: is }] : []
      }),
    }
    await tx
      .insert(bumpMend)
      .values({ eventId, cameraId, before: kept })
      .onConflictDoUpdate({ target: [bumpMend.eventId, bumpMend.cameraId], set: { before: kept } })
  })
}

const of = (eventId: string, cameraId: string) =>
  and(eq(bumpMend.eventId, eventId), eq(bumpMend.cameraId, cameraId))

export async function readMend(db: Database, eventId: string, cameraId: string): Promise<BeforeMend | null> {
  const [row] = await db.select().from(bumpMend).where(of(eventId, cameraId))
  return row?.before ?? null
}

/** What was stored anew since the mend stays as it is. */
export function undoMend(
  db: Database,
  eventId: string,
  cameraId: string,
  before: BeforeMend,
  { survey, room }: Pick<Mend, 'survey' | 'room'>,
): Promise<void> {
  return patiently(db).transaction(async (transaction) => {
    const tx = transaction as unknown as Database
    const now = await versionsOf(
      tx,
      before.presets.map(({ id }) => id),
    )
    for (const { id, before: version, after } of before.presets)
      if (now.get(id) === after) await setVersion(tx, id, version)
    await tx.update(camera).set({ limits: before.limits }).where(eq(camera.id, cameraId))
    await putMarks(tx, eventId, room)
    await putCorners(tx, eventId, before.grids)
    await putSurvey(tx, eventId, cameraId, survey)
    await tx.delete(bumpMend).where(of(eventId, cameraId))
  })
}
