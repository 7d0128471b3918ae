/** A stop that was overtaken on the way by an older drive would leave the head running: it is looked at, and repeated. */

/** A head that still moves this long after a stop was acknowledged is told again. */
const STOP_CHECK_MS = 600
/** Later than this it is somebody else who moves the head. */
const STOP_CHECK_UNTIL_MS = 1600
const MAX_STOP_REPEATS = 3

export class StopCheck {
  private acknowledgedMs: number | null = null
  /** What was acknowledged is of a hand's last word, and not of one before a travel. */
  private ofHand = false
  private repeats = 0

  /** It is driven: what was acknowledged before says nothing any more. */
  driven(): void {
    this.told()
    this.repeats = 0
  }

  /** It is driven or stopped by hand. */
  told(): void {
    this.acknowledgedMs = null
    this.ofHand = true
  }

  /** It is sent somewhere, and will move without a hand. */
  sent(): void {
    this.acknowledgedMs = null
    this.ofHand = false
  }

  acknowledged(atMs: number): void {
    if (this.ofHand) this.acknowledgedMs = atMs
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
