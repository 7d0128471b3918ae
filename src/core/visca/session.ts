/**
 * A conversation with one VISCA camera as a state machine without I/O: time comes in as an argument,
 * bytes and events come out. What is the same with and without numbered packets is here; the two ways
 * to put packets on the wire and to tell which answer belongs to what are FramedSession and RawSession.
 */
import { encodeCommand, type ViscaCommand } from './commands'
import { holdsQuestions, isOpenStop, newEntry } from './entries'
import { decodeAnswer, encodeInquiry, type InquiryKind } from './inquiries'
import { LinkStats } from './linkStats'
import { Pacer } from './pacer'
import type { Reply, ReplyError } from './replies'
import {
  type Entry,
  type FailReason,
  type Lane,
  RANKS,
  type Rank,
  type SendOptions,
  type SessionEvent,
  type SessionState,
} from './sessionTypes'

/** Drives in a burst: one more than may go unanswered, so that a hitch does not leave a fast hand waiting for good. */
const BURST = 4
/** Sending rights that a refinement must leave for the hand's next move. */
const KEPT_FOR_HANDS = 1.5
const GIVE_UP_MS = 2500
const SILENT_AFTER_MS = 2000
/** How often a camera that does not answer is asked. */
const PROBE_EVERY_MS = 500
/** The same while a stop waits for its return. */
const PROBE_FOR_STOP_MS = 150
/** A stop without an answer is repeated at least this often. */
const STOP_AGAIN_MS = 100
const FORGET_RUNNING_MS = 90_000
/** What a camera says of a packet that noise has changed on the way, and of one that it does not know. */
const GARBLED: ReadonlySet<ReplyError> = new Set<ReplyError>(['syntax', 'message-length'])
const MOST_TRIES = { stop: 12, drive: 1, queued: 3, inquiry: 1 } as const
const RETRY_MS = { stop: 20, drive: 30, queued: 60, inquiry: 60 } as const

export interface SessionOptions {
  /** Least mean time between drive packets, ms. */
  driveIntervalMs?: number
  /** 1-7 on a serial chain; over IP always 1. */
  address?: number
  /**
   * Packets are fetched one by one with `pull`, when the shared line has room, instead of being handed
   * out as soon as they are due.
   */
  pulled?: boolean
}

/** How much may be without an answer at once. */
export interface InFlight {
  /** Drives for each axis group. */
  drives: number
  inquiries: number
}

export abstract class ViscaSession {
  readonly stats = new LinkStats()
  state: SessionState = 'connecting'
  /** When the camera last sent anything, ms; null before the first time. */
  lastAnswerMs: number | null = null
  /** How often the camera came back after silence. */
  reconnects = 0

  readonly address: number
  protected entries: Entry[] = []
  protected inquiriesFromMs = Number.NEGATIVE_INFINITY
  private readonly pulled: boolean
  private datagrams: Uint8Array[] = []
  private pending: SessionEvent[] = []
  private nextId = 1
  private probeSentMs = Number.NEGATIVE_INFINITY
  private oldestUnansweredMs: number | null = null
  private readonly pacer: Pacer

  constructor(
    options: SessionOptions,
    private readonly limits: InFlight,
  ) {
    this.address = options.address ?? 1
    this.pulled = options.pulled ?? false
    this.pacer = new Pacer(options.driveIntervalMs ?? 20, BURST)
  }

  /** Takes bytes from the camera; whatever makes no sense is ignored. */
  abstract receive(bytes: Uint8Array, nowMs: number): void
  /** The bytes of an entry for the wire. `fresh`: not a copy of what was sent before. */
  protected abstract wrap(entry: Entry, fresh: boolean, nowMs: number): Uint8Array
  /** What is sent again and again while the camera does not answer. */
  protected abstract probe(): Uint8Array
  /** The camera fell silent. */
  protected abstract silenced(): void
  /** An entry got no answer in time and will not be sent again. */
  protected abstract abandoned(entry: Entry, nowMs: number): void

  /** Hands a command in. Returns its id, under which its fate is reported. */
  send(command: ViscaCommand, options: SendOptions, nowMs: number): number {
    const { urgency, lanes, refines = false } = options
    const payload = encodeCommand(command, this.address)
    const entry = newEntry({ id: this.nextId++, payload, urgency, lanes, inquiry: null, refines }, nowMs)
    this.supersede(lanes, nowMs)
    if (this.state === 'silent' && urgency !== 'stop') {
      this.report({ type: 'failed', id: entry.id, reason: 'silent', atMs: nowMs })
      return entry.id
    }
    this.entries.push(entry)
    this.pump(nowMs)
    return entry.id
  }

  /** Asks a value. An inquiry of the same kind that still waits for its answer serves for both. */
  ask(inquiry: InquiryKind, nowMs: number): void {
    if (this.state !== 'ready' || this.entries.some((e) => e.inquiry === inquiry)) return
    const payload = encodeInquiry(inquiry, this.address)
    const id = this.nextId++
    this.entries.push(
      newEntry({ id, payload, urgency: 'inquiry', lanes: [], inquiry, refines: false }, nowMs),
    )
    this.pump(nowMs)
  }

  /** Does what is due at `nowMs`. Call it at `nextAtMs()` at the latest. */
  advance(nowMs: number): void {
    if (
      this.state === 'ready' &&
      this.oldestUnansweredMs !== null &&
      nowMs - this.oldestUnansweredMs > SILENT_AFTER_MS
    ) {
      this.fallSilent(nowMs)
    }
    this.expire(nowMs)
    this.pump(nowMs)
  }

  /** When `advance` has work again, ms; infinity where nothing waits. */
  nextAtMs(nowMs: number): number {
    let next = this.state === 'ready' ? Number.POSITIVE_INFINITY : this.probeSentMs + this.probeEveryMs
    for (const e of this.entries) {
      if (e.phase === 'sent') next = Math.min(next, this.dueMs(e))
      else if (e.phase === 'waiting') {
        const from = e.notBeforeMs > nowMs ? e.notBeforeMs : this.waitingUntilMs(e, nowMs)
        next = Math.min(next, from)
      }
    }
    if (this.oldestUnansweredMs !== null && this.state === 'ready') {
      next = Math.min(next, this.oldestUnansweredMs + SILENT_AFTER_MS + 1)
    }
    return next
  }

  /** The datagrams to send, in order; each is handed out once. */
  takeDatagrams(): Uint8Array[] {
    return this.datagrams.length === 0 ? this.datagrams : this.datagrams.splice(0)
  }

  /** What happened, in order; each event is handed out once. */
  takeEvents(): SessionEvent[] {
    return this.pending.length === 0 ? this.pending : this.pending.splice(0)
  }

  private get probeEveryMs(): number {
    return this.stopPending ? PROBE_FOR_STOP_MS : PROBE_EVERY_MS
  }

  /** Since when the oldest stop waits for its answer, ms; null if none does. */
  get stopSinceMs(): number | null {
    const waiting = this.entries.filter(isOpenStop)
    return waiting.length === 0 ? null : Math.min(...waiting.map((e) => e.createdMs))
  }

  /** Is a stop still waiting for the camera's answer? */
  get stopPending(): boolean {
    return this.entries.some(isOpenStop)
  }

  protected report(event: SessionEvent): void {
    this.pending.push(event)
  }

  protected remove(entry: Entry): void {
    const i = this.entries.indexOf(entry)
    if (i >= 0) this.entries.splice(i, 1)
  }

  protected fail(entry: Entry, reason: FailReason, nowMs: number): void {
    this.remove(entry)
    if (!entry.inquiry && !entry.dropped) this.report({ type: 'failed', id: entry.id, reason, atMs: nowMs })
  }

  private supersede(lanes: readonly Lane[], nowMs: number): void {
    if (lanes.length === 0) return
    for (const e of [...this.entries]) {
      if (e.dropped || e.phase === 'running' || !e.lanes.some((lane) => lanes.includes(lane))) continue
      this.report({ type: 'superseded', id: e.id, atMs: nowMs })
      if (e.phase === 'waiting') this.remove(e)
      else e.dropped = true
    }
  }

  /** Something came from the camera. */
  protected heard(nowMs: number): void {
    this.lastAnswerMs = nowMs
    this.oldestUnansweredMs = null
  }

  private transmit(entry: Entry, nowMs: number): Uint8Array {
    const fresh = entry.phase === 'waiting'
    if (fresh) {
      entry.sends = 0
      entry.phase = 'sent'
    }
    entry.sends += 1
    entry.tries += 1
    entry.sentMs = nowMs
    this.oldestUnansweredMs ??= nowMs
    return this.wrap(entry, fresh, nowMs)
  }

  private dueMs(entry: Entry): number {
    const after = this.stats.resendAfterMs(entry.sends)
    return entry.sentMs + (entry.urgency === 'stop' ? Math.min(after, STOP_AGAIN_MS) : after)
  }

  private inFlight(test: (e: Entry) => boolean): number {
    return this.entries.reduce((n, e) => n + (e.phase === 'sent' && test(e) ? 1 : 0), 0)
  }

  /** May this waiting entry go now, the pacing of drives apart? */
  private mayGo(entry: Entry, nowMs: number): boolean {
    if (entry.urgency === 'stop') return this.state !== 'connecting'
    if (this.state !== 'ready') return false
    if (entry.urgency === 'inquiry') return this.mayAsk(nowMs)
    if (entry.urgency === 'drive') {
      const lane = entry.lanes[0]
      return (
        this.inFlight((e) => e.urgency === 'drive' && e.lanes[0] === lane) <
        this.limits.drives + (entry.refines ? 0 : 1)
      )
    }
    // One that waits for room in the camera steps aside, so that a new recall does not wait behind it.
    const next = (e: Entry) => e.urgency === 'queued' && e.phase === 'waiting' && e.notBeforeMs <= nowMs
    const first = this.entries.find(next)
    return first === entry && this.inFlight((e) => e.urgency === 'queued' && !e.dropped) === 0
  }

  private mayAsk(nowMs: number): boolean {
    if (this.entries.some(holdsQuestions) || nowMs < this.inquiriesFromMs) return false
    return this.inFlight((e) => !!e.inquiry) < this.limits.inquiries
  }

  private waitingUntilMs(entry: Entry, nowMs: number): number {
    if (!this.mayGo(entry, nowMs)) return Number.POSITIVE_INFINITY
    return entry.urgency === 'drive' ? this.pacer.readyAtMs(nowMs, entry.refines ? KEPT_FOR_HANDS : 0) : nowMs
  }

  /**
   * The next packet of a rank that may go now; null if there is none. For lines that are shared:
   * the owner asks when the line has room.
   */
  pull(rank: Rank, nowMs: number): Uint8Array | null {
    if (rank === 'inquiry' && this.state !== 'ready' && nowMs >= this.probeSentMs + this.probeEveryMs) {
      return this.makeProbe(nowMs)
    }
    for (const e of this.entries) {
      if (e.urgency !== rank || e.phase !== 'waiting' || e.notBeforeMs > nowMs || !this.mayGo(e, nowMs))
        continue
      if (rank === 'drive' && !this.pacer.take(nowMs, e.refines ? KEPT_FOR_HANDS : 0)) return null
      return this.transmit(e, nowMs)
    }
    return null
  }

  protected pump(nowMs: number): void {
    if (this.pulled) return
    for (const rank of RANKS) {
      for (let bytes = this.pull(rank, nowMs); bytes; bytes = this.pull(rank, nowMs)) {
        this.datagrams.push(bytes)
      }
    }
  }

  private makeProbe(nowMs: number): Uint8Array {
    this.probeSentMs = nowMs
    this.oldestUnansweredMs ??= nowMs
    return this.probe()
  }

  /** Without a line of its own even a copy waits until the line has room. */
  private again(entry: Entry, nowMs: number): void {
    if (this.pulled) entry.phase = 'waiting'
    else this.datagrams.push(this.transmit(entry, nowMs))
  }

  /** Resends what got no answer, and gives up where it has waited too long. */
  private expire(nowMs: number): void {
    for (const e of [...this.entries]) {
      if (e.phase === 'running') {
        if (nowMs - e.sentMs > FORGET_RUNNING_MS) this.remove(e)
        continue
      }
      const tooOld = nowMs - e.createdMs > GIVE_UP_MS && e.urgency !== 'stop'
      if (e.phase === 'waiting') {
        if (tooOld) this.fail(e, e.lastError ?? 'no-answer', nowMs)
        continue
      }
      if (nowMs < this.dueMs(e)) continue
      this.stats.lost()
      if (e.dropped || e.inquiry || tooOld) this.abandoned(e, nowMs)
      if (e.dropped || e.inquiry) this.remove(e)
      else if (tooOld) this.fail(e, e.lastError ?? 'no-answer', nowMs)
      else this.again(e, nowMs)
    }
  }

  protected setState(state: SessionState, nowMs: number): void {
    if (this.state === state) return
    if (this.state === 'silent' && state === 'ready') this.reconnects += 1
    this.state = state
    this.report({ type: 'state', state, atMs: nowMs })
  }

  private fallSilent(nowMs: number): void {
    this.setState('silent', nowMs)
    for (const e of [...this.entries]) {
      // A stop outlives the silence: it is what must reach the camera first when it answers again.
      if (e.urgency !== 'stop' || e.dropped) this.fail(e, 'silent', nowMs)
    }
    this.probeSentMs = Number.NEGATIVE_INFINITY
    this.silenced()
  }

  /** The camera answers: whatever was sent before may be lost, so it goes again. */
  protected becomeReady(nowMs: number): void {
    for (const e of this.entries) if (e.phase === 'sent') e.phase = 'waiting'
    // What was lost in the silence says nothing about the link as it is now.
    this.stats.loss = 0
    this.setState('ready', nowMs)
  }

  protected retry(entry: Entry, nowMs: number, delayMs: number): void {
    entry.phase = 'waiting'
    entry.notBeforeMs = nowMs + delayMs
  }

  /** Takes a reply of which it is known what it answers. */
  protected settle(entry: Entry, reply: Reply, nowMs: number): void {
    if (entry.phase === 'sent') this.stats.answered(nowMs - entry.sentMs, entry.sends > 1)
    switch (reply.kind) {
      case 'answer': {
        if (!entry.inquiry) return
        const answer = decodeAnswer(entry.inquiry, reply.packet)
        this.remove(entry)
        if (!answer) return
        this.report({ type: 'answer', answer, trueAtMs: (entry.sentMs + nowMs) / 2 })
        return
      }
      case 'ack':
        if (entry.inquiry || entry.phase === 'running') return
        entry.socket = reply.socket
        this.accept(entry, nowMs)
        return
      case 'completed':
        if (entry.inquiry) return
        // The acknowledgement may have been lost on the way.
        if (entry.phase === 'sent') this.accept(entry, nowMs)
        if (!entry.dropped) this.report({ type: 'completed', id: entry.id, atMs: nowMs })
        this.remove(entry)
        return
      case 'error':
        this.takeError(entry, reply.error, nowMs)
    }
  }

  protected accept(entry: Entry, nowMs: number): void {
    entry.phase = 'running'
    if (!entry.dropped) this.report({ type: 'accepted', id: entry.id, atMs: nowMs })
  }

  protected takeError(entry: Entry, error: ReplyError, nowMs: number): void {
    if (entry.inquiry) {
      this.remove(entry)
      this.report({ type: 'unanswered', inquiry: entry.inquiry, reason: error, atMs: nowMs })
    } else if (entry.dropped) this.remove(entry)
    else if (error === 'buffer-full' && entry.phase === 'sent') {
      entry.lastError = error
      this.retry(entry, nowMs, RETRY_MS[entry.urgency])
    } else if (GARBLED.has(error) && entry.tries < MOST_TRIES[entry.urgency]) {
      entry.lastError = error
      this.retry(entry, nowMs, RETRY_MS[entry.urgency])
    } else if (error === 'cancelled' && entry.phase === 'running') {
      this.report({ type: 'superseded', id: entry.id, atMs: nowMs })
      this.remove(entry)
    } else this.fail(entry, error, nowMs)
  }
}
