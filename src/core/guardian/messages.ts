/** What server and guardian say to each other: a JSON object a line, or one full stop for a beat. */
import type { Movable } from './stopOrder'

/** A beat of the server's loop. */
export const BEAT = '.'
/** How often the server beats, ms. */
export const BEAT_EVERY_MS = 50
/** If a beat is later than this, nobody is in control of the cameras, ms. */
export const BEAT_LATE_MS = 250
/** A loop that hangs for this long is ended, ms. */
export const HANGS_MS = 2000
/** How long the guardian keeps stopping a device that does not answer, ms. */
export const STOPPING_MS = 10_000
/** How often the guardian says that it is there, ms. */
export const ALIVE_EVERY_MS = 500

export type ToGuardian =
  | { t: 'hello'; pid: number }
  /** It is set in motion now, and this stops it. Sent again when its stops have changed. */
  | { t: 'moves'; what: Movable }
  | { t: 'rests'; key: string }
  /** The server ends by itself and has stopped everything. */
  | { t: 'bye' }

/** A camera that moved when its server was lost. */
export interface Left {
  camera: string
  name: string
}

export type FromGuardian =
  /** First, to each server: what moved when the former one was lost. */
  | { t: 'left'; cameras: Left[]; atMs: number | null }
  /** The server's loop was held up, and these were stopped. */
  | { t: 'stopped'; keys: string[]; lateMs: number }
  | { t: 'alive' }
