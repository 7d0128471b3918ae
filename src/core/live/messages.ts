/** What travels over the live socket between the server and a browser, as JSON. One definition for both. */
import * as v from 'valibot'
import { Fact } from '../facts/facts'
import { Deflection, Id, Point } from '../orders/entries'
import { type CameraOrder, orderSchemas, type WrittenOrder } from '../orders/orders'

const Request = v.pipe(v.number(), v.integer())

/** When the page sent it, ms by a clock of its own that never jumps; null: it does not say. */
const Stamp = { sentMs: v.optional(v.nullable(v.pipe(v.number(), v.finite())), null) }

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
  ...Stamp,
})
/** A finger holds a point of the picture: down, then where it is at least every 100 ms, then lifted. */
const Finger = v.object({
  t: v.literal('finger'),
  phase: v.picklist(['down', 'move', 'up']),
  camera: Id,
  ...Point,
  ...Stamp,
})
/** Takes a camera over from whoever drives it. */
const TakeOver = v.object({ t: v.literal('takeOver'), camera: Id })
/** The name others see for whoever sits at this browser. It decides nothing. */
const Person = v.object({ t: v.literal('person'), name: v.pipe(v.string(), v.trim(), v.maxLength(40)) })
/** Stops what this browser drives; sent when the page is hidden. */
const LetGo = v.object({ t: v.literal('letGo') })

const HandMessage = v.variant('t', [Stick, Finger, TakeOver, Person, LetGo])
type HandMessage = v.InferOutput<typeof HandMessage>
export type StickMessage = v.InferOutput<typeof Stick>
type WrittenHand = v.InferInput<typeof HandMessage>
export type FingerMessage = v.InferOutput<typeof Finger>
/** An order is answered by a `result` with its number. */
export type OrderMessage = CameraOrder & { request: number; confirmed: boolean }

export type ToServer = HandMessage | OrderMessage
/** As it is written: what has a usual value may be left out. */
export type ToServerMessage = WrittenHand | (WrittenOrder & { request: number; confirmed?: boolean })

export const ToServer = v.variant('t', [
  ...HandMessage.options,
  ...orderSchemas({ request: Request, confirmed: v.optional(v.boolean(), false) }),
]) as unknown as v.GenericSchema<ToServerMessage, ToServer>

export const FromServer = v.variant('t', [
  /**
   * First on every connection. `boot` differs after a restart of the server, `interrupted` says what that
   * restart cut off, in a sentence, `page` is what the server calls this page, and `key` is known to this
   * page alone: a request that carries it is taken for one of this page.
   */
  v.object({
    t: v.literal('hello'),
    boot: v.string(),
    page: v.string(),
    key: v.string(),
    interrupted: v.nullable(v.string()),
  }),
  /** What has changed; to a new page, all that is known. */
  v.object({ t: v.literal('facts'), facts: v.array(Fact) }),
  /** Stored data changed: read it again. */
  v.object({ t: v.literal('changed') }),
  /** `message`: why not, or in which other way; `ask`: send it again with `confirmed`. */
  v.object({
    t: v.literal('result'),
    request: v.number(),
    ok: v.boolean(),
    message: v.nullable(v.string()),
    ask: v.boolean(),
  }),
  /** A program chooses a camera on every Desk. */
  v.object({ t: v.literal('select'), camera: v.string() }),
  /** How long a message to the server and back takes, ms. */
  v.object({ t: v.literal('way'), roundTripMs: v.number() }),
  /** Something the operator must know, as a sentence. */
  v.object({ t: v.literal('notice'), camera: v.nullable(v.string()), text: v.string() }),
])
export type FromServer = v.InferOutput<typeof FromServer>

/** A camera belongs to whoever drove it for this long after it has come to rest, ms. */
export const HOLD_MS = 2000
/** Driving lasts only while stick messages are no older than this, ms. */
export const DEAD_MAN_MS = 300
/** However late messages come, no camera runs on longer than this after the last word of the hand, ms. */
export const LAST_WORD_MS = 600
/** With a round trip this long no hand can follow the picture: it becomes gentle, and is told so, ms. */
export const TOO_LATE_FOR_A_HAND_MS = 300
/** A browser repeats a held stick at least this often, ms. */
export const STICK_REPEAT_MS = 100
