/** Button boxes and other programs that drive us: their keys, and OSC in and out. */
import * as v from 'valibot'

/** What a key may do, each with its words. */
export const REMOTE_RIGHTS = {
  cues: 'Start and stop cues, tours and buttons',
  recall: 'Recall presets, choose cameras',
  drive: 'Drive',
  store: 'Store presets',
  tally: 'Say what is on air',
} as const
export type RemoteRight = keyof typeof REMOTE_RIGHTS
export const RIGHT_NAMES = Object.keys(REMOTE_RIGHTS) as RemoteRight[]
export const Rights = v.array(v.picklist(RIGHT_NAMES))

const Port = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(65535))
const Host = v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(253))

/** OSC has no keys: it is off until somebody switches it on, and may be bound to senders. */
export const OscSettings = v.object({
  enabled: v.boolean(),
  port: Port,
  rights: Rights,
  /** Addresses from which it is heard; empty: from all. */
  from: v.pipe(v.array(v.pipe(v.string(), v.ip())), v.maxLength(20)),
  /** Where the state goes, so that a box can light its buttons. */
  feedback: v.nullable(v.object({ host: Host, port: Port })),
})
export type OscSettings = v.InferOutput<typeof OscSettings>
export const NO_OSC: OscSettings = { enabled: false, port: 8430, rights: ['cues'], from: [], feedback: null }

export const KeyView = v.object({
  id: v.string(),
  name: v.string(),
  rights: Rights,
  /** ISO 8601; null: never. */
  endsAt: v.nullable(v.string()),
  lastUsedAt: v.nullable(v.string()),
})
export type KeyView = v.InferOutput<typeof KeyView>

export const NewKey = v.object({
  name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60)),
  rights: v.pipe(Rights, v.minLength(1, 'Give it at least one right.')),
  endsAt: v.optional(v.nullable(v.pipe(v.string(), v.isoTimestamp())), null),
})
