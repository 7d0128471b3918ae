/** Surveys: one for each camera and event, with its pictures and the pieces of its map. */
import { and, eq } from 'drizzle-orm'
import type { View } from '../../core/optics/sphere'
import type { SurveyAbout } from '../../core/survey/surveys'
import { type Database, patiently } from './database'
import { survey, surveyShot, surveyTile } from './schema'

export interface NewSurvey {
  eventId: string
  cameraId: string
  takenAt: Date
  about: SurveyAbout
  tiles: readonly { level: number; column: number; row: number; jpeg: Uint8Array }[]
  shots: readonly { view: View; gain: number; age: number; jpeg: Uint8Array }[]
}

/** In the place of the camera's former one. @returns its id */
export function keepSurvey(db: Database, made: NewSurvey): Promise<string> {
  const { eventId, cameraId, takenAt, about, tiles, shots } = made
  return patiently(db).transaction(async (tx) => {
    await tx.delete(survey).where(and(eq(survey.eventId, eventId), eq(survey.cameraId, cameraId)))
    const [row] = await tx
      .insert(survey)
      .values({ eventId, cameraId, takenAt, about })
      .returning({ id: survey.id })
    const surveyId = row!.id
    for (const { level, column, row: line, jpeg } of tiles)
      await tx.insert(surveyTile).values({ surveyId, level, column, row: line, jpeg: Buffer.from(jpeg) })
    for (const [place, { view, gain, age, jpeg }] of shots.entries())
      await tx.insert(surveyShot).values({ surveyId, place, view, gain, age, jpeg: Buffer.from(jpeg) })
    return surveyId
  })
}

export const readSurveys = (db: Database, eventId: string) =>
  db.select().from(survey).where(eq(survey.eventId, eventId))

/** The survey of a camera in an event, with its pictures; null if there is none. */
export async function surveyOf(db: Database, eventId: string, cameraId: string) {
  const [row] = await db
    .select()
    .from(survey)
    .where(and(eq(survey.eventId, eventId), eq(survey.cameraId, cameraId)))
  return row ? { about: row.about, takenAt: row.takenAt, shots: await readShots(db, row.id) } : null
}

export async function readSurvey(db: Database, id: string) {
  const [row] = await db.select().from(survey).where(eq(survey.id, id))
  return row ?? null
}

export async function readTile(
  db: Database,
  surveyId: string,
  level: number,
  column: number,
  row: number,
): Promise<Uint8Array | null> {
  const [tile] = await db
    .select({ jpeg: surveyTile.jpeg })
    .from(surveyTile)
    .where(
      and(
        eq(surveyTile.surveyId, surveyId),
        eq(surveyTile.level, level),
        eq(surveyTile.column, column),
        eq(surveyTile.row, row),
      ),
    )
  return tile?.jpeg ?? null
}

/** The pieces of the whole map. */
export const readWhole = (db: Database, surveyId: string) =>
  db
    .select({ column: surveyTile.column, row: surveyTile.row, jpeg: surveyTile.jpeg })
    .from(surveyTile)
    .where(and(eq(surveyTile.surveyId, surveyId), eq(surveyTile.level, 0)))

/** Its map at all sizes. */
export const readPieces = (db: Database, surveyId: string) =>
  db
    .select({
      level: surveyTile.level,
      column: surveyTile.column,
      row: surveyTile.row,
      jpeg: surveyTile.jpeg,
    })
    .from(surveyTile)
    .where(eq(surveyTile.surveyId, surveyId))

export const readShots = (db: Database, surveyId: string) =>
  db
    .select({ view: surveyShot.view, gain: surveyShot.gain, age: surveyShot.age, jpeg: surveyShot.jpeg })
    .from(surveyShot)
    .where(eq(surveyShot.surveyId, surveyId))
    .orderBy(surveyShot.place)

export async function removeSurvey(db: Database, id: string): Promise<boolean> {
  const rows = await db.delete(survey).where(eq(survey.id, id)).returning({ id: survey.id })
  return rows.length > 0
}
