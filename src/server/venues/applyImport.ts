/** Imports a venue file into the database, whole or not at all. */
import { randomUUID } from 'node:crypto'
import { and, eq, inArray, isNull, ne, notInArray } from 'drizzle-orm'
import { keptSecrets } from '../../core/cameras/keptSecrets'
import type { FileCamera, FilePreset, VenueFile } from '../../core/formats/venueFile'
import { type Database, OPEN_VENUE, oneAtATime, openEventOf } from '../store/database'
import { putDevice } from '../store/devices'
import { putHeads } from '../store/heads'
import { poseColumns, poseOf } from '../store/poseColumns'
import {
  camera,
  commandSet,
  device,
  event,
  picture,
  preset,
  presetVersion,
  seatGrid,
  showPart,
  venue,
} from '../store/schema'
import { addGrid } from '../store/seatGrids'
import type { SecretBox } from '../store/secrets'
import { putShow } from '../store/show'
import { imported, setTally } from '../store/tally'
import type { ImportMode } from './importPlan'
import { roomIn, surveysIn } from './sightlineFiles'
import type { VenueBundle } from './zip'

type Ids = ReadonlyMap<string, string>

/** An id that belongs to another venue is not touched: what comes gets a new one. */
async function settleIds(db: Database, file: VenueFile, venueId: string): Promise<Ids> {
  const ids = new Map<string, string>()
  const cameraIds = file.cameras.map((c) => c.id)
  const eventIds = file.events.map((e) => e.id)
  const presetIds = file.events.flatMap((e) => e.presets.map((p) => p.id))
  const foreign = new Set<string>()
  if (cameraIds.length > 0) {
    const rows = await db
      .select()
      .from(camera)
      .where(and(inArray(camera.id, cameraIds), ne(camera.venueId, venueId)))
    for (const row of rows) foreign.add(row.id)
  }
  if (eventIds.length > 0) {
    const rows = await db
      .select()
      .from(event)
      .where(and(inArray(event.id, eventIds), ne(event.venueId, venueId)))
    for (const row of rows) foreign.add(row.id)
  }
  if (presetIds.length > 0) {
    const rows = await db
      .select({ id: preset.id })
      .from(preset)
      .innerJoin(event, eq(event.id, preset.eventId))
      .where(and(inArray(preset.id, presetIds), ne(event.venueId, venueId)))
    for (const row of rows) foreign.add(row.id)
  }
  const partIds = file.events.flatMap(({ show }) =>
    show
      ? Object.values(show)
          .flat()
          .map(({ id }) => id)
      : [],
  )
  if (partIds.length > 0) {
    const rows = await db
      .select({ id: showPart.id })
      .from(showPart)
      .innerJoin(event, eq(event.id, showPart.eventId))
      .where(and(inArray(showPart.id, partIds), ne(event.venueId, venueId)))
    for (const row of rows) foreign.add(row.id)
  }
  const gridIds = file.events.flatMap(({ grids }) => grids.map(({ id }) => id))
  if (gridIds.length > 0) {
    const rows = await db
      .select({ id: seatGrid.id })
      .from(seatGrid)
      .innerJoin(event, eq(event.id, seatGrid.eventId))
      .where(and(inArray(seatGrid.id, gridIds), ne(event.venueId, venueId)))
    for (const row of rows) foreign.add(row.id)
  }
  const deviceIds = (file.devices ?? []).map((d) => d.id)
  if (deviceIds.length > 0) {
    const rows = await db
      .select()
      .from(device)
      .where(and(inArray(device.id, deviceIds), ne(device.venueId, venueId)))
    for (const row of rows) foreign.add(row.id)
  }
  for (const id of [...cameraIds, ...eventIds, ...presetIds, ...partIds, ...gridIds, ...deviceIds])
    ids.set(id, foreign.has(id) ? randomUUID() : id)
  return ids
}

async function putCameras(
  db: Database,
  venueId: string,
  box: SecretBox,
  cameras: readonly FileCamera[],
  ids: Ids,
  mode: ImportMode,
): Promise<void> {
  const mine = cameras.map((c) => ids.get(c.id)!)
  const here = await db
    .select()
    .from(camera)
    .where(and(eq(camera.venueId, venueId), isNull(camera.deletedAt)))
  const others = here.filter((row) => !mine.includes(row.id))
  if (mode === 'replace' && others.length > 0) {
    await db
      .update(camera)
      .set({ deletedAt: new Date() })
      .where(
        inArray(
          camera.id,
          others.map((row) => row.id),
        ),
      )
  }
  const used = new Set(mode === 'replace' ? [] : others.map((row) => row.number))
  // First beyond all numbers, since two cameras may swap places.
  for (const [i, row] of here.filter((r) => mine.includes(r.id)).entries()) {
    await db
      .update(camera)
      .set({ number: 100_000 + i })
      .where(eq(camera.id, row.id))
  }
  for (const c of cameras) {
    let number = c.number
    while (used.has(number)) number += 1
    used.add(number)
    const picture =
      c.picture.kind === 'cut-camera'
        ? { ...c.picture, camera: ids.get(c.picture.camera) ?? c.picture.camera }
        : c.picture
    const { id: _, ...settings } = { ...c, number, picture }
    const id = ids.get(c.id)!
    const [before] = await db.select().from(camera).where(eq(camera.id, id))
    // Its passwords, which no file has, are kept for as long as they go where they went.
    const secrets = before ? box.seal(keptSecrets(box.open(before.secrets), before, settings)) : null
    await db
      .insert(camera)
      .values({ id, venueId, ...settings })
      .onConflictDoUpdate({ target: camera.id, set: { ...settings, secrets, deletedAt: null } })
  }
}

function isSame(
  x: typeof presetVersion.$inferSelect,
  { pose, light, picture: name, surveyed }: FilePreset,
): boolean {
  const kept = x.pictureId === null ? null : `pictures/${x.pictureId}.jpg`
  const same = kept === name && x.surveyed === surveyed
  return same && JSON.stringify([poseOf(x), x.light]) === JSON.stringify([pose, light])
}

/** Where it is on the boards, and how it travels. */
const boardOf = ({ section, mark, pinned, pace, parts, look, memory }: FilePreset) => ({
  section,
  mark,
  pinnedOrder: pinned,
  pace,
  parts,
  look,
  memory,
})

async function putPreset(
  db: Database,
  eventId: string,
  p: FilePreset,
  ids: Ids,
  pictures: ReadonlyMap<string, Buffer>,
): Promise<void> {
  const id = ids.get(p.id)!
  const [known] = await db.select().from(preset).where(eq(preset.id, id))
  const versions = known ? await db.select().from(presetVersion).where(eq(presetVersion.presetId, id)) : []
  const current = versions.find((x) => x.version === known?.currentVersion)
  if (known && current && !known.deletedAt && isSame(current, p)) {
    const { number, order, name } = p
    await db
      .update(preset)
      .set({ number, order, name, ...boardOf(p) })
      .where(eq(preset.id, id))
    return
  }
  const version = versions.reduce((most, x) => Math.max(most, x.version), 0) + 1
  const jpeg = p.picture === null ? null : pictures.get(p.picture)!
  const [kept] = jpeg
    ? await db
        .insert(picture)
        .values({ jpeg, takenAt: new Date(p.storedAt) })
        .returning({ id: picture.id })
    : []
  const values = {
    eventId,
    cameraId: ids.get(p.cameraId)!,
    number: p.number,
    order: p.order,
    name: p.name,
    ...boardOf(p),
    currentVersion: version,
    deletedAt: null,
  }
  await db
    .insert(preset)
    .values({ id, ...values })
    .onConflictDoUpdate({ target: preset.id, set: values })
  // Never over a former version: what was there can be gone back to.
  await db.insert(presetVersion).values({
    presetId: id,
    version,
    ...poseColumns(p.pose),
    light: p.light,
    pictureId: kept?.id ?? null,
    surveyed: p.surveyed,
    storedAt: new Date(p.storedAt),
  })
}

const AN_ID = /[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}/gi

/** With the ids that its cameras, presets and parts have here, wherever they are named. */
const withIds = <T>(value: T, ids: Ids): T =>
  JSON.parse(JSON.stringify(value).replace(AN_ID, (id) => ids.get(id) ?? id)) as T

async function putDevices(
  db: Database,
  venueId: string,
  devices: NonNullable<VenueFile['devices']>,
  box: SecretBox,
  ids: Ids,
  mode: ImportMode,
): Promise<void> {
  const mine = devices.map(({ id }) => ids.get(id)!)
  // One that stays keeps its secret, which no file has.
  if (mode === 'replace')
    await db
      .delete(device)
      .where(
        mine.length > 0
          ? and(eq(device.venueId, venueId), notInArray(device.id, mine))
          : eq(device.venueId, venueId),
      )
  for (const { id, ...data } of devices) await putDevice(db, box, venueId, ids.get(id)!, data, null)
}

async function putEvents(
  db: Database,
  venueId: string,
  { file, pictures }: VenueBundle,
  ids: Ids,
  mode: ImportMode,
): Promise<void> {
  const mine = file.events.map((e) => ids.get(e.id)!)
  if (mode === 'replace') {
    const gone =
      mine.length > 0
        ? and(eq(event.venueId, venueId), notInArray(event.id, mine))
        : eq(event.venueId, venueId)
    await db.delete(event).where(gone)
  }
  const [open] = await db
    .select()
    .from(event)
    .where(and(eq(event.venueId, venueId), eq(event.open, true)))
  let opened = open !== undefined
  for (const e of file.events) {
    const eventId = ids.get(e.id)!
    const [known] = await db.select().from(event).where(eq(event.id, eventId))
    if (known)
      await db
        .update(event)
        .set({ name: e.name, words: e.words, ...(e.guard ? { guard: e.guard } : {}) })
        .where(eq(event.id, eventId))
    else {
      const first = !opened && (e.open || file.events.every((other) => !other.open))
      opened ||= first
      await db
        .insert(event)
        .values({ id: eventId, venueId, name: e.name, words: e.words, guard: e.guard, open: first })
    }
    const presetIds = e.presets.map((p) => ids.get(p.id)!)
    const now = await db
      .select()
      .from(preset)
      .where(and(eq(preset.eventId, eventId), isNull(preset.deletedAt)))
    const others = now.filter((p) => !presetIds.includes(p.id))
    if (mode === 'replace' && others.length > 0) {
      await db
        .update(preset)
        .set({ deletedAt: new Date() })
        .where(
          inArray(
            preset.id,
            others.map((p) => p.id),
          ),
        )
    }
    // The same move as with the cameras' numbers.
    for (const [i, p] of now.filter((row) => presetIds.includes(row.id)).entries()) {
      await db
        .update(preset)
        .set({ number: 1_000_000 + i })
        .where(eq(preset.id, p.id))
    }
    const used = new Set(mode === 'replace' ? [] : others.map((p) => `${p.cameraId} ${p.number}`))
    for (const p of e.presets) {
      const place = () => `${ids.get(p.cameraId)!} ${p.number}`
      while (used.has(place())) p.number += 1
      used.add(place())
      await putPreset(db, eventId, p, ids, pictures)
    }
    if (e.surveys) await surveysIn(db, eventId, withIds(e.surveys, ids), pictures, mode === 'merge')
    for (const grid of withIds(e.grids, ids)) await addGrid(db, eventId, grid)
    const here = new Set(file.cameras.map((c) => ids.get(c.id)!))
    if (e.room) await roomIn(db, eventId, withIds(e.room, ids), here, pictures)
    if (e.show) await putShow(db, eventId, withIds(e.show, ids), mode === 'replace')
  }
  if (!opened) await db.insert(event).values({ venueId, name: 'First event', open: true })
}

/** @returns the venue's id */
export function applyImport(
  db: Database,
  box: SecretBox,
  bundle: VenueBundle,
  mode: ImportMode,
): Promise<string> {
  const { file } = bundle
  return db.transaction(async (transaction) => {
    const tx = transaction as unknown as Database
    await oneAtATime(tx, OPEN_VENUE)
    await oneAtATime(tx, openEventOf(file.venue.id))
    const [known] = await tx.select().from(venue).where(eq(venue.id, file.venue.id)).for('update')
    const { name, timeZone } = file.venue
    if (known)
      await tx
        .update(venue)
        .set({ name, ...(timeZone === null ? {} : { timeZone }) })
        .where(eq(venue.id, known.id))
    else {
      await tx.update(venue).set({ open: false }).where(eq(venue.open, true))
      await tx.insert(venue).values({ id: file.venue.id, name, timeZone, open: true })
    }
    const venueId = file.venue.id
    const ids = await settleIds(tx, file, venueId)
    await putHeads(tx, venueId, file.headProfiles, mode === 'replace')
    if (mode === 'replace') await tx.delete(commandSet).where(eq(commandSet.venueId, venueId))
    for (const data of file.commandSets) {
      await tx
        .insert(commandSet)
        .values({ venueId, id: data.id, data })
        .onConflictDoUpdate({ target: [commandSet.venueId, commandSet.id], set: { data } })
    }
    await putCameras(tx, venueId, box, file.cameras, ids, mode)
    if (file.devices) await putDevices(tx, venueId, file.devices, box, ids, mode)
    await putEvents(tx, venueId, bundle, ids, mode)
    if (file.tally)
      await setTally(tx, venueId, imported(file.tally, ids, known?.tally ?? null, mode === 'merge'))
    return venueId
  })
}
