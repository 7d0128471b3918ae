/** Who did what: an entry of the event's log. */
import * as v from 'valibot'

export const ENTRY_KINDS = {
  recall: 'Recalls',
  drive: 'Moves',
  store: 'Presets',
  guard: 'Guard',
  takeOver: 'Taken over',
  cue: 'Cues',
  picture: 'Picture',
  setup: 'Set-up',
  people: 'People',
  camera: 'Cameras',
} as const
export type EntryKind = keyof typeof ENTRY_KINDS
export const ENTRY_KIND_NAMES = Object.keys(ENTRY_KINDS) as EntryKind[]

export const Entry = v.object({
  id: v.number(),
  /** ISO 8601. */
  at: v.string(),
  event: v.string(),
  /** Who; '' for the server itself. */
  person: v.string(),
  kind: v.picklist(ENTRY_KIND_NAMES),
  /** Its number and name; '' where it is about none. */
  camera: v.string(),
  what: v.string(),
  /** Why it was not done; null: it was. */
  refused: v.nullable(v.string()),
})
export type Entry = v.InferOutput<typeof Entry>

export const ENTRY_HEADINGS = ['time', 'event', 'person', 'kind', 'camera', 'what', 'result'] as const
export const entryCells = (entry: Entry): string[] => [
  ...[entry.at, entry.event, entry.person, ENTRY_KINDS[entry.kind], entry.camera, entry.what],
  entry.refused ?? 'done',
]
