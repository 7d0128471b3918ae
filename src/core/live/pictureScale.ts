/**
 * Whether a viewer gets pictures whole or at half their width and height, by how long they take to arrive beyond
 * what the way itself takes. Half a size has about a quarter of the bytes: a slow way shows it several times as often.
 */

/** A picture that takes longer than this is too large for the way, ms. */
const SLOW_MS = 250
/** The whole size is taken again where it would arrive within this, ms. */
const WELL_MS = 150
/** How much of the former mean stays. */
const KEEPS = 0.7
/** Before it judges, it has seen so many. */
const LEAST_SEEN = 4
/** Before the whole size is tried again; longer each time that it failed, ms. */
const FIRST_TRY_MS = 8000
const LAST_TRY_MS = 120_000
/** Whoever needs the half again this soon has only tried, ms. */
const FAILED_WITHIN_MS = 10_000
/** Bytes of a whole picture for one of a half. */
const LARGER = 3.5

export class PictureScale {
  /** Half the width and height. */
  half = false
  private mean = 0
  private seen = 0
  private changedAtMs = Number.NEGATIVE_INFINITY
  private tryAfterMs = FIRST_TRY_MS

  /** @param tookMs from sending to the browser's word that it is shown @param wayMs of that, what the way takes at its quickest, there and back */
  shown(tookMs: number, wayMs: number, nowMs: number): void {
    const took = Math.max(0, tookMs - wayMs)
    this.mean = this.seen === 0 ? took : this.mean * KEEPS + took * (1 - KEEPS)
    this.seen += 1
    if (this.seen < LEAST_SEEN) return
    if (!this.half && this.mean > SLOW_MS) {
      if (nowMs - this.changedAtMs < FAILED_WITHIN_MS)
        this.tryAfterMs = Math.min(LAST_TRY_MS, this.tryAfterMs * 2)
      else this.tryAfterMs = FIRST_TRY_MS
      this.change(true, nowMs)
    } else if (this.half && this.mean * LARGER < WELL_MS && nowMs - this.changedAtMs >= this.tryAfterMs)
      this.change(false, nowMs)
  }

  private change(half: boolean, nowMs: number): void {
    this.half = half
    this.changedAtMs = nowMs
    this.seen = 0
  }
}
