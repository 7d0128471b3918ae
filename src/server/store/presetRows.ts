/** Between a preset's fields and its two rows: what is said of it, and what was stored last. */
import { and, asc, eq, inArray, isNull } from 'drizzle-orm'
import { ALL_PARTS } from '../../core/presets/pace'
import type { PresetView } from '../../core/presets/preset'
import type { Database } from './database'
import { poseOf } from './poseColumns'
import { preset, presetVersion } from './schema'

interface PresetRow {
  p: typeof preset.$inferSelect
  x: typeof presetVersion.$inferSelect
}

export function presetView({ p, x }: PresetRow): PresetView {
  return {
    id: p.id,
    cameraId: p.cameraId,
    number: p.number,
    order: p.order,
    name: p.name,
    section: p.section,
    mark: p.mark,
    pace: p.pace,
    parts: p.parts ?? ALL_PARTS,
    look: p.look,
    version: x.version,
    pose: poseOf(x),
    light: x.light,
    memory: p.memory,
    pinned: p.pinnedOrder,
    pictureId: x.pictureId,
    surveyed: x.surveyed,
    storedAt: x.storedAt.toISOString(),
  }
}

const currentVersion = and(
  eq(presetVersion.presetId, preset.id),
  eq(presetVersion.version, preset.currentVersion),
)

/** As the boards show them: by their order, then their number. */
export const byPlace = (a: PresetView, b: PresetView): number =>
  a.order - b.order || a.number - b.number || (a.id < b.id ? -1 : 1)

/** Those of an event. @param page how many, and from where; all if omitted */
export async function presetsOf(
  db: Database,
  eventId: string,
  page?: { limit: number; offset: number },
): Promise<PresetView[]> {
  const query = db
    .select({ p: preset, x: presetVersion })
    .from(preset)
    .innerJoin(presetVersion, currentVersion)
    .where(and(eq(preset.eventId, eventId), isNull(preset.deletedAt)))
    .orderBy(asc(preset.order), asc(preset.number), asc(preset.id))
  const rows = await (page ? query.limit(page.limit).offset(page.offset) : query)
  return rows.map(presetView)
}

/** Those of these ids that are in an event and not deleted. */
export async function presetsWith(
  db: Database,
  eventId: string,
  ids: readonly string[],
): Promise<PresetView[]> {
  if (ids.length === 0) return []
  const rows = await db
    .select({ p: preset, x: presetVersion })
    .from(preset)
    .innerJoin(presetVersion, currentVersion)
    .where(and(eq(preset.eventId, eventId), inArray(preset.id, [...ids]), isNull(preset.deletedAt)))
  return rows.map(presetView)
}
