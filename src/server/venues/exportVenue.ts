/** A whole venue out of the database: cameras, command sets, events with presets and pictures. */
import { and, asc, eq, inArray, isNull } from 'drizzle-orm'
import { type FileEvent, type FilePreset, VENUE_FORMAT, VENUE_VERSION } from '../../core/formats/venueFile'
import { readCameras, settingsOf } from '../store/cameras'
import type { Database } from '../store/database'
import { poseOf } from '../store/poseColumns'
import { commandSet, event, picture, preset, presetVersion, venue } from '../store/schema'
import type { VenueBundle } from './zip'

async function readPresets(
  db: Database,
  eventId: string,
  cameras: ReadonlySet<string>,
): Promise<{ preset: FilePreset; pictureId: string | null }[]> {
  const rows = await db
    .select({ p: preset, x: presetVersion })
    .from(preset)
    .innerJoin(
      presetVersion,
      and(eq(presetVersion.presetId, preset.id), eq(presetVersion.version, preset.currentVersion)),
    )
    .where(and(eq(preset.eventId, eventId), isNull(preset.deletedAt)))
    .orderBy(asc(preset.order), asc(preset.number))
  return rows
    .filter(({ p }) => cameras.has(p.cameraId))
    .map(({ p, x }) => ({
      pictureId: x.pictureId,
      preset: {
        id: p.id,
        cameraId: p.cameraId,
        number: p.number,
        order: p.order,
        name: p.name,
        section: p.section,
        mark: p.mark,
        pinned: p.pinnedOrder,
        pace: p.pace,
        parts: p.parts,
        memory: p.memory,
        pose: poseOf(x),
        light: x.light,
        picture: x.pictureId === null ? null : `pictures/${x.pictureId}.jpg`,
        storedAt: x.storedAt.toISOString(),
      },
    }))
}

/** Null where there is no such venue. */
export async function exportVenue(db: Database, venueId: string): Promise<VenueBundle | null> {
  const [found] = await db.select().from(venue).where(eq(venue.id, venueId))
  if (!found) return null
  const rows = await readCameras(db, venueId)
  const cameras = rows.map((row) => ({ id: row.id, order: row.order, ...settingsOf(row) }))
  const ids = new Set(cameras.map((c) => c.id))
  const events: FileEvent[] = []
  const pictureIds: string[] = []
  for (const e of await db
    .select()
    .from(event)
    .where(eq(event.venueId, venueId))
    .orderBy(asc(event.createdAt))) {
    const presets = await readPresets(db, e.id, ids)
    pictureIds.push(...presets.flatMap((p) => (p.pictureId === null ? [] : [p.pictureId])))
    events.push({
      id: e.id,
      name: e.name,
      open: e.open,
      words: e.words,
      presets: presets.map((p) => p.preset),
    })
  }
  const sets = await db
    .select()
    .from(commandSet)
    .where(eq(commandSet.venueId, venueId))
    .orderBy(asc(commandSet.id))
  const jpegs =
    pictureIds.length > 0 ? await db.select().from(picture).where(inArray(picture.id, pictureIds)) : []
  return {
    file: {
      format: VENUE_FORMAT,
      version: VENUE_VERSION,
      venue: { id: found.id, name: found.name },
      cameras,
      commandSets: sets.map((s) => s.data),
      events,
    },
    pictures: new Map(jpegs.map((p) => [`pictures/${p.id}.jpg`, p.jpeg])),
  }
}
