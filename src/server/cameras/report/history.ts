/** How a camera's link did over the last hour, in samples of ten seconds. */
import type { Health } from '../../../core/facts/health'
import type { Clock } from '../clock'

const EVERY_MS = 10_000
const SAMPLES = 360

export interface Sample {
  /** Ms since 1970. */
  atMs: number
  roundTripMs: number | null
  /** 0..1 */
  loss: number
  silent: boolean
}

export class History {
  private list: Sample[] = []
  private lastMs = Number.NEGATIVE_INFINITY

  constructor(private readonly clock: Clock) {}

  /** To be told often. */
  see({ state, roundTripMs, loss }: Health): void {
    const nowMs = this.clock.now()
    const silent = state === 'silent' || state === 'refused'
    const last = this.list[this.list.length - 1]
    // A short silence between two samples must not be lost.
    if (silent && last && !last.silent && nowMs - this.lastMs < EVERY_MS) last.silent = true
    if (nowMs - this.lastMs < EVERY_MS) return
    this.lastMs = nowMs
    this.list = [...this.list.slice(1 - SAMPLES), { atMs: this.clock.wall(), roundTripMs, loss, silent }]
  }

  get samples(): readonly Sample[] {
    return this.list
  }
}
