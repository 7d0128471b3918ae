/** Commands and inquiries of a session that are not finished. */
import type { InquiryKind } from './inquiries'
import type { Entry } from './sessionTypes'

type Fresh = Pick<Entry, 'id' | 'payload' | 'urgency' | 'lanes' | 'inquiry' | 'refines'>

/** A stop that the camera leaves unanswered lets questions through after this, ms: its position tells what became of it. */
export const STOP_HOLDS_QUESTIONS_MS = 300
/** A stop that stays without an answer for this long is repeated more rarely, and judged by the positions alone, ms. */
export const STOP_OLD_MS = 1000

export function newEntry(fresh: Fresh, nowMs: number): Entry {
  // Field by field, and times as times from the first: a thousand of these are made in a second, and an object
  // that changes its shape afterwards costs many times as much.
  return {
    id: fresh.id,
    payload: fresh.payload,
    urgency: fresh.urgency,
    lanes: fresh.lanes,
    inquiry: fresh.inquiry,
    refines: fresh.refines,
    createdMs: nowMs,
    sequence: -1,
    socket: null,
    sentMs: Number.NEGATIVE_INFINITY,
    spacedMs: 0,
    sends: 0,
    tries: 0,
    phase: 'waiting',
    dropped: false,
    notBeforeMs: nowMs,
    lastError: null,
    debt: 0,
    answeredOnce: false,
  }
}

/** What a move is steered by. */
const STEERS: ReadonlySet<InquiryKind> = new Set<InquiryKind>(['ptPosition', 'zoomPosition'])
/** Another question waits for them no longer than this, ms. */
const WAITS_FOR_POSITIONS_MS = 1000

/** Which of those that may go: where a gap lets only few go, a move must not wait for what changes slowly. */
export const nextQuestion = (waiting: readonly Entry[], nowMs: number): Entry | undefined =>
  waiting.find((e) => nowMs - e.createdMs > WAITS_FOR_POSITIONS_MS) ??
  waiting.find((e) => STEERS.has(e.inquiry!)) ??
  waiting[0]

/** Does it wait for an answer, or for its turn, and still count? */
const isOpen = (e: Entry): boolean => !e.dropped && e.phase !== 'running'

/** A stop that the camera has not answered yet. */
export const isOpenStop = (e: Entry): boolean => e.urgency === 'stop' && isOpen(e)

/**
 * No question may overtake a stop, nor an order that had to be sent again: on a network that reorders packets
 * its number would be out of order by then, and it would be refused for ever. One that waits for a free socket is
 * another matter: only the positions tell when that will be.
 */
export const holdsQuestions = (e: Entry, nowMs: number): boolean =>
  (isOpenStop(e) && nowMs - e.createdMs < STOP_HOLDS_QUESTIONS_MS) ||
  (isOpen(e) && e.urgency === 'queued' && e.tries > 1 && e.lastError !== 'buffer-full')
