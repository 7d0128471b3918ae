/**
 * How a link is doing: smoothed round trip and its deviation, loss, and the resend time that follows.
 * Smoothing gains 1/8 and 1/4 and the rule "no sample from a resent packet" as in RFC 6298.
 */

/** Before anything is known of the link; longer after each that got no answer. */
const INITIAL_RESEND_MS = 250
const MAX_INITIAL_MS = 1000
const MIN_RESEND_MS = 30
const MAX_RESEND_MS = 500
const LOSS_GAIN = 0.05

export class LinkStats {
  /** Smoothed round trip, ms; null before the first answer. */
  roundTripMs: number | null = null
  deviationMs = 0
  /** Share of sent packets that got no answer in time, smoothed, 0..1. */
  loss = 0
  private initialMs = INITIAL_RESEND_MS

  answered(roundTripMs: number, resent: boolean): void {
    this.loss += (0 - this.loss) * LOSS_GAIN
    if (resent) return
    if (this.roundTripMs === null) {
      this.roundTripMs = roundTripMs
      this.deviationMs = roundTripMs / 2
      return
    }
    this.deviationMs += (Math.abs(roundTripMs - this.roundTripMs) - this.deviationMs) / 4
    this.roundTripMs += (roundTripMs - this.roundTripMs) / 8
  }

  lost(): void {
    this.loss += (1 - this.loss) * LOSS_GAIN
    if (this.roundTripMs === null) this.initialMs = Math.min(MAX_INITIAL_MS, this.initialMs * 1.5)
  }

  /**
   * Time to wait for an answer before the `sends`-th copy (1 = the first) counts as lost, in ms.
   * @param mostMs a question, which is not sent again, may wait longer
   * @param leastMs and is given up sooner on a quick link, where the next one costs nothing
   */
  resendAfterMs(sends: number, mostMs = MAX_RESEND_MS, leastMs = MIN_RESEND_MS): number {
    const base =
      this.roundTripMs === null ? this.initialMs : this.roundTripMs + 4 * Math.max(this.deviationMs, 5)
    const bounded = Math.min(mostMs, Math.max(leastMs, base))
    return Math.min(mostMs, bounded * 1.3 ** (sends - 1))
  }
}
