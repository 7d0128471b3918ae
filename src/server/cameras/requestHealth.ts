/** How a link of requests and answers is doing: what a session is to VISCA, this is to HTTP and its like. */
import type { Health, LinkState } from '../../core/facts/health'
import { LinkStats } from '../../core/visca/linkStats'
import type { Clock } from './clock'
import { DeviceFault } from './deviceFault'

/** It answers, and will go on refusing until somebody mends it. */
const REFUSALS: ReadonlySet<string> = new Set(['login', 'clock', 'open-password', 'certificate'])
const SILENT_AFTER_MS = 2000
const SLOW_LOSS = 0.12

export interface RequestWords {
  connecting: string
  silent: string
  slow: string
  standby: string
}

export class RequestHealth {
  power = true
  private readonly stats = new LinkStats()
  private base: 'connecting' | 'ready' | 'silent' | 'refused' = 'connecting'
  private trouble: string | null = null
  private lastAnswerMs: number | null = null
  private unansweredSinceMs: number | null = null
  private reconnects = 0

  constructor(
    private readonly clock: Clock,
    private readonly words: RequestWords,
    private readonly slowMs: number,
    private readonly onChange: (from: LinkState) => void,
  ) {}

  /** Watches one request from its start to its end. */
  async track<T>(work: () => Promise<T>): Promise<T> {
    const from = this.clock.now()
    this.unansweredSinceMs ??= from
    try {
      const result = await work()
      this.answered(this.clock.now() - from)
      this.become('ready', null)
      return result
    } catch (error) {
      this.failed(error, this.clock.now() - from)
      throw error
    }
  }

  get answers(): boolean {
    return this.base === 'ready'
  }

  /** Call it often: falls silent if nothing has come for a while. */
  check(): void {
    if (this.base === 'connecting' || this.base === 'silent' || this.unansweredSinceMs === null) return
    if (this.clock.now() - this.unansweredSinceMs > SILENT_AFTER_MS) this.become('silent', this.trouble)
  }

  get state(): LinkState {
    if (this.base !== 'ready') return this.base
    if (!this.power) return 'standby'
    const slow = (this.stats.roundTripMs ?? 0) > this.slowMs || this.stats.loss > SLOW_LOSS
    return slow ? 'slow' : 'ready'
  }

  get health(): Health {
    const { state, words, stats, trouble } = this
    const advice = {
      connecting: trouble ?? words.connecting,
      silent: trouble ?? words.silent,
      refused: trouble,
      standby: words.standby,
      slow: words.slow,
      ready: null,
      unheard: null,
    }[state]
    return {
      state,
      advice,
      roundTripMs: stats.roundTripMs === null ? null : Math.round(stats.roundTripMs * 10) / 10,
      loss: Math.round(stats.loss * 1000) / 1000,
      silentMs: this.lastAnswerMs === null ? null : Math.round(this.clock.now() - this.lastAnswerMs),
      reconnects: this.reconnects,
    }
  }

  private answered(ms: number): void {
    this.stats.answered(ms, false)
    this.lastAnswerMs = this.clock.now()
    this.unansweredSinceMs = null
  }

  private failed(error: unknown, ms: number): void {
    const fault = error instanceof DeviceFault ? error : null
    if (fault && REFUSALS.has(fault.kind)) {
      this.answered(ms)
      this.become('refused', fault.message)
    } else if (fault && (fault.kind === 'refused' || fault.kind === 'not-supported')) {
      this.answered(ms)
      this.become('ready', null)
    } else {
      this.stats.lost()
      if (this.trouble !== (fault?.message ?? null) && this.base === 'connecting') {
        this.trouble = fault?.message ?? null
        this.onChange(this.base)
      } else this.trouble = fault?.message ?? null
      this.check()
    }
  }

  private become(base: typeof this.base, trouble: string | null): void {
    const from = this.state
    if (this.base !== base && base === 'ready' && this.base !== 'connecting') this.reconnects += 1
    this.base = base
    this.trouble = trouble
    if (this.state !== from) this.onChange(from)
  }
}
