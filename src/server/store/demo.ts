/** The made-up event of demo/: loaded into an empty database, added beside what is there, removed again. */
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { and, eq } from 'drizzle-orm'
import * as v from 'valibot'
import { CameraSettings, Secrets } from '../../core/cameras/connection'
import type { SingleConnection } from '../../core/cameras/kinds'
import { CommandSet } from '../../core/commands/commandSet'
import { PresetPose } from '../../core/presets/pose'
import { parsedUrl } from '../../core/safely'
import { addCamera, type CameraRow } from './cameras'
import { type Database, OPEN_VENUE, oneAtATime } from './database'
import { addPreset, changePreset } from './presets'
import { commandSet, event, preset, venue } from './schema'
import type { SecretBox } from './secrets'

const DemoCamera = v.object({
  ...CameraSettings.entries,
  secrets: Secrets,
  presets: v.array(
    v.object({
      name: v.string(),
      section: v.optional(v.string(), ''),
      picture: v.string(),
      pose: PresetPose,
    }),
  ),
})
const DemoFile = v.object({
  venue: v.string(),
  event: v.string(),
  words: v.array(v.string()),
  commandSets: v.array(CommandSet),
  cameras: v.array(DemoCamera),
})

export interface DemoPlace {
  /** The stand-ins' network, "127.x.y". */
  net: string
  /** The serial port that they make. */
  serial: string
}

export interface DemoSource {
  /** With quiz-final.json and its pictures. */
  folder: string
  place: DemoPlace
}

const partsOf = ({ connection }: Pick<CameraRow, 'connection'>): SingleConnection[] =>
  connection.kind === 'rig' ? [connection.head, connection.lens] : [connection]

/** Is any of these cameras a stand-in of ours? Then the stand-ins have to run. */
export function usesStandIns(
  rows: readonly Pick<CameraRow, 'connection' | 'picture'>[],
  place: DemoPlace,
): boolean {
  const ours = (host: string) => host.startsWith(`${place.net}.`)
  return rows.some((row) => {
    const { picture } = row
    const stream = picture.kind === 'cut-stream' ? picture.stream : picture
    if ('url' in stream && ours(parsedUrl(stream.url)?.hostname ?? '')) return true
    return partsOf(row).some((part) =>
      part.kind === 'visca-serial' ? part.path === place.serial : ours(part.host),
    )
  })
}

/** @returns false where there is a venue already, and only an empty database was to be filled */
export async function loadDemo(
  db: Database,
  box: SecretBox,
  { folder, place }: DemoSource,
  when: 'if-empty' | 'always',
): Promise<boolean> {
  const existing = await db.select({ id: venue.id }).from(venue).limit(1)
  if (when === 'if-empty' && existing.length > 0) return false
  const text = await readFile(join(folder, 'quiz-final.json'), 'utf8')
  const filled = text.replaceAll('@net', place.net).replaceAll('@serial', place.serial)
  const demo = v.parse(DemoFile, JSON.parse(filled))
  const pictures = new Map<string, Buffer>()
  for (const { picture } of demo.cameras.flatMap((c) => c.presets))
    pictures.set(picture, await readFile(join(folder, 'pictures', picture)))
  await db.transaction(async (tx) => {
    const inner = tx as unknown as Database
    await oneAtATime(tx, OPEN_VENUE)
    await tx.update(venue).set({ open: false }).where(eq(venue.open, true))
    const [v0] = await tx.insert(venue).values({ name: demo.venue, open: true, demo: true }).returning()
    const [e0] = await tx
      .insert(event)
      .values({ venueId: v0!.id, name: demo.event, words: demo.words, open: true })
      .returning()
    for (const data of demo.commandSets)
      await tx.insert(commandSet).values({ venueId: v0!.id, id: data.id, data })
    for (const { secrets, presets, ...settings } of demo.cameras) {
      const cameraId = await addCamera(inner, box, v0!.id, settings, secrets)
      for (const p of presets) {
        const jpeg = pictures.get(p.picture)!
        const shot = { pose: p.pose, light: null, jpeg, takenAt: new Date() }
        const { id } = await addPreset(inner, { eventId: e0!.id, cameraId, name: p.name, shot })
        if (p.section !== '') await changePreset(inner, id, { section: p.section })
      }
    }
  })
  return true
}

export async function hasDemo(db: Database): Promise<boolean> {
  const found = await db.select({ id: venue.id }).from(venue).where(eq(venue.demo, true)).limit(1)
  return found.length > 0
}

/** Removes the demo's venue; where another is left, that is opened. @returns false if it does not exist */
export async function removeDemo(db: Database): Promise<boolean> {
  return db.transaction(async (tx) => {
    await oneAtATime(tx, OPEN_VENUE)
    const gone = await tx.delete(venue).where(eq(venue.demo, true)).returning({ id: venue.id })
    if (gone.length === 0) return false
    const left = await tx.select().from(venue).orderBy(venue.createdAt)
    const [first] = left
    if (!first || left.some((v0) => v0.open)) return true
    await tx.update(venue).set({ open: true }).where(eq(venue.id, first.id))
    const events = await tx.select().from(event).where(eq(event.venueId, first.id)).orderBy(event.createdAt)
    if (events[0] && !events.some((e) => e.open))
      await tx
        .update(event)
        .set({ open: true })
        .where(and(eq(event.id, events[0].id), eq(event.venueId, first.id)))
    return true
  })
}

/** Empties everything, for a fresh demo. */
export async function clearAll(db: Database): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.delete(preset)
    await tx.delete(venue)
  })
}
