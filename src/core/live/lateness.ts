/**
 * How late messages come, from the sender's own stamps: two clocks that do not agree still tell how much longer
 * than the quickest one each message took. What the quickest took itself is half of a round trip.
 */

/** The quickest of this long counts: clocks drift apart, and ways change, ms. */
const WINDOW_MS = 30_000
/** How late they usually come is remembered about so long, ms. */
const JITTER_MS = 10_000
/** Whatever took longer was held up, and says nothing about how late they usually come, ms. */
const HELD_UP_MS = 400

export class Lateness {
  /** Least difference of the two clocks, in this window and the one before. */
  private least = Number.POSITIVE_INFINITY
  private before = Number.POSITIVE_INFINITY
  private sinceMs = Number.NEGATIVE_INFINITY
  private worst = 0
  private worstAtMs = Number.NEGATIVE_INFINITY

  /** @param sentMs by the sender's clock @param nowMs by ours @returns by how much it took longer than the quickest, ms */
  late(sentMs: number, nowMs: number): number {
    const apart = nowMs - sentMs
    if (nowMs - this.sinceMs > WINDOW_MS) {
      this.before = this.least
      this.least = apart
      this.sinceMs = nowMs
    }
    this.least = Math.min(this.least, apart)
    const late = apart - Math.min(this.least, this.before)
    if (late < HELD_UP_MS && (late >= this.jitterAt(nowMs) || late >= this.worst)) {
      this.worst = late
      this.worstAtMs = nowMs
    }
    return late
  }

  /** How late they usually come at most, ms. */
  jitterAt(nowMs: number): number {
    const gone = Math.max(0, nowMs - this.worstAtMs)
    return this.worst * Math.max(0, 1 - gone / JITTER_MS)
  }
}
