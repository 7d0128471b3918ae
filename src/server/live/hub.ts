/** The sockets of the pages: sticks and orders go in to the gate, facts and notices go out. */
import { randomUUID } from 'node:crypto'
import * as v from 'valibot'
import type { WebSocket } from 'ws'
import { type Fact, SERVER } from '../../core/facts/facts'
import { Lateness } from '../../core/live/lateness'
import { type FromServer, ToServer } from '../../core/live/messages'
import type { Actor } from '../../core/orders/actors'
import type { May } from '../../core/people/may'
import type { Clock } from '../cameras/clock'
import { type Facts, isFleeting } from '../facts/facts'
import type { Gate } from '../gate/gate'
import type { Visitor } from '../people/people'
import { Budget } from './budget'
import { AT_ONCE, DeadMan, type Word } from './deadMan'

const PING_EVERY_MS = 5000
/** Far more than a hand on every camera sends. */
const MESSAGES_PER_SEC = 1500
const MESSAGES_AT_ONCE = 3000
/** Messages that make no sense, or are for cameras that are not there. */
const ASTRAY_PER_SEC = 60
const ASTRAY_AT_ONCE = 600
/** A page this far behind counts as gone: its backlog would fill the memory, bytes. */
const GONE_BYTES = 4 * 1024 * 1024
/** A page this far behind gets poses no more until it has caught up, bytes. */
const BEHIND_BYTES = 256 * 1024
/** Of ours, for pages: sign in again. */
const SIGNED_OUT = 4001
const CLOSE_WITHIN_MS = 500
const TOLD_AFTER_MS = 1000
const TOLD_EVERY_MS = 4000
const TOO_LATE = (ageMs: number) =>
  `Your hand arrives ${(ageMs / 1000).toFixed(1)} s late, so it does not move the camera. Aim, Frame and presets still work.`
/** How much of the former round trip stays in the next. */
const FORGETS = 0.7
const RELOAD = 'The page and the server differ: reload the page.'

/** What the hub needs of a socket. */
export type PageSocket = Pick<WebSocket, 'on' | 'send' | 'close' | 'terminate' | 'ping' | 'bufferedAmount'>

export interface HubDeps {
  gate: Gate
  facts: Facts
  clock: Clock
  /** Is there such a camera? */
  has(camera: string): boolean
  /** What a former server left undone, in a sentence; null if nothing. */
  interrupted(): string | null
}

/** One page. */
interface Page {
  readonly actor: Actor
  /** Only this page knows it: a request that carries it comes from here. */
  readonly key: string
  readonly deadMan: DeadMan
  person: string
  readonly visitor: Visitor
  readonly lateness: Lateness
  /** Of the newest round trips the quickest, ms; null before the first. */
  roundTripMs: number | null
  /** Since when its hand's words come too late to move anything, ms; null: they do not. */
  tooLateSinceMs: number | null
  /** When it was last asked, ms; null: it has answered. */
  askedAtMs: number | null
  tell(message: FromServer): void
}

export class LiveHub {
  private readonly pages = new Map<PageSocket, Page>()
  private readonly answered = new WeakSet<PageSocket>()
  private readonly boot = randomUUID()
  private closed = false
  private cancelPing: () => void = () => {}

  constructor(private readonly deps: HubDeps) {
    deps.facts.listen((facts) => this.tellFacts(facts))
    this.pingLater()
  }

  /** Whoever sits at the page with this key, at the browser of this session; null if there is none. */
  actorWith(key: string, session: string): Actor | null {
    for (const page of this.pages.values())
      if (page.key === key && page.visitor.session === session) return page.actor
    return null
  }

  /** These sessions have ended: what they drive stops, and their pages are shut. */
  end(sessions: ReadonlySet<string>): void {
    for (const [socket, page] of [...this.pages]) {
      if (!sessions.has(page.visitor.session)) continue
      this.pages.delete(socket)
      page.deadMan.letGo()
      this.deps.gate.dismiss(page.actor)
      socket.close(SIGNED_OUT, 'signed out')
      this.deps.clock.after(CLOSE_WITHIN_MS, () => socket.terminate())
    }
  }

  get size(): number {
    return this.pages.size
  }

  broadcast(message: FromServer): void {
    this.deps.facts.flush()
    const text = JSON.stringify(message)
    for (const [socket, page] of this.pages)
      if (concerns(message, page.visitor.may())) this.give(socket, text)
  }

  accept(socket: PageSocket, visitor: Visitor): void {
    const { deps } = this
    const page = this.open(socket, visitor)
    this.pages.set(socket, page)
    this.answered.add(socket)
    socket.on('pong', () => {
      this.answered.add(socket)
      if (page.askedAtMs === null) return
      const took = deps.clock.now() - page.askedAtMs
      page.askedAtMs = null
      // A single one that was held up says nothing about the way.
      page.roundTripMs =
        page.roundTripMs === null ? took : Math.min(took, page.roundTripMs * FORGETS + took * (1 - FORGETS))
      page.tell({ t: 'way', roundTripMs: Math.round(page.roundTripMs) })
    })
    socket.on('close', () => {
      this.pages.delete(socket)
      page.deadMan.letGo()
      deps.gate.leave(page.actor)
    })
    socket.on('error', () => socket.terminate())
    const budget = new Budget(MESSAGES_PER_SEC, MESSAGES_AT_ONCE, deps.clock.now())
    const astray = new Budget(ASTRAY_PER_SEC, ASTRAY_AT_ONCE, deps.clock.now())
    socket.on('message', (data, binary) => {
      if (this.closed || !this.pages.has(socket)) return
      if (!budget.take(deps.clock.now())) return socket.close(1008, 'too many messages')
      const message = binary ? null : parse(String(data))
      const lost = !message || ('camera' in message && !deps.has(message.camera))
      if (lost && !astray.take(deps.clock.now())) return socket.close(1008, 'too many messages astray')
      if (message) this.obey(message, page)
      else page.tell({ t: 'notice', camera: null, text: RELOAD })
    })
    const { actor, key } = page
    const interrupted = visitor.may().everywhere ? deps.interrupted() : null
    page.tell({ t: 'hello', boot: this.boot, page: actor.id, key, interrupted })
    page.tell({ t: 'facts', facts: within(deps.facts.all, visitor.may()) })
    page.askedAtMs = deps.clock.now()
    socket.ping()
  }

  /** To whoever sits at one page; nobody where it is gone. */
  tellPage(actor: string, message: FromServer): void {
    for (const page of this.pages.values()) if (page.actor.id === actor) page.tell(message)
  }

  close(): void {
    this.closed = true
    this.cancelPing()
    for (const socket of this.pages.keys()) socket.close(1001)
  }

  private open(socket: PageSocket, visitor: Visitor): Page {
    const { gate, clock } = this.deps
    const page: Page = {
      actor: {
        kind: 'browser',
        id: randomUUID(),
        name: () => (visitor.person === null ? page.person || 'Somebody else' : visitor.name()),
        get may() {
          return visitor.may()
        },
      },
      visitor,
      key: randomUUID(),
      deadMan: new DeadMan(clock, (camera, push) => gate.stick(camera, push, page.actor)),
      person: '',
      lateness: new Lateness(),
      roundTripMs: null,
      askedAtMs: null,
      tooLateSinceMs: null,
      tell: (message) => this.give(socket, JSON.stringify(message)),
    }
    return page
  }

  private obey(message: ToServer, page: Page): void {
    const { gate } = this.deps
    const { deadMan, actor } = page
    switch (message.t) {
      case 'stick': {
        const { camera, pan, tilt, zoom, focus } = message
        const word = this.wordOf(message, page)
        this.heard(page, camera, deadMan.stick(camera, { pan, tilt, zoom, focus }, word), word)
        return
      }
      case 'finger':
        if (!gate.finger(message.camera, message, actor)) return
        if (message.phase === 'up') deadMan.lifted(message.camera)
        else {
          const word = this.wordOf(message, page)
          const fresh = deadMan.held(message.camera, word)
          if (!fresh) deadMan.letGo()
          this.heard(page, message.camera, fresh, word)
        }
        return
      case 'letGo':
        deadMan.letGo()
        return
      case 'takeOver':
        gate.takeOver(message.camera, actor)
        return
      case 'person':
        page.person = message.name
        gate.renamed(actor)
        return
      default: {
        const { request, confirmed } = message
        void gate.perform(message, actor, confirmed).then((result) => {
          this.deps.facts.flush()
          const message = result.ok ? (result.said ?? null) : result.message
          page.tell({ t: 'result', request, ok: result.ok, message, ask: !result.ok && result.ask === true })
        })
      }
    }
  }

  /** A hand whose words keep coming too late to move anything is told why, now and then. */
  private heard(page: Page, camera: string, fresh: boolean, { ageMs }: Word): void {
    const now = this.deps.clock.now()
    if (fresh) page.tooLateSinceMs = null
    else if (page.tooLateSinceMs === null) page.tooLateSinceMs = now
    else if (now - page.tooLateSinceMs > TOLD_AFTER_MS) {
      page.tooLateSinceMs = now + TOLD_EVERY_MS
      page.tell({ t: 'notice', camera, text: TOO_LATE(ageMs) })
    }
  }

  /** How old what the hand says is, by the stamps of its page and half of the way there and back. */
  private wordOf({ sentMs }: { sentMs: number | null }, { lateness, roundTripMs }: Page): Word {
    if (sentMs === null) return AT_ONCE
    const now = this.deps.clock.now()
    const late = lateness.late(sentMs, now)
    return {
      ageMs: late + (roundTripMs ?? 0) / 2,
      jitterMs: roundTripMs === null ? 0 : lateness.jitterAt(now),
    }
  }

  private tellFacts(facts: Fact[]): void {
    const textOf = (some: Fact[]) => JSON.stringify({ t: 'facts', facts: some } satisfies FromServer)
    // Made once for all from whom nothing is hidden.
    const all = textOf(facts)
    const fleeting = isFleeting(facts)
    for (const [socket, page] of this.pages) {
      if (fleeting && socket.bufferedAmount > BEHIND_BYTES) continue
      const may = page.visitor.may()
      const whole = may.everywhere && may.rights.has('see')
      const some = whole ? facts : within(facts, may)
      if (some.length > 0) this.give(socket, whole ? all : textOf(some))
    }
  }

  private give(socket: PageSocket, text: string): void {
    if (socket.bufferedAmount > GONE_BYTES) socket.terminate()
    else socket.send(text)
  }

  private pingLater(): void {
    this.cancelPing = this.deps.clock.after(PING_EVERY_MS, () => {
      for (const [socket, page] of this.pages) {
        // A closed laptop leaves its socket open for minutes: no pong, no socket.
        if (!this.answered.delete(socket)) socket.terminate()
        else {
          page.askedAtMs = this.deps.clock.now()
          socket.ping()
        }
      }
      this.pingLater()
    })
  }
}

/** What is about cameras that somebody does not reach is not for them. */
function within(facts: readonly Fact[], may: May): Fact[] {
  if (!may.rights.has('see')) return []
  if (may.everywhere) return [...facts]
  return facts.filter(({ about, kind }) => kind !== 'device' && (about === SERVER || may.camera(about)))
}

/** Sentences about nothing in particular may name any camera. */
function concerns(message: FromServer, may: May): boolean {
  if (message.t !== 'notice' && message.t !== 'select') return true
  return message.camera === null ? may.everywhere : may.camera(message.camera)
}

function parse(text: string): ToServer | null {
  try {
    const result = v.safeParse(ToServer, JSON.parse(text))
    return result.success ? result.output : null
  } catch {
    return null
  }
}
