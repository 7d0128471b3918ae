/**
 * Holds the mean rate of drive packets to one per interval, and lets a small burst through so that
 * the uneven arrival of stick messages does not add delay.
 */
export class Pacer {
  private tokens: number
  private updatedAtMs = Number.NEGATIVE_INFINITY

  constructor(
    private readonly intervalMs: number,
    private readonly burst: number,
  ) {
    this.tokens = burst
  }

  private refill(nowMs: number): void {
    if (nowMs > this.updatedAtMs) {
      const gained = (nowMs - this.updatedAtMs) / this.intervalMs
      this.tokens = Math.min(this.burst, this.tokens + gained)
      this.updatedAtMs = nowMs
    }
  }

  /** Takes one sending right if there is one, and as many are left as are to be kept. */
  take(nowMs: number, keep = 0): boolean {
    this.refill(nowMs)
    if (this.tokens < 1 + keep - 1e-9) return false
    this.tokens -= 1
    return true
  }

  /** When the next right will be there, ms on the caller's clock. */
  readyAtMs(nowMs: number, keep = 0): number {
    this.refill(nowMs)
    return this.tokens >= 1 + keep - 1e-9 ? nowMs : nowMs + (1 + keep - this.tokens) * this.intervalMs
  }
}
