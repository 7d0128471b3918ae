/** What travels over the live socket between the server and a browser, as JSON. One definition for both. */
import * as v from 'valibot'
import { LivePose } from '../presets/pose'

const Deflection = v.pipe(v.number(), v.minValue(-1), v.maxValue(1))
const Id = v.pipe(v.string(), v.maxLength(64))
const Request = v.pipe(v.number(), v.integer())

/** Stick positions: sent on change and at least every 100 ms for as long as a hand is on it. */
const Stick = v.object({
  t: v.literal('stick'),
  camera: Id,
  /** Right and up positive. */
  pan: Deflection,
  tilt: Deflection,
  /** Tele positive. */
  zoom: Deflection,
  /** Far positive. */
  focus: Deflection,
})

const Recall = v.object({ t: v.literal('recall'), request: Request, preset: Id })
const FocusMode = v.object({ t: v.literal('focusMode'), request: Request, camera: Id, auto: v.boolean() })
const Power = v.object({ t: v.literal('power'), request: Request, camera: Id, on: v.boolean() })
const Home = v.object({ t: v.literal('home'), request: Request, camera: Id })
/** Stops what this browser drives; sent when the page is hidden. */
const LetGo = v.object({ t: v.literal('letGo') })

export const ToServer = v.variant('t', [Stick, Recall, FocusMode, Power, Home, LetGo])
export type ToServer = v.InferOutput<typeof ToServer>
export type StickMessage = v.InferOutput<typeof Stick>

export const LinkState = v.picklist([
  'connecting',
  'ready',
  'slow',
  'silent',
  'standby',
  'refused',
  'unheard',
])
export type LinkState = v.InferOutput<typeof LinkState>

/** May a camera in this state be driven? `unheard`: it takes orders and never says anything. */
export const isUsable = (state: LinkState): boolean =>
  state === 'ready' || state === 'slow' || state === 'unheard'

export const Health = v.object({
  state: LinkState,
  /** What is wrong and what to try; null when ready. */
  advice: v.nullable(v.string()),
  roundTripMs: v.nullable(v.number()),
  /** Share of packets lost, 0..1. */
  loss: v.number(),
  /** Ms since the camera last answered; null where it never has. */
  silentMs: v.nullable(v.number()),
  reconnects: v.number(),
})
export type Health = v.InferOutput<typeof Health>

/** What a camera can do, asked from it or given by its profile. */
export const Capabilities = v.object({
  panTilt: v.boolean(),
  zoom: v.boolean(),
  focus: v.boolean(),
  focusMode: v.boolean(),
  /** It tells where it stands. */
  position: v.boolean(),
  power: v.boolean(),
  home: v.boolean(),
  /** Memories of its own. */
  memories: v.number(),
  /** What it says of itself. */
  device: v.nullable(v.string()),
})
export type Capabilities = v.InferOutput<typeof Capabilities>

const TravelMessage = v.object({
  presetId: v.string(),
  state: v.picklist(['travelling', 'arrived', 'failed', 'interrupted']),
  leftMs: v.number(),
  totalMs: v.number(),
  reason: v.nullable(v.string()),
})

export const FromServer = v.variant('t', [
  /** First on every connection; `boot` differs after a restart of the server. */
  v.object({ t: v.literal('hello'), boot: v.string() }),
  /** Those that have changed, gathered for a moment. */
  v.object({
    t: v.literal('poses'),
    poses: v.array(v.object({ camera: v.string(), pose: v.nullable(LivePose) })),
  }),
  v.object({ t: v.literal('health'), camera: v.string(), health: Health, able: Capabilities }),
  v.object({ t: v.literal('travel'), camera: v.string(), travel: v.nullable(TravelMessage) }),
  /** Stored data changed: read it again. */
  v.object({ t: v.literal('changed') }),
  v.object({ t: v.literal('result'), request: v.number(), ok: v.boolean(), message: v.nullable(v.string()) }),
  /** Something the operator must know, in a sentence. */
  v.object({ t: v.literal('notice'), camera: v.nullable(v.string()), text: v.string() }),
])
export type FromServer = v.InferOutput<typeof FromServer>

/** Driving lasts only while stick messages are no older than this, ms. */
export const DEAD_MAN_MS = 300
/** A browser repeats a held stick at least this often, ms. */
export const STICK_REPEAT_MS = 100
