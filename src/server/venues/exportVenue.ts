/** A whole venue out of the database: cameras, command sets, events with presets and pictures. */
import { asc, eq, inArray } from 'drizzle-orm'
import { type FileEvent, type FilePreset, VENUE_FORMAT, VENUE_VERSION } from '../../core/formats/venueFile'
import { readCameras, settingsOf } from '../store/cameras'
import type { Database } from '../store/database'
import { readHeads } from '../store/heads'
import { presetsOf } from '../store/presetRows'
import { commandSet, device, event, picture, venue } from '../store/schema'
import { readGrids } from '../store/seatGrids'
import { readShow } from '../store/show'
import { forCameras } from '../store/tally'
import { roomOut, surveysOut } from './sightlineFiles'
import type { VenueBundle } from './zip'

async function readPresets(
  db: Database,
  eventId: string,
  cameras: ReadonlySet<string>,
): Promise<{ preset: FilePreset; pictureId: string | null }[]> {
  const all = await presetsOf(db, eventId)
  return all
    .filter((p) => cameras.has(p.cameraId))
    .map(({ version: _, pictureId, ...fields }) => ({
      pictureId,
      preset: { ...fields, picture: pictureId === null ? null : `pictures/${pictureId}.jpg` },
    }))
}

/** Null if there is no such venue. */
export async function exportVenue(db: Database, venueId: string): Promise<VenueBundle | null> {
  const [found] = await db.select().from(venue).where(eq(venue.id, venueId))
  if (!found) return null
  const rows = await readCameras(db, venueId)
  const cameras = rows.map((row) => ({ id: row.id, order: row.order, ...settingsOf(row) }))
  const ids = new Set(cameras.map((c) => c.id))
  const events: FileEvent[] = []
  const pictureIds: string[] = []
  const further = new Map<string, Buffer>()
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
      guard: e.guard,
      show: await readShow(db, e.id),
      presets: presets.map((p) => p.preset),
      surveys: await surveysOut(db, e.id, ids, further),
      grids: (await readGrids(db, e.id)).filter(({ cameraId }) => ids.has(cameraId)),
      room: await roomOut(db, e.id, further),
    })
  }
  const sets = await db
    .select()
    .from(commandSet)
    .where(eq(commandSet.venueId, venueId))
    .orderBy(asc(commandSet.id))
  const devices = await db
    .select()
    .from(device)
    .where(eq(device.venueId, venueId))
    .orderBy(asc(device.createdAt))
  const jpegs =
    pictureIds.length > 0 ? await db.select().from(picture).where(inArray(picture.id, pictureIds)) : []
  return {
    file: {
      format: VENUE_FORMAT,
      version: VENUE_VERSION,
      venue: { id: found.id, name: found.name, timeZone: found.timeZone },
      cameras,
      commandSets: sets.map((s) => s.data),
      headProfiles: await readHeads(db, venueId),
      tally: forCameras(
        found.tally,
        cameras.map(({ id }) => id),
      ),
      devices: devices.map(({ id, data }) => ({ id, ...data })),
      events,
    },
    pictures: new Map([...jpegs.map((p) => [`pictures/${p.id}.jpg`, p.jpeg] as const), ...further]),
  }
}
