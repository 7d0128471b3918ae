/** The words in which a VISCA session talks to its owner. */
import type { Answer } from './inquiries'
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
  | { type: 'accepted'; id: number; atMs: number }
  | { type: 'completed'; id: number; atMs: number }
  | { type: 'failed'; id: number; reason: FailReason; atMs: number }
  | { type: 'superseded'; id: number; atMs: number }
  /** `trueAtMs`: the middle of the round trip, when the value was true. */
  | { type: 'answer'; answer: Answer; trueAtMs: number }
  | { type: 'state'; state: SessionState; atMs: number }

export interface SendOptions {
  /** Axis groups that the command moves; newer ones for any of them replace it. */
  lanes: readonly Lane[]
  /**
   * `stop` is sent at once and repeated until the camera answers; `drive` is paced and only the
   * newest counts; `queued` keeps its order, is resent, and given up after a while.
   */
  urgency: 'stop' | 'drive' | 'queued'
}
