/** The venue's own head profiles, and what follows when one is mended. */
import { and, asc, eq, inArray } from 'drizzle-orm'
import * as v from 'valibot'
import { HeadProfile, unitsOf, unitsToDeg } from '../../core/heads/profile'
import type { Database } from './database'
import { headProfile, preset, presetVersion } from './schema'

/** What an older version kept lacks fields that have defaults; one that makes no sense is left out. */
export async function readHeads(db: Pick<Database, 'select'>, venueId: string): Promise<HeadProfile[]> {
  const rows = await db
    .select()
    .from(headProfile)
    .where(eq(headProfile.venueId, venueId))
    .orderBy(asc(headProfile.id))
  return rows.flatMap(({ data }) => {
    const parsed = v.safeParse(HeadProfile, data)
    return parsed.success ? [parsed.output] : []
  })
}

type Writes = Pick<Database, 'insert' | 'delete' | 'update' | 'select'>

export async function putHeads(
  db: Writes,
  venueId: string,
  profiles: readonly HeadProfile[],
  instead = false,
): Promise<void> {
  if (instead) await db.delete(headProfile).where(eq(headProfile.venueId, venueId))
  for (const data of profiles)
    await db
      .insert(headProfile)
      .values({ venueId, id: data.id, data })
      .onConflictDoUpdate({ target: [headProfile.venueId, headProfile.id], set: { data } })
}

export async function deleteHead(db: Writes, venueId: string, id: string): Promise<void> {
  await db.delete(headProfile).where(and(eq(headProfile.venueId, venueId), eq(headProfile.id, id)))
}

/**
 * A profile was mended: what was stored as the head counts is the same shot as before, and its degrees follow.
 * What was never counted, as a seat of a grid or a box on Sightlines, stays where the former profile put it.
 * @param cameras those that have this profile
 * @param before null: it had none that was confirmed, so that degrees alone come from elsewhere and are right
 */
export async function restatePresets(
  db: Writes,
  cameras: readonly string[],
  { pan, tilt }: HeadProfile,
  before: HeadProfile | null,
): Promise<void> {
  if (cameras.length === 0) return
  const rows = await db
    .select({
      id: presetVersion.presetId,
      version: presetVersion.version,
      encoder: presetVersion.encoder,
      panDeg: presetVersion.panDeg,
      tiltDeg: presetVersion.tiltDeg,
    })
    .from(presetVersion)
    .innerJoin(preset, eq(preset.id, presetVersion.presetId))
    .where(inArray(preset.cameraId, [...cameras]))
  for (const { id, version, encoder, panDeg, tiltDeg } of rows) {
    const at = (axis: 'pan' | 'tilt', deg: number | null) =>
      encoder?.[axis] ?? (before && deg !== null ? unitsOf(before[axis], deg) : null)
    const [panUnits, tiltUnits] = [at('pan', panDeg), at('tilt', tiltDeg)]
    if (panUnits === null || tiltUnits === null) continue
    await db
      .update(presetVersion)
      .set({ panDeg: unitsToDeg(pan, panUnits), tiltDeg: unitsToDeg(tilt, tiltUnits) })
      .where(and(eq(presetVersion.presetId, id), eq(presetVersion.version, version)))
  }
}
