/** What somebody may see and touch of what is open now: rights and reach, with a helper's desk taken into account. */
import { ALL_RIGHTS, type Grant, type Reach, type Right, reachOf, rightsOf } from './rights'

/** Of a preset, what says who reaches it. */
export interface PresetPlace {
  id: string
  cameraId: string
  section: string
}

/** What stands on a helper's desk. */
export interface DeskContents {
  presets: readonly string[]
  cues: readonly string[]
  /** The camera that its pad drives; null: it has none. */
  pad: string | null
}

export interface May {
  readonly rights: ReadonlySet<Right>
  /** Nothing is hidden from them. */
  readonly everywhere: boolean
  camera(id: string): boolean
  preset(preset: PresetPlace): boolean
  cue(id: string): boolean
  /** The camera may be moved by hand. */
  drives(camera: string): boolean
}

export const MAY_ALL: May = {
  rights: ALL_RIGHTS,
  everywhere: true,
  camera: () => true,
  preset: () => true,
  cue: () => true,
  drives: () => true,
}

const NOTHING: May = {
  rights: new Set(),
  everywhere: false,
  camera: () => false,
  preset: () => false,
  cue: () => false,
  drives: () => false,
}

export interface OpenNow {
  event: string | null
  /** Null: there is no such desk any more. */
  desk(id: string): DeskContents | null
  /** The camera of a preset; null if it is gone. */
  cameraOf(preset: string): string | null
}

const within = (list: readonly string[] | null, id: string) => list === null || list.includes(id)
const isEverywhere = ({ cameras, sections, cues, desk }: Reach) =>
  cameras === null && sections === null && cues === null && desk === null

/** @param open what is open now: it is read at once, so ask again when it changes */
export function mayOf(grant: Grant, open: OpenNow): May {
  const rights = rightsOf(grant, open.event)
  const reach = reachOf(grant, open.event)
  if (reach.desk !== null) return atDesk(rights, open.desk(reach.desk), open)
  const camera = (id: string) => within(reach.cameras, id)
  return {
    rights,
    everywhere: isEverywhere(reach),
    camera,
    preset: ({ cameraId, section }) => camera(cameraId) && within(reach.sections, section),
    cue: (id) => within(reach.cues, id),
    drives: (id) => rights.has('drive') && camera(id),
  }
}

/** A desk that was removed leaves nothing: its helper must not get more by that. */
function atDesk(rights: ReadonlySet<Right>, desk: DeskContents | null, open: OpenNow): May {
  if (!desk) return NOTHING
  const presets = new Set(desk.presets)
  const cues = new Set(desk.cues)
  const cameras = new Set(desk.presets.flatMap((id) => open.cameraOf(id) ?? []))
  if (desk.pad) cameras.add(desk.pad)
  // What stands on it is what it is for.
  const own = new Set<Right>(['see', 'recall', ...(cues.size > 0 ? (['cues'] as const) : [])])
  if (desk.pad) own.add('drive')
  for (const right of ['onAir', 'override'] as const) if (rights.has(right)) own.add(right)
  return {
    rights: own,
    everywhere: false,
    camera: (id) => cameras.has(id),
    preset: ({ id }) => presets.has(id),
    cue: (id) => cues.has(id),
    drives: (id) => id === desk.pad,
  }
}
