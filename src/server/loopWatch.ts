/** Watches how late the loop runs: a block of it is a block of the dead-man too. */
import { monitorEventLoopDelay } from 'node:perf_hooks'
import { log } from './log'

const RESOLUTION_MS = 10
const LOOK_EVERY_MS = 10_000
/** Said in the log from here on, ms. */
const TOLD_FROM_MS = 250

export interface LoopDelay {
  /** Over the last ten seconds, ms beyond what a timer is late anyway. */
  p99Ms: number
  longestMs: number
  /** Since the start. */
  longestEverMs: number
}

export class LoopWatch {
  private readonly histogram = monitorEventLoopDelay({ resolution: RESOLUTION_MS })
  private last: LoopDelay = { p99Ms: 0, longestMs: 0, longestEverMs: 0 }
  private readonly timer: ReturnType<typeof setInterval>

  constructor() {
    this.histogram.enable()
    this.timer = setInterval(() => this.look(), LOOK_EVERY_MS)
    this.timer.unref()
  }

  get delay(): LoopDelay {
    const now = this.measured()
    return { ...now, longestEverMs: Math.max(now.longestMs, this.last.longestEverMs) }
  }

  close(): void {
    clearInterval(this.timer)
    this.histogram.disable()
  }

  private measured(): Omit<LoopDelay, 'longestEverMs'> {
    const { histogram } = this
    const ms = (ns: number) => Math.max(0, Math.round((ns / 1e6 - RESOLUTION_MS) * 10) / 10)
    if (histogram.count === 0) return { p99Ms: 0, longestMs: 0 }
    return { p99Ms: ms(histogram.percentile(99)), longestMs: ms(histogram.max) }
  }

  private look(): void {
    this.last = this.delay
    this.histogram.reset()
    if (this.last.longestMs >= TOLD_FROM_MS) log.warn(this.last, 'the loop was held up')
  }
}
