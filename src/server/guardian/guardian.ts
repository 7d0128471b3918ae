/** The server's side of the guardian: tells it what moves and how to stop it, and beats. */
import { connect, type Socket } from 'node:net'
import {
  ALIVE_EVERY_MS,
  BEAT,
  BEAT_EVERY_MS,
  type FromGuardian,
  type Left,
  type ToGuardian,
} from '../../core/guardian/messages'
import type { StopOrder } from '../../core/guardian/stopOrder'
import { parsedJson } from '../../core/safely'

/** A device, as the guardian is told of it. */
export interface Guarded {
  readonly key: string
  readonly camera: string
  readonly name: string
  /** Built for each call, where a request may be used only once. */
  stops(): StopOrder[]
  /** Does it move, or may it? */
  busy(): boolean
}

/** What drivers need of it. */
export interface Guardian {
  /** Call it before a device is set in motion; it does not wait. */
  begins(what: Guarded): void
}

export const NO_GUARDIAN: Guardian = { begins: () => {} }

export interface GuardianEvents {
  /** Is it there? */
  watching(is: boolean): void
  /** Our loop was held up, and these were stopped. */
  stopped(keys: string[], lateMs: number): void
}

const LOOK_EVERY_MS = 250
/** How often it must have been seen at rest before that is believed. */
const RESTS_AFTER = 2
/** Login tokens age: the packets of what moves for long are renewed, ms. */
const RENEW_MS = 15_000
const AGAIN_MS = 150
const FIRST_WITHIN_MS = 800

interface Mark {
  what: Guarded
  rested: number
  toldAtMs: number
}

export class GuardianClient implements Guardian {
  private readonly marks = new Map<string, Mark>()
  private socket: Socket | null = null
  private heardMs = Number.NEGATIVE_INFINITY
  private is = false
  private closed = false
  private readonly timers: ReturnType<typeof setInterval>[]
  private firstLeft: (left: { cameras: Left[]; atMs: number | null } | null) => void = () => {}
  private events: GuardianEvents = { watching: () => {}, stopped: () => {} }
  /** What moved when the former server was lost; null if no guardian answers. */
  readonly left: Promise<{ cameras: Left[]; atMs: number | null } | null>

  constructor(private readonly path: string) {
    this.left = new Promise((resolve) => {
      this.firstLeft = resolve
      setTimeout(() => resolve(null), FIRST_WITHIN_MS)
    })
    this.open()
    this.timers = [
      setInterval(() => this.write(BEAT), BEAT_EVERY_MS),
      setInterval(() => this.look(), LOOK_EVERY_MS),
    ]
  }

  listen(events: GuardianEvents): void {
    this.events = events
  }

  get watching(): boolean {
    return this.is
  }

  begins(what: Guarded): void {
    const mark = this.marks.get(what.key)
    if (mark?.what === what) {
      mark.rested = 0
      return
    }
    const fresh = { what, rested: 0, toldAtMs: 0 }
    this.marks.set(what.key, fresh)
    this.tell(fresh)
  }

  /** All stands, and the server ends. */
  close(): void {
    this.closed = true
    for (const timer of this.timers) clearInterval(timer)
    this.send({ t: 'bye' })
    this.socket?.end()
  }

  private tell(mark: Mark): void {
    mark.toldAtMs = performance.now()
    const { key, camera, name } = mark.what
    this.send({ t: 'moves', what: { key, camera, name, stops: mark.what.stops() } })
  }

  private look(): void {
    const now = performance.now()
    for (const [key, mark] of this.marks) {
      mark.rested = mark.what.busy() ? 0 : mark.rested + 1
      if (mark.rested >= RESTS_AFTER) {
        this.marks.delete(key)
        this.send({ t: 'rests', key })
      } else if (now - mark.toldAtMs > RENEW_MS) this.tell(mark)
    }
    // It may hang while its connection is still there.
    this.become(this.socket !== null && now - this.heardMs < 4 * ALIVE_EVERY_MS)
  }

  private send(message: ToGuardian): void {
    this.write(JSON.stringify(message))
  }

  private write(line: string): void {
    if (this.socket?.writable) this.socket.write(`${line}\n`)
  }

  private open(): void {
    if (this.closed) return
    const mine = connect(this.path)
    let held = ''
    mine.setEncoding('utf8')
    mine.on('connect', () => {
      this.socket = mine
      this.heardMs = performance.now()
      this.send({ t: 'hello', pid: process.pid })
      for (const mark of this.marks.values()) this.tell(mark)
      this.become(true)
    })
    mine.on('data', (text) => {
      this.heardMs = performance.now()
      held += text
      for (let end = held.indexOf('\n'); end >= 0; end = held.indexOf('\n')) {
        const message = parsedJson(held.slice(0, end))
        held = held.slice(end + 1)
        if (message) this.take(message as FromGuardian)
      }
    })
    mine.on('error', () => {})
    mine.on('close', () => {
      if (this.socket === mine) this.socket = null
      this.become(false)
      setTimeout(() => this.open(), AGAIN_MS).unref()
    })
  }

  private take(message: FromGuardian): void {
    if (message.t === 'left') this.firstLeft({ cameras: message.cameras, atMs: message.atMs })
    else if (message.t === 'stopped') this.events.stopped(message.keys, message.lateMs)
  }

  private become(is: boolean): void {
    if (this.is === is || this.closed) return
    this.is = is
    this.events.watching(is)
  }
}
