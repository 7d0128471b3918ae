/**
 * What goes out to a VISCA camera, and when: the most urgent first, stops at once, drives no faster than their
 * rate, and everything but stops with the gap that the camera needs. Without I/O; see ViscaSession.
 */
import { Book } from './book'
import { encodeCommand, type ViscaCommand } from './commands'
import { holdsQuestions, isOpenStop, newEntry, nextQuestion, STOP_OLD_MS } from './entries'
import { answersAlike, encodeInquiry, type InquiryKind } from './inquiries'
import { Intake } from './intake'
import { LinkStats } from './linkStats'
import { Pacer } from './pacer'
import { type PositionFormat, USUAL_POSITIONS } from './packet'
import { Questions } from './questions'
import type { Quirk } from './quirks'
import {
  type Entry,
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
export const SILENT_AFTER_MS = 2000
/** How often a camera that does not answer is asked, at first and later. */
export const PROBE_FIRST_MS = 200
const FIRST_PROBES = 4
const PROBE_EVERY_MS = 500
/** The same while a stop waits for its return. */
const PROBE_FOR_STOP_MS = 150
/** A stop without an answer is repeated at least this often. */
const STOP_AGAIN_MS = 100
/** One that stays without an answer leaves room for the questions that tell what became of it. */
const OLD_STOP_AGAIN_MS = 250
/** A question may wait this long for its answer, since it is not sent again. */
const ANSWER_WITHIN_MS = 1500
const GIVEN_UP_AFTER_MS = 35
/** Over a connection an order that is late may be on its way: what carries it has sent it again by then, ms. */
const STALLED_MS = 260
/** Copies of commands without any answer, while questions are answered: the camera never answers commands. */
const NEVER_ANSWERS = 5
/** Packets in a row after which a question goes first, where a gap lets only few go. */
const QUESTION_EVERY = 3

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
  /** Least time between any two packets but stops, ms. */
  gapMs?: number
  /** Nothing is lost on the way as long as the connection stands; it is only late. The camera may still drop it. */
  connected?: boolean
  /** How the head writes its positions. */
  positions?: PositionFormat
}

/** How much may be without an answer at once. */
export interface InFlight {
  /** Drives for each axis group. */
  drives: number
  inquiries: number
}

export abstract class Sender {
  readonly stats = new LinkStats()
  readonly questions = new Questions()
  readonly intake: Intake
  positions: PositionFormat
  state: SessionState = 'connecting'
  /** When the camera last sent anything, ms; null before the first time. */
  lastAnswerMs: number | null = null

  readonly address: number
  protected readonly book = new Book()
  /** Questions that were given up, and until when their late answer would be taken for one of the same shape. */
  protected readonly givenUp = new Map<InquiryKind, number>()
  /** Probes since the camera last answered. */
  protected probes = 0
  protected probeSentMs = -PROBE_EVERY_MS
  protected oldestUnansweredMs: number | null = null
  /** Copies of commands that got no answer; null once any was answered. */
  protected unanswered: number | null = 0
  protected readonly pulled: boolean
  private readonly patient: boolean
  private datagrams: Uint8Array[] = []
  /** Sent once, whatever is answered. */
  private loose: Entry[] = []
  private sinceQuestion = 0
  private nextId = 1
  private readonly pacer: Pacer

  constructor(
    options: SessionOptions,
    protected limits: InFlight,
  ) {
    this.address = options.address ?? 1
    this.pulled = options.pulled ?? false
    this.patient = options.connected ?? false
    this.pacer = new Pacer(options.driveIntervalMs ?? 20, BURST)
    this.intake = new Intake(options.gapMs ?? 0, this.patient)
    this.positions = options.positions ?? USUAL_POSITIONS
  }

  /** The bytes of an entry for the wire. `fresh`: not a copy of what was sent before. */
  protected abstract wrap(entry: Entry, fresh: boolean, nowMs: number): Uint8Array
  /** What is sent again and again while the camera does not answer. */
  protected abstract probe(): Uint8Array

  protected get entries(): readonly Entry[] {
    return this.book.entries
  }

  /** What is odd about the camera, as far as it has been met. */
  get quirks() {
    return this.book.quirks
  }

  note(quirk: Quirk, nowMs: number): void {
    this.book.note(quirk, nowMs)
  }

  /** Does it never answer commands? */
  protected get mute(): boolean {
    return this.unanswered !== null && this.unanswered >= NEVER_ANSWERS
  }

  /** Hands a command in. Returns its id, under which its fate is reported. */
  send(command: ViscaCommand, options: SendOptions, nowMs: number): number {
    const { urgency, lanes, refines = false } = options
    const payload = encodeCommand(command, this.address, this.positions)
    const entry = newEntry({ id: this.nextId++, payload, urgency, lanes, inquiry: null, refines }, nowMs)
    this.book.supersede(lanes, nowMs)
    if (this.state === 'silent' && urgency !== 'stop') {
      this.book.report({ type: 'failed', id: entry.id, reason: 'silent', atMs: nowMs })
      return entry.id
    }
    this.book.add(entry)
    this.pump(nowMs)
    return entry.id
  }

  /**
   * Sends a command once, whatever becomes of it: for what only clears the way.
   * @param urgency a stop goes without regard to the gap
   * @param fromMs what is more urgent goes first
   */
  protected sendOnce(command: ViscaCommand, urgency: 'stop' | 'queued', fromMs: number): void {
    const payload = encodeCommand(command, this.address)
    const entry = { id: 0, payload, urgency, lanes: [], inquiry: null, refines: false } as const
    this.loose.push(newEntry(entry, fromMs))
  }

  /** Asks a value. An inquiry of the same kind that still waits for its answer serves for both. */
  ask(inquiry: InquiryKind, nowMs: number, bytes: readonly number[] = []): void {
    if (this.state !== 'ready' || this.entries.some((e) => e.inquiry === inquiry)) return
    if (!this.questions.mayAsk(inquiry, nowMs)) return
    const payload = encodeInquiry(inquiry, this.address, bytes)
    const id = this.nextId++
    this.book.add(newEntry({ id, payload, urgency: 'inquiry', lanes: [], inquiry, refines: false }, nowMs))
    this.pump(nowMs)
  }

  /** When `advance` has work again, ms; infinity where nothing waits. */
  nextAtMs(nowMs: number): number {
    // A probe keeps the camera's gap like any other packet.
    const probeMs = Math.max(this.probeSentMs + this.probeEveryMs, this.intake.readyAtMs)
    let next = this.state === 'ready' ? Number.POSITIVE_INFINITY : probeMs
    for (const e of this.loose)
      next = Math.min(
        next,
        e.urgency === 'stop' ? e.notBeforeMs : Math.max(e.notBeforeMs, this.intake.readyAtMs),
      )
    for (const e of this.entries) {
      if (e.phase === 'sent') next = Math.min(next, this.dueMs(e))
      else if (e.phase === 'waiting') {
        const from = e.notBeforeMs > nowMs ? e.notBeforeMs : this.waitingUntilMs(e, nowMs)
        next = Math.min(next, e.urgency === 'stop' ? from : Math.max(from, this.intake.readyAtMs))
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
    return this.book.takeEvents()
  }

  private get probeEveryMs(): number {
    if (this.stopPending) return PROBE_FOR_STOP_MS
    return this.probes <= FIRST_PROBES ? PROBE_FIRST_MS : PROBE_EVERY_MS
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

  private transmit(entry: Entry, nowMs: number): Uint8Array {
    const fresh = entry.phase === 'waiting'
    if (fresh) {
      entry.sends = 0
      entry.phase = 'sent'
    }
    entry.sends += 1
    entry.tries += 1
    entry.sentMs = nowMs
    entry.spacedMs = this.intake.sent(nowMs, !!entry.inquiry)
    if (entry.tries === 1 && (entry.urgency === 'drive' || entry.urgency === 'stop'))
      this.book.report({ type: 'sent', id: entry.id, atMs: nowMs })
    this.oldestUnansweredMs ??= nowMs
    this.sinceQuestion = entry.inquiry ? 0 : this.sinceQuestion + 1
    if (entry.inquiry) this.questions.asked(entry.inquiry, nowMs)
    return this.wrap(entry, fresh, nowMs)
  }

  protected dueMs(entry: Entry): number {
    const after = entry.inquiry
      ? this.stats.resendAfterMs(entry.sends, ANSWER_WITHIN_MS, GIVEN_UP_AFTER_MS)
      : Math.max(
          this.stats.resendAfterMs(entry.sends),
          this.patient && entry.urgency === 'queued' ? STALLED_MS : 0,
        )
    // A copy keeps the camera's gap like any other packet; a question is not sent again.
    const room = this.pulled || entry.inquiry ? 0 : this.intake.readyAtMs
    if (entry.urgency !== 'stop') return Math.max(entry.sentMs + after, room)
    const old = entry.sentMs - entry.createdMs > STOP_OLD_MS
    return entry.sentMs + (old ? OLD_STOP_AGAIN_MS : Math.min(after, STOP_AGAIN_MS))
  }

  /** May this waiting entry go now, the pacing of drives apart? */
  private mayGo(entry: Entry, nowMs: number): boolean {
    if (entry.urgency === 'stop') return this.state !== 'connecting'
    if (this.state !== 'ready') return false
    if (entry.urgency === 'inquiry') return this.mayAsk(entry.inquiry!, nowMs)
    if (entry.urgency === 'drive') {
      const lane = entry.lanes[0]
      return (
        this.mute ||
        this.book.inFlight((e) => e.urgency === 'drive' && e.lanes[0] === lane) <
          this.limits.drives + (entry.refines ? 0 : 1)
      )
    }
    // One that waits for room in the camera steps aside, so that a new recall does not wait behind it.
    const next = (e: Entry) => e.urgency === 'queued' && e.phase === 'waiting' && e.notBeforeMs <= nowMs
    const first = this.entries.find(next)
    return first === entry && this.book.inFlight((e) => e.urgency === 'queued' && !e.dropped) === 0
  }

  private mayAsk(inquiry: InquiryKind, nowMs: number): boolean {
    for (const [kind, untilMs] of this.givenUp)
      if (nowMs < untilMs && kind !== inquiry && answersAlike(kind, inquiry)) return false
    if (!this.mute && this.entries.some((e) => holdsQuestions(e, nowMs))) return false
    return this.book.inFlight((e) => !!e.inquiry) < this.limits.inquiries
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
    if (rank !== 'stop' && nowMs < this.intake.readyAtMs) return null
    if (rank === 'inquiry' && this.state !== 'ready' && nowMs >= this.probeSentMs + this.probeEveryMs) {
      return this.makeProbe(nowMs)
    }
    const waits = (e: Entry) =>
      e.urgency === rank && e.phase === 'waiting' && e.notBeforeMs <= nowMs && this.mayGo(e, nowMs)
    const e = rank === 'inquiry' ? nextQuestion(this.entries.filter(waits), nowMs) : this.entries.find(waits)
    if (e) {
      if (rank === 'drive' && !this.pacer.take(nowMs, e.refines ? KEPT_FOR_HANDS : 0)) return null
      return this.transmit(e, nowMs)
    }
    const at = this.loose.findIndex((e) => e.urgency === rank && e.notBeforeMs <= nowMs)
    if (at < 0) return null
    return this.transmit(this.loose.splice(at, 1)[0]!, nowMs)
  }

  protected sendRaw(bytes: Uint8Array): void {
    this.datagrams.push(bytes)
  }

  protected pump(nowMs: number): void {
    if (this.pulled) return
    if (this.intake.gapMs > 0 && this.sinceQuestion >= (this.ordersWait ? QUESTION_EVERY : 1)) {
      const question = this.pull('inquiry', nowMs)
      if (question) this.datagrams.push(question)
    }
    for (const rank of RANKS) {
      for (let bytes = this.pull(rank, nowMs); bytes; bytes = this.pull(rank, nowMs)) {
        this.datagrams.push(bytes)
      }
    }
  }

  private get ordersWait(): boolean {
    return this.entries.some((e) => e.phase === 'waiting' && e.urgency !== 'inquiry')
  }

  private makeProbe(nowMs: number): Uint8Array {
    this.probeSentMs = nowMs
    this.probes += 1
    this.oldestUnansweredMs ??= nowMs
    this.intake.sent(nowMs)
    return this.probe()
  }

  /** Without a line of its own even a copy waits until the line has room. */
  protected again(entry: Entry, nowMs: number): void {
    if (this.pulled) entry.phase = 'waiting'
    else this.datagrams.push(this.transmit(entry, nowMs))
  }
}
