/** The made-up event of demo/: loaded into an empty database, added beside what is there, removed again. */
import { randomUUID } from 'node:crypto'
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { and, eq } from 'drizzle-orm'
import * as v from 'valibot'
import { CameraSettings, Secrets } from '../../core/cameras/connection'
import type { SingleConnection } from '../../core/cameras/kinds'
import { CommandSet } from '../../core/commands/commandSet'
import { PART_KINDS, SHOW_PARTS } from '../../core/cues/show'
import { FileShow } from '../../core/formats/venueFile'
import { Device } from '../../core/messages/device'
import { PresetPose } from '../../core/presets/pose'
import { parsedUrl } from '../../core/safely'
import type { TallySettings } from '../../core/tally/sources'
import { Switcher } from '../../core/tally/switcher'
import { addCamera, type CameraRow } from './cameras'
import { type Database, OPEN_VENUE, oneAtATime } from './database'
import { putDevice } from './devices'
import { addPreset, changePreset } from './presets'
import { commandSet, event, preset, venue } from './schema'
import type { SecretBox } from './secrets'
import { putShow } from './show'

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
const SHOW_PATHS = PART_KINDS.map((kind) => SHOW_PARTS[kind].path)
const DemoFile = v.object({
  venue: v.string(),
  event: v.string(),
  words: v.array(v.string()),
  commandSets: v.array(CommandSet),
  /** Addresses of the switcher's displays are the numbers of its cameras. */
  tally: v.object({
    id: v.string(),
    name: v.string(),
    switcher: v.omit(Switcher, ['enabled', 'inputs']),
  }),
  cameras: v.array(DemoCamera),
  timeZone: v.string(),
  devices: v.array(v.object({ ...Device.entries, secret: v.optional(v.string(), '') })),
  /** Things are named as "@preset 1/Host", "@camera 1", "@cue Doors": they get their ids when they are made. */
  show: v.object(Object.fromEntries(SHOW_PATHS.map((path) => [path, v.array(v.unknown())]))),
})

export interface DemoPlace {
  /** The stand-ins' network, "127.x.y". */
  net: string
  /** The serial port that they make. */
  serial: string
  /** To which their switcher sends tally. */
  tallyPort: number
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

/** With ids in place of the names. @throws ValiError, as the demo's data makes no sense */
function showOf(named: v.InferOutput<typeof DemoFile>['show'], ids: Map<string, string>): FileShow {
  for (const [path, parts] of Object.entries(named))
    for (const part of parts as { name?: string }[])
      if (part.name) ids.set(`@${path.slice(0, -1)} ${part.name}`, randomUUID())
  const idOf = (name: string) => {
    const id = ids.get(name)
    if (!id) throw new Error(`the demo has no ${name}`)
    return id
  }
  const text = JSON.stringify(named).replace(/"(@\w+ [^"]+)"/g, (_, name: string) => `"${idOf(name)}"`)
  const whole = Object.entries(JSON.parse(text) as Record<string, { name?: string }[]>).map(
    ([path, parts]) => [
      path,
      parts.map((part, i) => ({
        ...part,
        id: (part.name && ids.get(`@${path.slice(0, -1)} ${part.name}`)) ?? randomUUID(),
        order: i + 1,
      })),
    ],
  )
  return v.parse(FileShow, Object.fromEntries(whole))
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
    const [v0] = await tx
      .insert(venue)
      .values({ name: demo.venue, open: true, demo: true, timeZone: demo.timeZone })
      .returning()
    const [e0] = await tx
      .insert(event)
      .values({ venueId: v0!.id, name: demo.event, words: demo.words, open: true })
      .returning()
    for (const data of demo.commandSets)
      await tx.insert(commandSet).values({ venueId: v0!.id, id: data.id, data })
    const displays: Record<string, string> = {}
    const ids = new Map<string, string>()
    for (const { secrets, presets, ...settings } of demo.cameras) {
      const cameraId = await addCamera(inner, box, v0!.id, settings, secrets)
      displays[settings.number] = cameraId
      ids.set(`@camera ${settings.number}`, cameraId)
      for (const p of presets) {
        const jpeg = pictures.get(p.picture)!
        const shot = { pose: p.pose, light: null, jpeg, takenAt: new Date() }
        const { id } = await addPreset(inner, { eventId: e0!.id, cameraId, name: p.name, shot })
        ids.set(`@preset ${settings.number}/${p.name}`, id)
        if (p.section !== '') await changePreset(inner, id, { section: p.section })
      }
    }
    const tally: TallySettings = {
      byHand: false,
      lampsOff: [],
      switcher: {
        ...demo.tally.switcher,
        enabled: true,
        inputs: Object.fromEntries(Object.entries(displays).map(([input, id]) => [id, input])),
      },
      sources: [
        {
          id: demo.tally.id,
          name: demo.tally.name,
          kind: 'tsl31-udp',
          port: place.tallyPort,
          enabled: true,
          program: 2,
          preview: 1,
          silentAfterSeconds: null,
          cameras: displays,
        },
      ],
    }
    await tx.update(venue).set({ tally }).where(eq(venue.id, v0!.id))
    for (const { secret, ...device } of demo.devices) {
      const id = randomUUID()
      ids.set(`@device ${device.name}`, id)
      await putDevice(tx, box, v0!.id, id, device, secret)
    }
    await putShow(tx, e0!.id, showOf(demo.show, ids), true)
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
