/** What importing a venue file would change, told beforehand. */
import { isDeepStrictEqual } from 'node:util'
import * as v from 'valibot'
import type { VenueFile } from '../../core/formats/venueFile'
import { ALL_PARTS } from '../../core/presets/pace'

export const ImportMode = v.picklist(['merge', 'replace'])
export type ImportMode = v.InferOutput<typeof ImportMode>

const Names = v.array(v.string())
export const ModePlan = v.object({
  camerasAdded: Names,
  camerasChanged: Names,
  camerasRemoved: Names,
  events: Names,
  presetsAdded: v.number(),
  presetsChanged: v.number(),
  presetsRemoved: v.number(),
  commandSets: Names,
  headProfiles: Names,
  tallySources: Names,
  /** Other devices, and cues, tours and whatever else an event is run by. */
  devices: Names,
  cues: Names,
  /** Cameras whose survey comes in, and events whose room does. */
  surveys: Names,
  rooms: Names,
  remarks: Names,
})
export type ModePlan = v.InferOutput<typeof ModePlan>

export const ImportPlan = v.object({
  /** Null: a new venue is made. */
  into: v.nullable(v.string()),
  name: v.string(),
  venueId: v.string(),
  merge: ModePlan,
  replace: ModePlan,
})
export type ImportPlan = v.InferOutput<typeof ImportPlan>

/** Whatever the order of their keys: the database has one of its own. */
const same = (a: unknown, b: unknown) => isDeepStrictEqual(a, b)
const title = (c: { number: number; name: string }) => `${c.number} ${c.name}`

const presetsOf = (file: VenueFile) =>
  new Map(file.events.flatMap((e) => e.presets).map((p) => [p.id, { ...p, parts: p.parts ?? ALL_PARTS }]))

/** What an event is run by, each with a name and without its version. */
const partsOf = ({ show }: VenueFile['events'][number]) =>
  Object.values(show ?? {})
    .flat()
    .map((p) => {
      const { version: _, ...part } = p as typeof p & { version?: number }
      const name = 'name' in part ? part.name : 'label' in part ? part.label : `at ${part.time}`
      return { ...part, name }
    })

/** Its pictures have other names in each file. */
const roomOf = (e: VenueFile['events'][number] | undefined) =>
  e?.room ? { ...e.room, picture: e.room.picture !== null } : null

/** Those that are not here, or differ in age; in a merge the newer one stays. */
function surveysOf(now: VenueFile | null, file: VenueFile, replace: boolean): string[] {
  const at = (e: VenueFile['events'][number]) =>
    (e.surveys ?? []).map((s) => [`${e.id} ${s.cameraId}`, s.takenAt] as const)
  const here = new Map((now?.events ?? []).flatMap(at))
  const names = new Map(file.cameras.map((c) => [c.id, title(c)]))
  return file.events.flatMap((e) =>
    (e.surveys ?? []).flatMap((s) => {
      const taken = here.get(`${e.id} ${s.cameraId}`)
      const comes = taken === undefined || (replace ? taken !== s.takenAt : taken < s.takenAt)
      return comes ? [names.get(s.cameraId)!] : []
    }),
  )
}

function planFor(mode: ImportMode, now: VenueFile | null, file: VenueFile): ModePlan {
  const cameras = new Map((now?.cameras ?? []).map((c) => [c.id, c]))
  const presets = now ? presetsOf(now) : new Map()
  const [incoming, incomingPresets] = [new Set(file.cameras.map((c) => c.id)), presetsOf(file)]
  const events = new Set((now?.events ?? []).map((e) => e.id))
  const heads = new Map((now?.headProfiles ?? []).map((p) => [p.id, p]))
  const sets = new Map((now?.commandSets ?? []).map((s) => [s.id, s]))
  const sources = new Map((now?.tally?.sources ?? []).map((s) => [s.id, s]))
  const devices = new Map((now?.devices ?? []).map((d) => [d.id, d]))
  const parts = new Map((now?.events ?? []).flatMap(partsOf).map((p) => [p.id, p]))
  const rooms = new Map((now?.events ?? []).map((e) => [e.id, e]))
  const replace = mode === 'replace'
  const staying = replace ? [] : (now?.cameras ?? []).filter((c) => !incoming.has(c.id))
  const clash = file.cameras.filter((c) => staying.some((s) => s.number === c.number))
  return {
    camerasAdded: file.cameras.filter((c) => !cameras.has(c.id)).map(title),
    camerasChanged: file.cameras.filter((c) => cameras.has(c.id) && !same(cameras.get(c.id), c)).map(title),
    camerasRemoved: replace ? (now?.cameras ?? []).filter((c) => !incoming.has(c.id)).map(title) : [],
    events: file.events.filter((e) => !events.has(e.id)).map((e) => e.name),
    presetsAdded: [...incomingPresets.keys()].filter((id) => !presets.has(id)).length,
    presetsChanged: [...incomingPresets].filter(([id, p]) => presets.has(id) && !same(presets.get(id), p))
      .length,
    presetsRemoved: replace ? [...presets.keys()].filter((id) => !incomingPresets.has(id)).length : 0,
    headProfiles: file.headProfiles.filter((p) => !same(heads.get(p.id), p)).map((p) => p.name),
    commandSets: file.commandSets.filter((s) => !same(sets.get(s.id), s)).map((s) => s.name),
    tallySources: (file.tally?.sources ?? []).filter((s) => !same(sources.get(s.id), s)).map((s) => s.name),
    devices: (file.devices ?? []).filter((d) => !same(devices.get(d.id), d)).map((d) => d.name),
    cues: file.events
      .flatMap(partsOf)
      .filter((p) => !same(parts.get(p.id), p))
      .map(({ name }) => name),
    surveys: surveysOf(now, file, replace),
    rooms: file.events
      .filter((e) => e.room && !same(roomOf(rooms.get(e.id)), roomOf(e)))
      .map(({ name }) => name),
    remarks: clash.map((c) => `Number ${c.number} is used here: ${c.name} gets the next free number.`),
  }
}

/** @param now the venue as it is; null if it is new */
export function planImport(now: VenueFile | null, file: VenueFile): ImportPlan {
  return {
    into: now?.venue.name ?? null,
    name: file.venue.name,
    venueId: file.venue.id,
    merge: planFor('merge', now, file),
    replace: planFor('replace', now, file),
  }
}
