/** The types through which a VISCA session talks to its owner. */
import type { Answer, InquiryKind } from './inquiries'
import type { Quirk } from './quirks'
import type { ReplyError } from './replies'

/** What a command moves. A newer command for the same axis group replaces an older one. */
export type Lane = 'panTilt' | 'zoom' | 'focus'

/**
 * Why a command failed: the camera's own refusal; `no-answer`, it may or may not have acted;
 * `silent`, the camera was not answering, so nothing was sent.
 */
export type FailReason = ReplyError | 'no-answer' | 'silent'

export type SessionState = 'connecting' | 'ready' | 'silent'

export type SessionEvent =
  /** A drive or a stop is on its way; copies of it are not told. */
  | { type: 'sent'; id: number; atMs: number }
  | { type: 'accepted'; id: number; atMs: number }
  | { type: 'completed'; id: number; atMs: number }
  | { type: 'failed'; id: number; reason: FailReason; atMs: number }
  | { type: 'superseded'; id: number; atMs: number }
  /** `trueAtMs`: the middle of the round trip, when the value was true. */
  | { type: 'answer'; answer: Answer; trueAtMs: number }
  /** The camera refused a question: it does not know it, or cannot answer now. */
  | { type: 'unanswered'; inquiry: InquiryKind; reason: ReplyError; atMs: number }
  /** From now on it counts as known, or as one that the camera does not answer. */
  | { type: 'knows'; inquiry: InquiryKind; known: boolean; atMs: number }
  | { type: 'quirk'; quirk: Quirk; atMs: number }
  | { type: 'state'; state: SessionState; atMs: number }

export interface SendOptions {
  /** Axis groups that the command moves; newer ones for any of them replace it. */
  lanes: readonly Lane[]
  /**
   * `stop` is sent at once and repeated until the camera answers; `drive` is paced and only the
   * newest counts; `queued` keeps its order, is resent, and given up after a while.
   */
  urgency: 'stop' | 'drive' | 'queued'
  /** A drive that only refines what a hand has asked for: it leaves room for the hand's next one. */
  refines?: boolean
}

/** What goes first when several wait. */
export const RANKS = ['stop', 'queued', 'drive', 'inquiry'] as const
export type Rank = (typeof RANKS)[number]

/** One command or inquiry on its way. */
export interface Entry {
  id: number
  payload: Uint8Array
  urgency: Rank
  lanes: readonly Lane[]
  inquiry: InquiryKind | null
  refines: boolean
  createdMs: number
  /** Framed only: the number under which it was sent. */
  sequence: number
  /** The socket in which it runs; null before the camera named it. */
  socket: number | null
  sentMs: number
  /** How long after the packet before it was sent, ms. */
  spacedMs: number
  /** How often it was sent under its present number. */
  sends: number
  /** How often it was sent under any number. */
  tries: number
  /** waiting: not sent, or to be sent again; sent: no answer yet; running: acknowledged. */
  phase: 'waiting' | 'sent' | 'running'
  /** A newer command took its place: no resend, no report. */
  dropped: boolean
  notBeforeMs: number
  lastError: ReplyError | null
  /** Raw only: acknowledgements that may belong to older copies and do not count for this one. */
  debt: number
  /** Raw only: one answer came, and another is awaited. */
  answeredOnce: boolean
}
