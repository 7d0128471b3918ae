/**
 * Everything that is known of a camera, or of the server, and told to every page. A new kind of fact is one
 * line here: the store, the message and the pages take it from this table.
 */
import * as v from 'valibot'
import { ShowNow, showLost } from '../cues/now'
import { DeviceState } from '../messages/device'
import { SettingValues } from '../picture/settings'
import { LivePose } from '../presets/pose'
import { Round } from '../presets/round'
import { Travel } from '../presets/standing'
import { Tally } from '../tally/sources'
import { Capabilities } from './capabilities'
import { Health } from './health'

/** Who drives a camera. */
export const Claim = v.object({
  /** Which actor; a page knows its own. */
  by: v.string(),
  /** What others see. */
  name: v.string(),
})
export type Claim = v.InferOutput<typeof Claim>

const nullIfLost = () => null

/** @param lost what remains of it for a page that has lost its server */
const fact = <S extends v.GenericSchema>(
  value: S,
  lost: (known: v.InferOutput<S>) => v.InferOutput<S> | null,
) => ({
  value: v.nullable(value),
  lost: lost as (known: never) => unknown,
})

const LOST_ROUND = 'The connection to the server was lost.'

export const FACTS = {
  /** Changes many times a second, so it is gathered for a moment. */
  pose: fact(LivePose, nullIfLost),
  health: fact(Health, nullIfLost),
  able: fact(Capabilities, (able) => able),
  settings: fact(SettingValues, nullIfLost),
  /** The newest recall. */
  travel: fact(Travel, nullIfLost),
  claim: fact(Claim, nullIfLost),
  /** A page that hears nothing must not think itself safe. */
  tally: fact(Tally, (tally) =>
    tally === null || tally.source === null ? tally : { ...tally, state: 'unknown' as const },
  ),
  /** How a round ended stays on the page. */
  round: fact(Round, (round) =>
    round?.state === 'running' ? { ...round, state: 'stopped' as const, reason: LOST_ROUND } : round,
  ),
  /** Of the server: where the event's order stands, and what runs. */
  show: fact(ShowNow, showLost),
  /** Of the server: the room of this event was changed. */
  room: fact(v.object({ event: v.string(), version: v.number() }), (room) => room),
  /** Of another device: what came of the newest message to it. */
  device: fact(DeviceState, nullIfLost),
  /** Of the server: does the guardian watch over what moves? */
  guarded: fact(v.boolean(), nullIfLost),
} as const

export type FactKind = keyof typeof FACTS
export type FactValue<K extends FactKind> = v.InferOutput<(typeof FACTS)[K]['value']>
/** `about`: the camera's id, or SERVER. */
export type Fact = { [K in FactKind]: { kind: K; about: string; value: FactValue<K> } }[FactKind]

export const SERVER = 'server'

const schemas = Object.entries(FACTS).map(([kind, { value }]) =>
  v.object({ kind: v.literal(kind), about: v.string(), value }),
)
export const Fact = v.variant('kind', schemas as never) as unknown as v.GenericSchema<Fact>

/** What remains of a fact when the server is lost. */
export const afterLoss = <K extends FactKind>(kind: K, value: FactValue<K>): FactValue<K> =>
  value === null ? value : (FACTS[kind].lost(value as never) as FactValue<K>)
