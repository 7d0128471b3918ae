/**
 * A conversation with one camera over VISCA over IP, as a state machine without I/O: time comes in as
 * an argument, datagrams and events come out. Each command takes effect once or is reported failed:
 * a lost packet is resent under its number, and the camera acts on a number once only.
 */
import { encodeCommand, type ViscaCommand } from './commands'
import { decodeAnswer, encodeInquiry, type InquiryKind } from './inquiries'
import { type Datagram, decodeDatagram, encodeDatagram, RESET_SEQUENCE, readControl } from './ip'
import { LinkStats } from './linkStats'
import { Pacer } from './pacer'
import { decodeReply, type ReplyError } from './replies'
import type { FailReason, Lane, SendOptions, SessionEvent, SessionState } from './sessionTypes'

interface Entry {
  id: number
  payload: Uint8Array
  urgency: SendOptions['urgency'] | 'inquiry'
  lanes: readonly Lane[]
  inquiry: InquiryKind | null
  createdMs: number
  sequence: number
  sentMs: number
  sends: number
  /** How often it was sent under any number. */
  tries: number
  /** waiting: not sent, or to be sent under a new number; sent: no answer yet; running: acknowledged. */
  phase: 'waiting' | 'sent' | 'running'
  /** A newer command took its place: no resend, no report. */
  dropped: boolean
  notBeforeMs: number
  lastError: ReplyError | null
}

const GIVE_UP_MS = 2500
const SILENT_AFTER_MS = 2000
const RESET_EVERY_MS = 500
/** A stop without an answer is repeated at least this often. */
const STOP_AGAIN_MS = 100
const DRIVES_IN_FLIGHT = 2
const INQUIRIES_IN_FLIGHT = 2
const FORGET_RUNNING_MS = 90_000
const RETRY_MS = { stop: 20, drive: 30, queued: 60, inquiry: 60 } as const

export interface SessionOptions {
  /** Number that marks this session's reset; give each session another, the start time for one. */
  nonce: number
  /** Least mean time between drive packets, ms. */
  driveIntervalMs?: number
}

export class ViscaSession {
  readonly stats = new LinkStats()
  state: SessionState = 'connecting'
  /** When the camera last sent anything, ms; null before the first time. */
  lastAnswerMs: number | null = null
  /** How often the camera came back after silence. */
  reconnects = 0

  private entries: Entry[] = []
  private datagrams: Uint8Array[] = []
  private pending: SessionEvent[] = []
  private nextId = 1
  private sequence = 0
  private resetSequence: number
  private resetSentMs = Number.NEGATIVE_INFINITY
  private oldestUnansweredMs: number | null = null
  private readonly pacer: Pacer

  constructor(options: SessionOptions) {
    this.resetSequence = options.nonce >>> 0
    this.pacer = new Pacer(options.driveIntervalMs ?? 20, 3)
  }

  /** Hands a command in. Returns its id, under which its fate is reported. */
  send(command: ViscaCommand, options: SendOptions, nowMs: number): number {
    const entry = this.createEntry(encodeCommand(command), options.urgency, options.lanes, null, nowMs)
    this.supersede(options.lanes, nowMs)
    if (this.state === 'silent' && options.urgency !== 'stop') {
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
    this.entries.push(this.createEntry(encodeInquiry(inquiry), 'inquiry', [], inquiry, nowMs))
    this.pump(nowMs)
  }

  /** Takes a datagram from the camera; whatever is not one is ignored. */
  receive(bytes: Uint8Array, nowMs: number): void {
    const datagram = decodeDatagram(bytes)
    if (!datagram || (datagram.type !== 'reply' && datagram.type !== 'controlReply')) return
    this.lastAnswerMs = nowMs
    this.oldestUnansweredMs = null
    if (datagram.type === 'controlReply') this.takeControl(datagram, nowMs)
    else this.takeReply(datagram, nowMs)
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
    let next = this.state === 'ready' ? Number.POSITIVE_INFINITY : this.resetSentMs + RESET_EVERY_MS
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

  /** Is a stop still waiting for the camera's answer? */
  get stopPending(): boolean {
    return this.entries.some((e) => e.urgency === 'stop' && !e.dropped && e.phase !== 'running')
  }

  private createEntry(
    payload: Uint8Array,
    urgency: Entry['urgency'],
    lanes: readonly Lane[],
    inquiry: InquiryKind | null,
    nowMs: number,
  ): Entry {
    return {
      id: this.nextId++,
      payload,
      urgency,
      lanes,
      inquiry,
      createdMs: nowMs,
      sequence: -1,
      sentMs: 0,
      sends: 0,
      tries: 0,
      phase: 'waiting',
      dropped: false,
      notBeforeMs: nowMs,
      lastError: null,
    }
  }

  private report(event: SessionEvent): void {
    this.pending.push(event)
  }

  private remove(entry: Entry): void {
    const i = this.entries.indexOf(entry)
    if (i >= 0) this.entries.splice(i, 1)
  }

  private fail(entry: Entry, reason: FailReason, nowMs: number): void {
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

  private transmit(entry: Entry, nowMs: number): void {
    if (entry.phase === 'waiting') {
      this.sequence = (this.sequence + 1) >>> 0
      entry.sequence = this.sequence
      entry.sends = 0
      entry.phase = 'sent'
    }
    entry.sends += 1
    entry.tries += 1
    entry.sentMs = nowMs
    this.oldestUnansweredMs ??= nowMs
    const type = entry.inquiry ? 'inquiry' : 'command'
    this.datagrams.push(encodeDatagram({ type, sequence: entry.sequence, payload: entry.payload }))
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
    if (entry.urgency === 'inquiry' && this.held()) return false
    if (entry.urgency === 'inquiry') return this.inFlight((e) => !!e.inquiry) < INQUIRIES_IN_FLIGHT
    if (entry.urgency === 'drive') {
      const lane = entry.lanes[0]
      return this.inFlight((e) => e.urgency === 'drive' && e.lanes[0] === lane) < DRIVES_IN_FLIGHT
    }
    // One that waits for room in the camera steps aside, so that a new recall need not wait behind it.
    const next = (e: Entry) => e.urgency === 'queued' && e.phase === 'waiting' && e.notBeforeMs <= nowMs
    const first = this.entries.find(next)
    return first === entry && this.inFlight((e) => e.urgency === 'queued' && !e.dropped) === 0
  }

  /**
   * No question may overtake a stop, nor an order that had to be sent again: on a network that reorders
   * packets its number would be out of order by then, and it would be refused for ever.
   */
  private held(): boolean {
    return this.entries.some((e) => {
      if (e.dropped || e.phase === 'running') return false
      return e.urgency === 'stop' || (e.urgency === 'queued' && e.tries > 1)
    })
  }

  private waitingUntilMs(entry: Entry, nowMs: number): number {
    if (!this.mayGo(entry, nowMs)) return Number.POSITIVE_INFINITY
    return entry.urgency === 'drive' ? this.pacer.readyAtMs(nowMs) : nowMs
  }

  private pump(nowMs: number): void {
    if (this.state !== 'ready' && nowMs >= this.resetSentMs + RESET_EVERY_MS) this.sendReset(nowMs)
    for (const rank of ['stop', 'queued', 'drive', 'inquiry'] as const) {
      for (const e of this.entries) {
        if (e.urgency !== rank || e.phase !== 'waiting' || e.notBeforeMs > nowMs || !this.mayGo(e, nowMs))
          continue
        if (rank === 'drive' && !this.pacer.take(nowMs)) return
        this.transmit(e, nowMs)
      }
    }
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
      if (e.dropped || e.inquiry) this.remove(e)
      else if (tooOld) this.fail(e, e.lastError ?? 'no-answer', nowMs)
      else this.transmit(e, nowMs)
    }
  }

  private sendReset(nowMs: number): void {
    this.resetSentMs = nowMs
    this.oldestUnansweredMs ??= nowMs
    const sequence = this.resetSequence
    this.datagrams.push(encodeDatagram({ type: 'control', sequence, payload: RESET_SEQUENCE }))
  }

  private setState(state: SessionState, nowMs: number): void {
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
    this.resetSequence = (this.resetSequence + 1) >>> 0
    this.resetSentMs = Number.NEGATIVE_INFINITY
  }

  private takeControl(datagram: Datagram, nowMs: number): void {
    const control = readControl(datagram.payload)
    if (control === 'reset') {
      if (this.state === 'ready' || datagram.sequence !== this.resetSequence) return
      this.sequence = 0
      for (const e of this.entries) if (e.phase === 'sent') e.phase = 'waiting'
      this.setState('ready', nowMs)
      return
    }
    const entry = this.entries.find((e) => e.phase === 'sent' && e.sequence === datagram.sequence)
    if (!entry) return
    // The camera did not act on it: a newer number overtook it, or it was garbled on the way.
    if (entry.dropped || entry.inquiry) this.remove(entry)
    else this.retry(entry, nowMs, 0)
  }

  private retry(entry: Entry, nowMs: number, delayMs: number): void {
    entry.phase = 'waiting'
    entry.notBeforeMs = nowMs + delayMs
  }

  private takeReply(datagram: Datagram, nowMs: number): void {
    const reply = decodeReply(datagram.payload)
    const entry = this.entries.find((e) => e.phase !== 'waiting' && e.sequence === datagram.sequence)
    if (!reply || !entry) return
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

  private accept(entry: Entry, nowMs: number): void {
    entry.phase = 'running'
    if (!entry.dropped) this.report({ type: 'accepted', id: entry.id, atMs: nowMs })
  }

  private takeError(entry: Entry, error: ReplyError, nowMs: number): void {
    if (entry.inquiry || entry.dropped) this.remove(entry)
    else if (error === 'buffer-full' && entry.phase === 'sent') {
      entry.lastError = error
      this.retry(entry, nowMs, RETRY_MS[entry.urgency])
    } else if (error === 'cancelled' && entry.phase === 'running') {
      this.report({ type: 'superseded', id: entry.id, atMs: nowMs })
      this.remove(entry)
    } else this.fail(entry, error, nowMs)
  }
}
