/**
 * What is open now: venue, event, cameras and presets, read into memory so that a recall never waits
 * for the database. Read again after every change.
 */
import { and, asc, count, eq, isNull } from 'drizzle-orm'
import * as v from 'valibot'
import { CameraSettings, type Secrets } from '../../core/cameras/connection'
import { CommandSet } from '../../core/commands/commandSet'
import type { KeptShow } from '../../core/cues/now'
import { Show } from '../../core/cues/show'
import { isZone } from '../../core/cues/zone'
import { HeadProfile } from '../../core/heads/profile'
import { DeviceView } from '../../core/messages/device'
import { Guard, USUAL_GUARD } from '../../core/orders/guardSettings'
import { PresetView } from '../../core/presets/preset'
import type { OscSettings } from '../../core/remote/settings'
import { TallySettings } from '../../core/tally/sources'
import type { Spoken } from '../tally/tally'
import { type CameraRow, readCameras, settingsOf } from './cameras'
import type { Database } from './database'
import { type DeviceRow, readDevices } from './devices'
import { readHeads } from './heads'
import { byPlace, presetsOf, presetsWith } from './presetRows'
import { camera, commandSet, event, preset, venue } from './schema'
import type { SecretBox } from './secrets'
import { readShow } from './show'
import { forCameras } from './tally'
import { weakPasswordWarning } from './weakPassword'

export const CameraView = v.object({
  id: v.string(),
  ...CameraSettings.entries,
  /** Which passwords are kept; they themselves never leave the server. */
  passwords: v.object({ link: v.boolean(), lens: v.boolean(), picture: v.boolean() }),
  /** What should be mended, in sentences. */
  warnings: v.array(v.string()),
})
export type CameraView = v.InferOutput<typeof CameraView>

export const DeskView = v.object({
  /** `timeZone`: as `Europe/London`. */
  venue: v.object({ id: v.string(), name: v.string(), timeZone: v.string() }),
  event: v.object({ id: v.string(), name: v.string(), words: v.array(v.string()), guard: Guard }),
  /** Of the open venue. */
  events: v.array(v.object({ id: v.string(), name: v.string(), presets: v.number() })),
  venues: v.array(v.object({ id: v.string(), name: v.string(), cameras: v.number() })),
  cameras: v.array(CameraView),
  commandSets: v.array(CommandSet),
  /** The venue's own; those that come with the application are known anyway. */
  headProfiles: v.array(HeadProfile),
  tally: TallySettings,
  show: Show,
  devices: v.array(DeviceView),
  presets: v.array(PresetView),
})
export type DeskView = v.InferOutput<typeof DeskView>

/** Lets the hands go first. */
const breath = () => new Promise<void>((resolve) => setImmediate(resolve))

/** As JSON, made a piece at a time. */
async function jsonOf({ presets, ...rest }: DeskView): Promise<string> {
  const pieces: string[] = []
  for (let i = 0; i < presets.length; i += PAGE) {
    pieces.push(
      presets
        .slice(i, i + PAGE)
        .map((p) => JSON.stringify(p))
        .join(','),
    )
    await breath()
  }
  return `${JSON.stringify(rest).slice(0, -1)},"presets":[${pieces.join(',')}]}`
}

export interface Snapshot {
  view: DeskView
  /** The view as JSON, made once. */
  text(): Promise<string>
  /** Presets by their ids. */
  presets: ReadonlyMap<string, PresetView>
  cameraRows: CameraRow[]
  /** Passwords by camera, opened; for the drivers alone. */
  secrets: ReadonlyMap<string, Secrets>
  commandSets: ReadonlyMap<string, CommandSet>
  tallySpoken: Spoken
  showKept: KeptShow | null
  devices: readonly DeviceRow[]
  osc: OscSettings | null
}

/** Where this computer is. */
const OWN_ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone
/** One that this computer does not know must not keep the clock from running. */
const zoneOf = (zone: string | null): string => (zone !== null && isZone(zone) ? zone : OWN_ZONE)

/** This many at a time: reading thousands at once would block the loop. */
const PAGE = 500

async function readPresets(db: Database, eventId: string): Promise<PresetView[]> {
  const found: PresetView[] = []
  for (let read = PAGE; read === PAGE; ) {
    const page = await presetsOf(db, eventId, { limit: PAGE, offset: found.length })
    read = page.length
    found.push(...page)
    await breath()
  }
  return found
}

async function readEvents(db: Database, venueId: string): Promise<DeskView['events']> {
  const rows = await db
    .select({ id: event.id, name: event.name, presets: count(preset.id) })
    .from(event)
    .leftJoin(preset, and(eq(preset.eventId, event.id), isNull(preset.deletedAt)))
    .where(eq(event.venueId, venueId))
    .groupBy(event.id)
    .orderBy(asc(event.createdAt))
  return rows
}

function warningsOf(row: CameraRow, secrets: Secrets): string[] {
  const { connection, picture } = row
  const parts = connection.kind === 'rig' ? [connection.head, connection.lens] : [connection]
  const found = parts.map((part, i) =>
    'user' in part
      ? weakPasswordWarning('This camera', part.user, secrets[i === 0 ? 'link' : 'lens'] ?? '')
      : null,
  )
  if ('user' in picture) {
    // Where none was entered for the picture, the link's own is used for the same user.
    const linkUser = 'user' in connection ? connection.user : null
    const password = secrets.picture ?? (picture.user === linkUser ? (secrets.link ?? '') : '')
    found.push(weakPasswordWarning('The picture of this camera', picture.user, password))
  }
  return [...new Set(found.filter((text) => text !== null))]
}

function cameraView(row: CameraRow, secrets: Secrets): CameraView {
  return {
    id: row.id,
    ...settingsOf(row),
    passwords: { link: !!secrets.link, lens: !!secrets.lens, picture: !!secrets.picture },
    warnings: warningsOf(row, secrets),
  }
}

/** Null if there is no venue with an open event yet. */
export async function readDesk(db: Database, box: SecretBox): Promise<Snapshot | null> {
  const [open] = await db
    .select({ event, venue })
    .from(event)
    .innerJoin(venue, eq(venue.id, event.venueId))
    .where(and(eq(event.open, true), eq(venue.open, true)))
    .limit(1)
  if (!open) return null
  const cameraRows = await readCameras(db, open.venue.id)
  const secrets = new Map(cameraRows.map((row) => [row.id, box.open(row.secrets)]))
  const sets = await db
    .select()
    .from(commandSet)
    .where(eq(commandSet.venueId, open.venue.id))
    .orderBy(asc(commandSet.id))
  const venues = await db
    .select({ id: venue.id, name: venue.name, cameras: count(camera.id) })
    .from(venue)
    .leftJoin(camera, and(eq(camera.venueId, venue.id), isNull(camera.deletedAt)))
    .groupBy(venue.id)
    .orderBy(asc(venue.createdAt))
  const presets = await readPresets(db, open.event.id)
  const devices = await readDevices(db, box, open.venue.id)
  const view: DeskView = {
    venue: { id: open.venue.id, name: open.venue.name, timeZone: zoneOf(open.venue.timeZone) },
    event: {
      id: open.event.id,
      name: open.event.name,
      words: open.event.words,
      guard: open.event.guard ?? USUAL_GUARD,
    },
    events: await readEvents(db, open.venue.id),
    venues,
    cameras: cameraRows.map((row) => cameraView(row, secrets.get(row.id) ?? {})),
    commandSets: sets.map((set) => set.data),
    headProfiles: await readHeads(db, open.venue.id),
    tally: forCameras(
      open.venue.tally,
      cameraRows.map(({ id }) => id),
    ),
    show: await readShow(db, open.event.id),
    devices: devices.map(({ view: device }) => device),
    presets,
  }
  return {
    ...withText(view),
    cameraRows,
    secrets,
    commandSets: new Map(sets.map((set) => [set.id, set.data])),
    tallySpoken: open.venue.tallySpoken ?? [],
    showKept: open.event.showKept,
    devices,
    osc: open.venue.osc,
  }
}

/** What follows from a view. */
function withText(view: DeskView): Pick<Snapshot, 'view' | 'text' | 'presets'> {
  let text: Promise<string> | null = null
  return {
    view,
    text: () => {
      text ??= jsonOf(view)
      return text
    },
    presets: new Map(view.presets.map((p) => [p.id, p])),
  }
}

/** What was changed in the store: some presets of the open event, or anything. */
export type Changed = { presets: readonly string[] } | 'anything'

/** Holds the newest snapshot. */
export class Catalogue {
  private snapshot: Snapshot | null = null
  private reading: Promise<void> = Promise.resolve()

  constructor(
    private readonly db: Database,
    private readonly box: SecretBox,
  ) {}

  /** One at a time, so that an older reading never replaces a newer one. */
  refresh(changed: Changed = 'anything'): Promise<void> {
    const mine = this.reading.then(async () => {
      const { snapshot } = this
      this.snapshot =
        changed === 'anything' || !snapshot
          ? await readDesk(this.db, this.box)
          : await this.withPresets(snapshot, changed.presets)
    })
    this.reading = mine.catch(() => {})
    return mine
  }

  /** Reads only these presets again. */
  private async withPresets(snapshot: Snapshot, ids: readonly string[]): Promise<Snapshot> {
    const { view } = snapshot
    const read = await presetsWith(this.db, view.event.id, ids)
    const events = await readEvents(this.db, view.venue.id)
    const again = new Set(ids)
    const presets = [...view.presets.filter((p) => !again.has(p.id)), ...read].sort(byPlace)
    return { ...snapshot, ...withText({ ...view, events, presets }) }
  }

  get current(): Snapshot | null {
    return this.snapshot
  }

  preset(id: string): PresetView | null {
    return this.snapshot?.presets.get(id) ?? null
  }

  camera(id: string): CameraView | null {
    return this.snapshot?.view.cameras.find((c) => c.id === id) ?? null
  }
}
