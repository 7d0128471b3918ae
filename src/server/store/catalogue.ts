/**
 * What is open now: venue, event, cameras and presets, read into memory so that a recall never waits
 * for the database. Read again after every change.
 */
import { and, asc, eq, isNull } from 'drizzle-orm'
import * as v from 'valibot'
import { PresetPose } from '../../core/presets/pose'
import type { Database } from './database'
import { camera, event, preset, presetVersion, venue } from './schema'

export const PresetView = v.object({
  id: v.string(),
  cameraId: v.string(),
  number: v.number(),
  order: v.number(),
  name: v.string(),
  version: v.number(),
  pose: PresetPose,
  pictureId: v.nullable(v.string()),
  /** ISO 8601. */
  storedAt: v.string(),
})
export type PresetView = v.InferOutput<typeof PresetView>

export const CameraView = v.object({
  id: v.string(),
  number: v.number(),
  name: v.string(),
  link: v.string(),
  host: v.string(),
  port: v.number(),
  headProfile: v.string(),
  hasPicture: v.boolean(),
})
export type CameraView = v.InferOutput<typeof CameraView>

export const DeskView = v.object({
  venue: v.object({ id: v.string(), name: v.string() }),
  event: v.object({ id: v.string(), name: v.string() }),
  cameras: v.array(CameraView),
  presets: v.array(PresetView),
})
export type DeskView = v.InferOutput<typeof DeskView>

export type CameraRow = typeof camera.$inferSelect

export interface Snapshot {
  view: DeskView
  cameraRows: CameraRow[]
}

async function readPresets(db: Database, eventId: string): Promise<PresetView[]> {
  const rows = await db
    .select({ p: preset, version: presetVersion })
    .from(preset)
    .innerJoin(
      presetVersion,
      and(eq(presetVersion.presetId, preset.id), eq(presetVersion.version, preset.currentVersion)),
    )
    .where(and(eq(preset.eventId, eventId), isNull(preset.deletedAt)))
    .orderBy(asc(preset.order), asc(preset.number))
  return rows.map(({ p, version: x }) => ({
    id: p.id,
    cameraId: p.cameraId,
    number: p.number,
    order: p.order,
    name: p.name,
    version: x.version,
    pose: { panDeg: x.panDeg, tiltDeg: x.tiltDeg, zoom: x.zoom, focusAuto: x.focusAuto, focus: x.focus },
    pictureId: x.pictureId,
    storedAt: x.storedAt.toISOString(),
  }))
}

/** Null where there is no venue with an open event yet. */
export async function readDesk(db: Database): Promise<Snapshot | null> {
  const [open] = await db
    .select({ event, venue })
    .from(event)
    .innerJoin(venue, eq(venue.id, event.venueId))
    .where(eq(event.open, true))
    .limit(1)
  if (!open) return null
  const cameraRows = await db
    .select()
    .from(camera)
    .where(eq(camera.venueId, open.venue.id))
    .orderBy(asc(camera.number))
  return {
    cameraRows,
    view: {
      venue: { id: open.venue.id, name: open.venue.name },
      event: { id: open.event.id, name: open.event.name },
      cameras: cameraRows.map((c) => ({
        id: c.id,
        number: c.number,
        name: c.name,
        link: c.link,
        host: c.host,
        port: c.port,
        headProfile: c.headProfile,
        hasPicture: c.streamUrl !== null || c.snapshotUrl !== null,
      })),
      presets: await readPresets(db, open.event.id),
    },
  }
}

/** Holds the newest snapshot. */
export class Catalogue {
  private snapshot: Snapshot | null = null

  constructor(private readonly db: Database) {}

  async refresh(): Promise<void> {
    this.snapshot = await readDesk(this.db)
  }

  get current(): Snapshot | null {
    return this.snapshot
  }

  preset(id: string): PresetView | null {
    return this.snapshot?.view.presets.find((p) => p.id === id) ?? null
  }
}
