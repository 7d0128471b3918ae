/** A stop that was overtaken on the way by an older drive would leave the head running: it is looked at, and repeated. */

/** A head that still moves this long after a stop was acknowledged is told again. */
const STOP_CHECK_MS = 600
/** Later than this it is somebody else who moves the head. */
const STOP_CHECK_UNTIL_MS = 1600
const MAX_STOP_REPEATS = 3

export class StopCheck {
  private acknowledgedMs: number | null = null
  private repeats = 0

  /** It is driven: what was acknowledged before says nothing any more. */
  driven(): void {
    this.acknowledgedMs = null
    this.repeats = 0
  }

  /** It is sent somewhere, and will move without a hand. */
  sent(): void {
    this.acknowledgedMs = null
  }

  acknowledged(atMs: number): void {
    this.acknowledgedMs = atMs
  }

  /** The head is seen to move. @returns whether it is to be stopped once more */
  seenMoving(nowMs: number): boolean {
    const since = this.acknowledgedMs === null ? null : nowMs - this.acknowledgedMs
    if (since === null || since < STOP_CHECK_MS) return false
    this.acknowledgedMs = null
    if (since > STOP_CHECK_UNTIL_MS || this.repeats >= MAX_STOP_REPEATS) return false
    this.repeats += 1
    return true
  }
}
