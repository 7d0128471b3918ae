/**
 * A conversation with one VISCA camera as a state machine without I/O: time comes in as an argument,
 * bytes and events come out. What is the same with and without numbered packets is here and in Sender; the two
 * ways to put packets on the wire and to tell which answer belongs to what are FramedSession and RawSession.
 */
import { isOpenStop, STOP_OLD_MS } from './entries'
import { decodeAnswer, type InquiryKind } from './inquiries'
import type { Reply, ReplyError } from './replies'
import { PROBE_FIRST_MS, Sender, SILENT_AFTER_MS } from './sender'
import type { Entry, Lane, SessionState } from './sessionTypes'

export type { SessionOptions } from './sender'

/** A share lost from which an answer without a number is doubted. */
const LOSSY = 0.03
const GIVE_UP_MS = 2500
/** Sockets that are busy become free when the head arrives. */
const SOCKETS_BUSY_MS = 10_000
const FORGET_RUNNING_MS = 90_000
/** A stop goes first. */
const CLEAR_AFTER_MS = 10
/** So many completions without a single acknowledgement: it never acknowledges. */
const COMPLETIONS_ALONE = 4
const LINK_WAS_UP_MS = 600
const CLEARED_WITHIN_MS = 1000
/** Of a camera that never answers a stop: it has stood for this long since, by positions that may be late, ms. */
const STOP_SEEN_MS = 400
/** A stop to a camera that never answers, and cannot be judged by a position, is taken for carried out after this. */
const STOP_UNSEEN_MS = 3000
/** What a camera says of a packet that noise has changed on the way, and of one that it does not know. */
const GARBLED: ReadonlySet<ReplyError> = new Set<ReplyError>(['syntax', 'message-length'])
const MOST_TRIES = { stop: 12, drive: 1, queued: 3, inquiry: 1 } as const
const RETRY_MS = { stop: 20, drive: 30, queued: 60, inquiry: 60 } as const

export abstract class ViscaSession extends Sender {
  /** How often the camera came back after silence. */
  reconnects = 0
  private clearedUntilMs = Number.NEGATIVE_INFINITY
  protected acknowledgements = 0
  private completionsAlone = 0
  /** Without an answer, and it is not known yet whether the link was up. */
  private readonly doubtful: { sentMs: number; spacedMs: number; question: boolean }[] = []

  /** Takes bytes from the camera; whatever makes no sense is ignored. */
  abstract receive(bytes: Uint8Array, nowMs: number): void
  /** Does it report completions alone? A move is then taken for accepted, since it completes only on arrival. */
  private get neverAcknowledges(): boolean {
    return this.acknowledgements === 0 && this.completionsAlone >= COMPLETIONS_ALONE
  }

  protected get lossy(): boolean {
    return this.stats.loss > LOSSY
  }

  /** Do its answers say which command they belong to? */
  protected get knowsWhose(): boolean {
    return true
  }

  /** The camera fell silent. */
  protected abstract silenced(): void
  /** An entry got no answer in time and will not be sent again. */
  protected abstract abandoned(entry: Entry, nowMs: number): void

  /**
   * The positions show that nothing moves on a lane any more: a stop that was never answered has been obeyed.
   * @param sinceMs since when it stands
   */
  stands(lane: Lane, sinceMs: number, nowMs: number): void {
    const least = this.mute ? STOP_SEEN_MS : STOP_OLD_MS
    for (const e of this.entries.filter(isOpenStop)) {
      if (e.lanes.includes(lane) && nowMs - Math.max(e.createdMs, sinceMs) >= least)
        this.book.finish(e, nowMs)
    }
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

  /** Something came from the camera. */
  protected heard(nowMs: number): void {
    this.lastAnswerMs = nowMs
    this.oldestUnansweredMs = null
    // What was lost while the link was down says nothing of how fast the camera reads.
    for (const { sentMs, spacedMs, question } of this.doubtful.splice(0))
      if (
        nowMs - sentMs < LINK_WAS_UP_MS &&
        this.intake.outcome(spacedMs, false, question, this.knowsWhose || question)
      )
        this.book.note('slowIntake', nowMs)
  }

  /** Is it the answer to the clearing of the buffers, which nothing waits for? */
  protected answersClear(reply: Reply, nowMs: number): boolean {
    const answers = reply.kind === 'completed' && reply.socket === 0 && nowMs < this.clearedUntilMs
    if (answers) this.clearedUntilMs = Number.NEGATIVE_INFINITY
    return answers
  }

  /** Resends what got no answer, and gives up where it has waited too long. */
  private expire(nowMs: number): void {
    for (const e of [...this.entries]) {
      if (e.phase === 'running') {
        if (nowMs - e.sentMs > FORGET_RUNNING_MS) this.book.remove(e)
        continue
      }
      const patience = e.lastError === 'buffer-full' && e.urgency === 'queued' ? SOCKETS_BUSY_MS : GIVE_UP_MS
      const tooOld = nowMs - e.createdMs > patience && e.urgency !== 'stop'
      if (e.phase === 'waiting') {
        if (tooOld) this.book.fail(e, e.lastError ?? 'no-answer', nowMs)
        continue
      }
      if (nowMs >= this.dueMs(e)) this.missed(e, tooOld, nowMs)
    }
  }

  private missed(e: Entry, tooOld: boolean, nowMs: number): void {
    const { inquiry } = e
    if (inquiry ? this.questions.isAnswered(inquiry) : !this.mute) {
      this.stats.lost()
      this.doubtful.push({ sentMs: e.sentMs, spacedMs: e.spacedMs, question: !!inquiry })
    }
    if (inquiry) {
      if (this.questions.missed(inquiry)) this.knows(inquiry, false, nowMs)
    } else if (this.unanswered !== null && this.lastAnswerMs !== null && this.lastAnswerMs > e.createdMs) {
      this.unanswered += 1
      if (this.mute) this.book.note('noAnswerToCommands', nowMs)
    }
    if (e.dropped || inquiry || tooOld) this.abandoned(e, nowMs)
    if (e.dropped || inquiry) this.book.remove(e)
    else if (this.mute && (e.urgency !== 'stop' || nowMs - e.createdMs > STOP_UNSEEN_MS))
      this.book.finish(e, nowMs)
    else if (e.urgency === 'queued' && this.neverAcknowledges) this.book.accept(e, nowMs)
    else if (tooOld) this.book.fail(e, e.lastError ?? 'no-answer', nowMs)
    else this.again(e, nowMs)
  }

  private knows(inquiry: InquiryKind, known: boolean, nowMs: number): void {
    this.book.report({ type: 'knows', inquiry, known, atMs: nowMs })
  }

  protected setState(state: SessionState, nowMs: number): void {
    if (this.state === state) return
    if (this.state === 'silent' && state === 'ready') this.reconnects += 1
    this.state = state
    this.book.report({ type: 'state', state, atMs: nowMs })
  }

  private fallSilent(nowMs: number): void {
    this.setState('silent', nowMs)
    for (const e of [...this.entries]) {
      // A stop outlives the silence: it is what must reach the camera first when it answers again.
      if (e.urgency !== 'stop' || e.dropped) this.book.fail(e, 'silent', nowMs)
    }
    this.probeSentMs = nowMs - PROBE_FIRST_MS
    this.silenced()
  }

  /** The camera answers: whatever was sent before may be lost, so it goes again. */
  protected becomeReady(nowMs: number): void {
    for (const e of this.entries) if (e.phase === 'sent') e.phase = 'waiting'
    // What was lost in the silence says nothing about the link as it is now.
    this.stats.loss = 0
    this.probes = 0
    this.questions.forget()
    this.setState('ready', nowMs)
    if (!this.pulled) this.clearBuffers(nowMs)
  }

  protected retry(entry: Entry, nowMs: number, delayMs: number): void {
    entry.phase = 'waiting'
    entry.notBeforeMs = nowMs + delayMs
  }

  /** Takes a reply of which it is known what it answers. */
  protected settle(entry: Entry, reply: Reply, nowMs: number): void {
    if (entry.phase === 'sent') {
      this.stats.answered(nowMs - entry.sentMs, entry.sends > 1)
      const question = !!entry.inquiry
      if (this.intake.outcome(entry.spacedMs, true, question, this.knowsWhose || question))
        this.book.note('slowIntake', nowMs)
    }
    if (reply.kind === 'ack' || (reply.kind === 'completed' && !entry.inquiry)) this.unanswered = null
    switch (reply.kind) {
      case 'answer': {
        if (!entry.inquiry) return
        const answer = decodeAnswer(entry.inquiry, reply.packet)
        this.book.remove(entry)
        if (!answer) return
        if (reply.packet[1] !== 0x50) this.book.note('answersInSocket', nowMs)
        if (answer.kind === 'power') this.questions.power(answer.on, nowMs)
        if (this.questions.answered(entry.inquiry)) this.knows(entry.inquiry, true, nowMs)
        this.book.report({ type: 'answer', answer, trueAtMs: (entry.sentMs + nowMs) / 2 })
        return
      }
      case 'ack':
        if (entry.inquiry || entry.phase === 'running') return
        this.acknowledgements += 1
        entry.socket = reply.socket
        this.book.accept(entry, nowMs)
        return
      case 'completed':
        if (entry.inquiry) return
        // The acknowledgement may have been lost on the way.
        if (entry.phase === 'sent') {
          this.completionsAlone += 1
          if (this.neverAcknowledges) this.book.note('noAcknowledgement', nowMs)
          this.book.accept(entry, nowMs)
        }
        if (!entry.dropped) this.book.report({ type: 'completed', id: entry.id, atMs: nowMs })
        this.book.remove(entry)
        return
      case 'error':
        this.takeError(entry, reply.error, nowMs)
    }
  }

  protected takeError(entry: Entry, error: ReplyError, nowMs: number): void {
    if (entry.inquiry) {
      this.book.remove(entry)
      this.book.report({ type: 'unanswered', inquiry: entry.inquiry, reason: error, atMs: nowMs })
      if (GARBLED.has(error) && this.questions.refused(entry.inquiry, nowMs)) {
        this.book.note('refusesQuestions', nowMs)
        this.knows(entry.inquiry, false, nowMs)
      }
    } else if (entry.dropped) this.book.remove(entry)
    else if (error === 'buffer-full' && entry.phase === 'sent') {
      entry.lastError = error
      if (entry.urgency === 'stop') this.freeSockets(nowMs)
      // Nothing of ours runs in them: another controller has left them busy.
      else if (!this.entries.some((e) => e.phase === 'running')) this.clearBuffers(nowMs)
      this.retry(entry, nowMs, RETRY_MS[entry.urgency])
    } else if (GARBLED.has(error) && entry.tries < MOST_TRIES[entry.urgency]) {
      entry.lastError = error
      this.retry(entry, nowMs, RETRY_MS[entry.urgency])
    } else if (error === 'cancelled' && entry.phase === 'running') {
      this.book.report({ type: 'superseded', id: entry.id, atMs: nowMs })
      this.book.remove(entry)
    } else this.book.fail(entry, error, nowMs)
  }

  /** Once in a while: it would also end what is meant to run. */
  private clearBuffers(nowMs: number): void {
    if (nowMs < this.clearedUntilMs) return
    this.clearedUntilMs = nowMs + CLEARED_WITHIN_MS
    this.sendOnce({ kind: 'clear' }, 'queued', nowMs + CLEAR_AFTER_MS)
  }

  /** What runs in them stands in the way of a stop. */
  private freeSockets(nowMs: number): void {
    this.book.note('busySockets', nowMs)
    for (const socket of [1, 2]) this.sendOnce({ kind: 'cancel', socket }, 'stop', nowMs)
  }
}
