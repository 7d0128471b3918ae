/** How much one socket may ask for: a bucket that fills at a steady rate. */

export class Budget {
  private left: number
  private atMs: number

  /** @param most what may come at once */
  constructor(
    private readonly perSec: number,
    private readonly most: number,
    nowMs: number,
  ) {
    this.left = most
    this.atMs = nowMs
  }

  /** May one more come? */
  take(nowMs: number): boolean {
    this.left = Math.min(this.most, this.left + ((nowMs - this.atMs) / 1000) * this.perSec)
    this.atMs = nowMs
    if (this.left < 1) return false
    this.left -= 1
    return true
  }
}
