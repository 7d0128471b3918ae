/**
 * Pictures to one browser, on a connection of their own so that they never hold up a pose. The browser
 * says which cameras it looks at, and confirms each frame; with two unconfirmed of a camera, newer
 * frames replace each other until it has caught up, so that what arrives is always the newest.
 */
import * as v from 'valibot'
import type { WebSocket } from 'ws'
import { encodePictureFrame, PROGRAM_PICTURE } from '../../core/live/pictureFrame'
import { PictureScale } from '../../core/live/pictureScale'
import type { Fleet } from '../fleet'
import type { Visitor } from '../people/people'
import type { Feed, Frame } from '../video/frame'
import { NO_PICTURE } from '../video/pictureHub'
import { Budget } from './budget'
import type { Halves } from './halves'

const UNCONFIRMED = 2
const PING_EVERY_MS = 5000
const MESSAGES_PER_SEC = 2500
const MESSAGES_AT_ONCE = 5000
const Message = v.variant('t', [
  v.object({
    t: v.literal('watch'),
    cameras: v.pipe(
      v.array(v.object({ id: v.string(), perSec: v.pipe(v.number(), v.minValue(0.1), v.maxValue(60)) })),
      v.maxLength(200),
    ),
  }),
  v.object({ t: v.literal('shown'), camera: v.string() }),
])

const NOTHING = new Uint8Array(0)

interface Watch {
  perSec: number
  unconfirmed: number
  /** When those that are not confirmed were sent. */
  sent: number[]
  /** A half is being made. */
  making: boolean
  sentAtMs: number
  /** The frame that the browser has; 0 for none. */
  sentNumber: number
  next: Frame | null
  timer: ReturnType<typeof setTimeout> | null
  feed: Feed
  trouble: string | null
  stop(): void
}

/** How often it is looked whether a feed has become another, or has trouble to tell. */
const LOOK_EVERY_MS = 700
/** How much of the former way stays in the next. */
const FORGETS = 0.7
/** A thumbnail's pace is kept as a mean: a picture may come this much early, ms. */
const EARLY_MS = 12

/** @param visitor sees the cameras that they reach, and of others not even that there is no picture */
export function servePictures(
  socket: WebSocket,
  fleet: () => Pick<Fleet, 'picturesOf'>,
  visitor: Pick<Visitor, 'may'>,
  halves: Halves,
): void {
  const watches = new Map<string, Watch>()
  const scale = new PictureScale()

  /** Sends the newest picture when the browser has room for it and its pace allows it. */
  const pump = (camera: string, watch: Watch) => {
    if (!watch.next || watch.unconfirmed >= UNCONFIRMED || watch.timer || watch.making) return
    const wait = watch.sentAtMs + 1000 / watch.perSec - EARLY_MS - performance.now()
    if (wait > 0) {
      watch.timer = setTimeout(() => {
        watch.timer = null
        pump(camera, watch)
      }, wait)
      return
    }
    const frame = watch.next
    watch.next = null
    if (!scale.half || frame.number === watch.sentNumber) return send(camera, watch, frame, frame.jpeg)
    watch.making = true
    void halves(frame).then((half) => {
      watch.making = false
      if (watches.get(camera) !== watch) return
      send(camera, watch, frame, half)
      pump(camera, watch)
    })
  }

  const send = (camera: string, watch: Watch, frame: Frame, picture: Uint8Array) => {
    watch.unconfirmed += 1
    watch.sentAtMs = performance.now()
    watch.sent.push(watch.sentAtMs)
    const { number, atMs, sinceMs } = frame
    // What the browser has already is not sent again.
    const jpeg = number === watch.sentNumber ? NOTHING : picture
    watch.sentNumber = number
    const ageMs = watch.sentAtMs - atMs
    socket.send(
      encodePictureFrame({
        camera,
        number,
        ageMs,
        sameMs: atMs - sinceMs,
        sentMs: watch.sentAtMs,
        wayMs,
        jpeg,
      }),
    )
  }

  const feedOf = (camera: string): Feed => {
    const may = visitor.may()
    const seen = camera === PROGRAM_PICTURE ? may.everywhere : may.camera(camera)
    return (seen && may.rights.has('see') ? fleet().picturesOf(camera) : null) ?? NO_PICTURE
  }

  const start = (camera: string, perSec: number) => {
    const feed = feedOf(camera)
    const watch: Watch = {
      perSec,
      unconfirmed: 0,
      sent: [],
      making: false,
      sentAtMs: Number.NEGATIVE_INFINITY,
      sentNumber: 0,
      next: feed.latest,
      timer: null,
      feed,
      trouble: null,
      stop: () => {},
    }
    watches.set(camera, watch)
    watch.stop = feed.watch((frame) => {
      watch.next = frame
      pump(camera, watch)
    })
    pump(camera, watch)
    tellTrouble(camera, watch)
  }

  const stop = (camera: string) => {
    const watch = watches.get(camera)
    if (watch?.timer) clearTimeout(watch.timer)
    watch?.stop()
    watches.delete(camera)
  }

  const tellTrouble = (camera: string, watch: Watch) => {
    const { trouble } = watch.feed
    if (trouble === watch.trouble) return
    watch.trouble = trouble
    socket.send(JSON.stringify({ t: 'trouble', camera, text: trouble }))
  }

  const look = setInterval(() => {
    for (const [camera, watch] of watches) {
      // Its settings were changed, or it was switched off or on.
      if (feedOf(camera) !== watch.feed) {
        stop(camera)
        start(camera, watch.perSec)
      } else tellTrouble(camera, watch)
    }
  }, LOOK_EVERY_MS)

  let answered = true
  /** What half of the quickest way there and back takes, ms. */
  let wayMs = 0
  let askedAtMs: number | null = performance.now()
  socket.ping()
  const ping = setInterval(() => {
    // One that was left open without a word, or does not read what it was sent.
    if (!answered) return socket.terminate()
    answered = false
    askedAtMs = performance.now()
    socket.ping()
  }, PING_EVERY_MS)
  socket.on('pong', () => {
    answered = true
    if (askedAtMs === null) return
    const took = (performance.now() - askedAtMs) / 2
    askedAtMs = null
    // The quickest says what the way itself takes; it may become longer.
    wayMs = wayMs === 0 ? took : Math.min(took, wayMs * FORGETS + took * (1 - FORGETS))
  })
  const budget = new Budget(MESSAGES_PER_SEC, MESSAGES_AT_ONCE, performance.now())
  socket.on('message', (data) => {
    if (!budget.take(performance.now())) return socket.close(1008, 'too many messages')
    let json: unknown
    try {
      json = JSON.parse(String(data))
    } catch {
      return
    }
    const parsed = v.safeParse(Message, json)
    if (!parsed.success) return
    const message = parsed.output
    if (message.t === 'watch') {
      const wanted = new Map(message.cameras.map(({ id, perSec }) => [id, perSec]))
      for (const camera of watches.keys()) if (!wanted.has(camera)) stop(camera)
      for (const [camera, perSec] of wanted) {
        const watch = watches.get(camera)
        if (watch) watch.perSec = perSec
        else start(camera, perSec)
      }
      return
    }
    const watch = watches.get(message.camera)
    if (!watch) return
    watch.unconfirmed = Math.max(0, watch.unconfirmed - 1)
    const sentAtMs = watch.sent.shift()
    const nowMs = performance.now()
    if (sentAtMs !== undefined) scale.shown(nowMs - sentAtMs, 2 * wayMs, nowMs)
    pump(message.camera, watch)
  })
  socket.on('close', () => {
    clearInterval(ping)
    clearInterval(look)
    for (const camera of [...watches.keys()]) stop(camera)
  })
  socket.on('error', () => socket.terminate())
}
