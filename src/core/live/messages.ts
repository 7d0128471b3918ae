/** What travels over the live socket between the server and a browser, as JSON. One definition for both. */
import * as v from 'valibot'
import { Pace } from '../presets/pace'
import { LivePose } from '../presets/pose'
import { Round, RoundOrder } from '../presets/round'

const Deflection = v.pipe(v.number(), v.minValue(-1), v.maxValue(1))
const Id = v.pipe(v.string(), v.maxLength(64))
const Request = v.pipe(v.number(), v.integer())

/** Shares of the top speeds, after the hand's own curve: sent on change and at least every 100 ms for as long as a hand is on it. */
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

const order = <const T extends string, E extends v.ObjectEntries>(t: T, entries: E) =>
  v.object({ t: v.literal(t), request: Request, ...entries })
const Point = { camera: Id, u: Deflection, v: Deflection }
/** How long a move is to take, s; null: as fast as the camera can. */
const Seconds = v.nullable(v.pipe(v.number(), v.minValue(0.5), v.maxValue(60)))
const Level = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(9))
const PartOfWidth = v.pipe(v.number(), v.minValue(-0.5), v.maxValue(0.5))

/** `pace`: for this once; null: the preset's own, or its camera's. */
const Recall = order('recall', { preset: Id, pace: v.optional(v.nullable(Pace), null) })
const FocusMode = order('focusMode', { camera: Id, auto: v.boolean() })
const Power = order('power', { camera: Id, on: v.boolean() })
const Home = order('home', { camera: Id })
/** Brings a point of the picture, -1..1 right and up, to its centre. */
const Aim = order('aim', { ...Point, seconds: Seconds })
/** Fills the picture with a box of it. */
const Frame = order('frame', {
  camera: Id,
  u0: Deflection,
  v0: Deflection,
  u1: Deflection,
  v1: Deflection,
  seconds: Seconds,
})
const Nudge = order('nudge', { camera: Id, right: PartOfWidth, up: PartOfWidth })
const ZoomAbout = order('zoomAbout', { ...Point, factor: v.pipe(v.number(), v.minValue(0.2), v.maxValue(5)) })
/** The camera's own memories. */
const Memory = order('memory', {
  camera: Id,
  action: v.picklist(['set', 'recall']),
  number: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(128)),
})
/** Lets a camera go through its presets or its own memories. */
const StartRound = order('startRound', { camera: Id, round: RoundOrder })
const FocusOnce = order('focusOnce', { camera: Id })
const FocusAt = order('focusAt', Point)
const DigitalZoom = order('digitalZoom', { camera: Id, on: v.boolean() })
const FollowSubject = order('followSubject', { camera: Id, on: v.boolean(), sensitivity: Level, size: Level })
/** A finger holds a point of the picture: down, then where it is at least every 100 ms, then lifted. */
const Finger = v.object({ t: v.literal('finger'), phase: v.picklist(['down', 'move', 'up']), ...Point })
/** Takes a camera over from whoever drives it. */
const TakeOver = v.object({ t: v.literal('takeOver'), camera: Id })
/** Who sits at this browser. */
const Person = v.object({ t: v.literal('person'), name: v.pipe(v.string(), v.trim(), v.maxLength(40)) })
/** Stops what this browser drives; sent when the page is hidden. */
const LetGo = v.object({ t: v.literal('letGo') })

export const ToServer = v.variant('t', [
  Stick,
  Finger,
  Recall,
  FocusMode,
  Power,
  Home,
  Aim,
  Frame,
  Nudge,
  ZoomAbout,
  Memory,
  StartRound,
  FocusOnce,
  FocusAt,
  DigitalZoom,
  FollowSubject,
  TakeOver,
  Person,
  LetGo,
])
export type ToServer = v.InferOutput<typeof ToServer>
/** As it is written: what has a usual value may be left out. */
export type ToServerMessage = v.InferInput<typeof ToServer>
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
  /** It can be told to focus once. */
  onePush: v.boolean(),
  /** It can focus on a place of the picture. */
  focusAt: v.boolean(),
  digitalZoom: v.boolean(),
  /** It can keep a subject in the picture by itself: the levels of how quick and how close. */
  subject: v.nullable(v.object({ sensitivity: v.number(), size: v.number() })),
  /** Memories of its own. */
  memories: v.number(),
  /** It tells and takes exposure and white balance. */
  light: v.boolean(),
  /** It can hold its picture. */
  freeze: v.boolean(),
  /** Its stick can be sent as short moves that end by themselves. */
  leash: v.boolean(),
  /** What it says of itself. */
  device: v.nullable(v.string()),
})
export type Capabilities = v.InferOutput<typeof Capabilities>

const TravelMessage = v.object({
  presetId: v.string(),
  state: v.picklist(['travelling', 'arrived', 'failed', 'interrupted', 'sent']),
  leftMs: v.number(),
  totalMs: v.number(),
  reason: v.nullable(v.string()),
})

export const FromServer = v.variant('t', [
  /**
   * First on every connection; `boot` differs after a restart of the server, and `interrupted` says what
   * that restart cut off, in a sentence.
   */
  v.object({ t: v.literal('hello'), boot: v.string(), interrupted: v.nullable(v.string()) }),
  /** Does the guardian watch over what moves? */
  v.object({ t: v.literal('guarded'), is: v.boolean() }),
  /** Those that have changed, gathered for a moment. */
  v.object({
    t: v.literal('poses'),
    poses: v.array(v.object({ camera: v.string(), pose: v.nullable(LivePose) })),
  }),
  v.object({ t: v.literal('health'), camera: v.string(), health: Health, able: Capabilities }),
  v.object({ t: v.literal('travel'), camera: v.string(), travel: v.nullable(TravelMessage) }),
  /** Who drives a camera, by name; null where nobody does. `mine`: it is this browser. */
  v.object({ t: v.literal('claim'), camera: v.string(), holder: v.nullable(v.string()), mine: v.boolean() }),
  /** A camera goes through its presets or its memories. */
  v.object({ t: v.literal('round'), camera: v.string(), round: Round }),
  /** Stored data changed: read it again. */
  v.object({ t: v.literal('changed') }),
  v.object({ t: v.literal('result'), request: v.number(), ok: v.boolean(), message: v.nullable(v.string()) }),
  /** Something the operator must know, in a sentence. */
  v.object({ t: v.literal('notice'), camera: v.nullable(v.string()), text: v.string() }),
])
export type FromServer = v.InferOutput<typeof FromServer>

/** A camera belongs to whoever drove it last for this long after, ms. */
export const HOLD_MS = 2000
/** Driving lasts only while stick messages are no older than this, ms. */
export const DEAD_MAN_MS = 300
/** A browser repeats a held stick at least this often, ms. */
export const STICK_REPEAT_MS = 100
