/**
 * How often a source repeats itself although nothing changes. A desk that repeats itself and falls silent has
 * gone; one that only ever tells of changes may rightly be silent for an hour. Such a desk often tells of all its
 * displays at each change, so a repetition near a change proves nothing.
 */

const NEAR_MS = 300
/** So many repetitions make a rhythm. */
const ENOUGH = 4
const KEPT = 40
/** Silence is so much longer than the longest pause of its rhythm. */
const SLACK = 2.5
const LEAST_MS = 800
/** One pause that was much longer than the others was a fault of the line. */
const USUAL = 0.9

export class Rhythm {
  private readonly pauses: number[] = []
  private waiting: { atMs: number; pauseMs: number }[] = []
  private readonly toldMs = new Map<string, number>()
  private changedMs = Number.NEGATIVE_INFINITY
  private lastMs: number | null = null
  /** Of the pauses; null: to be found anew. */
  private longestMs: number | null = null

  /** @param changed whether what it said was news */
  hear(address: string, nowMs: number, changed: boolean): void {
    this.lastMs = nowMs
    const before = this.toldMs.get(address)
    this.toldMs.set(address, nowMs)
    if (changed) {
      this.changedMs = nowMs
      this.waiting = this.waiting.filter(({ atMs }) => nowMs - atMs > NEAR_MS)
    }
    this.keepOlder(nowMs)
    if (changed || before === undefined || nowMs - this.changedMs <= NEAR_MS) return
    this.waiting.push({ atMs: nowMs, pauseMs: nowMs - before })
  }

  private keepOlder(nowMs: number): void {
    for (let next = this.waiting[0]; next && nowMs - next.atMs > NEAR_MS; next = this.waiting[0]) {
      this.waiting.shift()
      this.pauses.push(next.pauseMs)
      this.longestMs = null
      if (this.pauses.length > KEPT) this.pauses.shift()
    }
  }

  /** What was told before a loss is no repetition after it. */
  restart(): void {
    this.toldMs.clear()
    this.waiting = []
  }

  get lastHeardMs(): number | null {
    return this.lastMs
  }

  /** After so long it is silent; null: it has no rhythm. */
  get silentAfterMs(): number | null {
    if (this.pauses.length < ENOUGH) return null
    this.longestMs ??= [...this.pauses].sort((a, b) => a - b)[Math.floor((this.pauses.length - 1) * USUAL)]!
    return Math.max(LEAST_MS, this.longestMs * SLACK)
  }
}
