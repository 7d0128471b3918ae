/** What the server tells live, kept by topic, and orders to it. One of these per page. */
import type { Capabilities, FromServer, Health, ToServerMessage } from '../../core/live/messages'
import type { LivePose } from '../../core/presets/pose'
import type { Round } from '../../core/presets/round'
import type { Travel } from '../../core/presets/standing'
import { openSocket, type Reconnecting } from './socket'

export interface Topics {
  /** Is the page connected to the server? Null before the first answer. */
  connected: boolean | null
  /** Does the guardian watch over what moves? Null while it is not known. */
  guarded: boolean | null
  [pose: `pose/${string}`]: LivePose | null
  [health: `health/${string}`]: Health | null
  [able: `able/${string}`]: Capabilities
  [travel: `travel/${string}`]: Travel | null
  /** A camera that goes through its presets or memories; null: it was seen to its end. */
  [round: `round/${string}`]: Round | null
  /** Who drives a camera; null: nobody. */
  [claim: `claim/${string}`]: Claim | null
}

export interface Claim {
  holder: string
  /** It is this page. */
  mine: boolean
}

type Listener = (value: unknown) => void
/** An order to a camera, without its number. */
export type Order = ToServerMessage extends infer M
  ? M extends { request: number }
    ? Omit<M, 'request'>
    : never
  : never
type Result = { ok: true } | { ok: false; message: string }

const LOST: Result = {
  ok: false,
  message: 'The page has lost its server: nothing was sent. It tries to come back.',
}
const RESTARTED = 'The server was started anew. What was under way, as a round, has to be started again.'
const ANSWER_WITHIN_MS = 5000

export class Live {
  private readonly values = new Map<string, unknown>([
    ['connected', null],
    ['guarded', null],
  ])
  private readonly listeners = new Map<string, Set<Listener>>()
  private readonly requests = new Map<number, (result: Result) => void>()
  private readonly socket: Reconnecting
  private nextRequest = 1
  private person = ''
  /** The server's start that this page last heard of. */
  private boot = ''
  /** Stored data changed, or may have while the page was away. */
  onChanged: () => void = () => {}
  onNotice: (camera: string | null, text: string) => void = () => {}

  constructor() {
    this.socket = openSocket('/live', {
      open: () => {
        this.put('connected', true)
        if (this.person) this.send({ t: 'person', name: this.person })
      },
      close: () => this.lost(),
      message: (data) => {
        if (typeof data === 'string') this.take(JSON.parse(data) as FromServer)
      },
    })
  }

  get(topic: string): unknown {
    return this.values.get(topic)
  }

  subscribe(topic: string, listener: Listener): () => void {
    const set = this.listeners.get(topic) ?? new Set()
    this.listeners.set(topic, set.add(listener))
    return () => set.delete(listener)
  }

  /** The operator has read how a round ended. */
  seenRound(camera: string): void {
    this.put(`round/${camera}`, null)
  }

  /** False where the page has no connection. */
  send(message: ToServerMessage): boolean {
    return this.socket.send(message)
  }

  /** Who sits here, for others to read. */
  introduce(name: string): void {
    this.person = name
    this.send({ t: 'person', name })
  }

  /** An order that is answered. */
  order(order: Order): Promise<Result> {
    return this.request((request) => ({ ...order, request }) as ToServerMessage)
  }

  private request(make: (request: number) => ToServerMessage): Promise<Result> {
    const request = this.nextRequest++
    if (!this.send(make(request))) return Promise.resolve(LOST)
    return new Promise((resolve) => {
      const timer = setTimeout(
        () => end({ ok: false, message: 'The server did not answer in time.' }),
        ANSWER_WITHIN_MS,
      )
      const end = (result: Result) => {
        clearTimeout(timer)
        this.requests.delete(request)
        resolve(result)
      }
      this.requests.set(request, end)
    })
  }

  private put(topic: string, value: unknown): void {
    this.values.set(topic, value)
    for (const listener of this.listeners.get(topic) ?? []) listener(value)
  }

  private lost(): void {
    this.put('connected', false)
    this.put('guarded', null)
    // What the page knew of the cameras is not known any more; all of it comes anew with the server.
    for (const [topic, value] of [...this.values]) {
      if (/^(pose|claim|health|travel)\//.test(topic)) this.put(topic, null)
      // How one has ended stays to be read.
      const round = topic.startsWith('round/') ? (value as Round | null) : null
      if (round?.state === 'running')
        this.put(topic, { ...round, state: 'stopped', reason: 'The connection to the server was lost.' })
    }
    for (const end of [...this.requests.values()]) end(LOST)
  }

  private take(message: FromServer): void {
    switch (message.t) {
      case 'hello':
        // A page that was there before the restart is told what it cut off; one that comes anew as well, once.
        if (message.interrupted && message.boot !== this.boot) this.onNotice(null, message.interrupted)
        else if (this.boot && message.boot !== this.boot) this.onNotice(null, RESTARTED)
        this.boot = message.boot
        this.onChanged()
        return
      case 'guarded':
        this.put('guarded', message.is)
        return
      case 'changed':
        this.onChanged()
        return
      case 'poses':
        for (const { camera, pose } of message.poses) this.put(`pose/${camera}`, pose)
        return
      case 'health':
        this.put(`able/${message.camera}`, message.able)
        this.put(`health/${message.camera}`, message.health)
        return
      case 'travel':
        this.put(`travel/${message.camera}`, message.travel)
        return
      case 'round':
        this.put(`round/${message.camera}`, message.round)
        return
      case 'claim': {
        const { camera, holder, mine } = message
        this.put(`claim/${camera}`, holder === null ? null : { holder, mine })
        return
      }
      case 'notice':
        this.onNotice(message.camera, message.text)
        return
      case 'result':
        this.requests.get(message.request)?.(
          message.ok ? { ok: true } : { ok: false, message: message.message ?? 'The server refused this.' },
        )
    }
  }
}

let shared: Live | null = null

/** The page's connection; made at the first use. */
export function live(): Live {
  shared ??= new Live()
  return shared
}
