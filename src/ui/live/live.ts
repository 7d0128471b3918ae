/** The page's connection to the server: facts come in, orders go out. */
import type { FactKind, FactValue } from '../../core/facts/facts'
import { type FromServer, TOO_LATE_FOR_A_HAND_MS, type ToServerMessage } from '../../core/live/messages'
import { PageFacts } from './pageFacts'
import { openSocket, type Reconnecting } from './socket'

/** An order to a camera, without its number. */
export type Order = ToServerMessage extends infer M
  ? M extends { request: number }
    ? Omit<M, 'request'>
    : never
  : never
/** `said`: done in another way than asked; `ask`: to be confirmed first. */
export type Result = { ok: true; said: string | null } | { ok: false; message: string; ask?: boolean }

const LOST: Result = {
  ok: false,
  message: 'The page has lost its server: nothing was sent. It tries to come back.',
}
const RESTARTED =
  'The server was restarted. Anything that was under way, such as a round, has to be started again.'
const ANSWER_WITHIN_MS = 5000

export class Live {
  readonly facts = new PageFacts()
  private connection: boolean | null = null
  private way: number | null = null
  private readonly connectionListeners = new Set<() => void>()
  private readonly requests = new Map<number, (result: Result) => void>()
  private readonly socket: Reconnecting
  private nextRequest = 1
  private person = ''
  /** The server's start that this page last heard of. */
  private boot = ''
  /** What the server calls this page, and what only this page knows. */
  private page = { id: '', key: '' }
  /** Stored data changed, or may have while the page was away. */
  onSelect: (camera: string) => void = () => {}
  onChanged: () => void = () => {}
  onNotice: (camera: string | null, text: string) => void = () => {}

  constructor() {
    this.socket = openSocket('/live', {
      open: () => {
        this.connect(true)
        if (this.person) this.send({ t: 'person', name: this.person })
      },
      close: () => this.lost(),
      message: (data) => {
        if (typeof data === 'string') this.take(JSON.parse(data) as FromServer)
      },
    })
  }

  /** Is the page connected to the server? Null before the first answer. */
  get connected(): boolean | null {
    return this.connection
  }

  /** Is this what the server calls this page? */
  isMe(actor: string): boolean {
    return actor === this.page.id
  }

  /** Goes with requests, so that the server knows whose they are. */
  get pageKey(): string {
    return this.page.key
  }

  /** How long a message to the server and back takes, ms; null while it is not known. */
  get roundTripMs(): number | null {
    return this.way
  }

  /** No hand can follow the picture over this way: it drives gently. */
  get far(): boolean {
    return this.way !== null && this.way >= TOO_LATE_FOR_A_HAND_MS
  }

  private setWay(ms: number | null): void {
    const was = this.far
    this.way = ms
    if (this.far && !was)
      this.onNotice(
        null,
        `The desk is ${((ms ?? 0) / 1000).toFixed(1)} s away: the pad moves gently. Aim, Frame and presets land more surely.`,
      )
    for (const listener of this.connectionListeners) listener()
  }

  onConnection(listener: () => void): () => void {
    this.connectionListeners.add(listener)
    return () => this.connectionListeners.delete(listener)
  }

  fact<K extends FactKind>(kind: K, about: string): FactValue<K> | null {
    return this.facts.get(kind, about)
  }

  /** The operator has read how a round ended. */
  seenRound(camera: string): void {
    this.facts.take([{ kind: 'round', about: camera, value: null }])
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
  order(order: Order, confirmed = false): Promise<Result> {
    return this.request((request) => ({ ...order, request, confirmed }) as ToServerMessage)
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

  private connect(is: boolean): void {
    this.connection = is
    for (const listener of this.connectionListeners) listener()
  }

  private lost(): void {
    this.connect(false)
    this.page = { id: '', key: '' }
    this.setWay(null)
    this.facts.lose()
    for (const end of [...this.requests.values()]) end(LOST)
  }

  private take(message: FromServer): void {
    switch (message.t) {
      case 'hello':
        // A page that was there before the restart is told what it cut off; one that comes again as well, once.
        if (message.interrupted && message.boot !== this.boot) this.onNotice(null, message.interrupted)
        else if (this.boot && message.boot !== this.boot) this.onNotice(null, RESTARTED)
        this.boot = message.boot
        this.page = { id: message.page, key: message.key }
        this.onChanged()
        return
      case 'facts':
        this.facts.take(message.facts)
        return
      case 'way':
        this.setWay(message.roundTripMs)
        return
      case 'select':
        this.onSelect(message.camera)
        return
      case 'changed':
        this.onChanged()
        return
      case 'notice':
        this.onNotice(message.camera, message.text)
        return
      case 'result':
        this.requests.get(message.request)?.(
          message.ok
            ? { ok: true, said: message.message }
            : { ok: false, message: message.message ?? 'The server refused this.', ask: message.ask },
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
