/** Tells how a camera is, what it can do and what it is set to: when it changes, and every second. */
import type { Capabilities } from '../../core/facts/capabilities'
import type { Health } from '../../core/facts/health'
import type { SettingValues } from '../../core/picture/settings'
import type { Clock } from './clock'
import type { News } from './news'
import { RecordingSince } from './recordingSince'

const EVERY_MS = 1000

export interface HealthHost {
  health(): Health
  capabilities(): Capabilities
  settings(): SettingValues
  /** Every second, after it was told. */
  tick(): void
}

export class HealthNews {
  private readonly recording = new RecordingSince()
  private cancel: () => void = () => {}

  constructor(
    private readonly host: HealthHost,
    private readonly news: News,
    private readonly clock: Clock,
  ) {}

  start(): void {
    this.tell()
    this.host.tick()
    this.cancel = this.clock.after(EVERY_MS, () => this.start())
  }

  tell(): void {
    const health = this.host.health()
    // While all is well, the age of the last answer is not worth telling.
    const like = { ...health, silentMs: health.state === 'ready' ? null : health.silentMs }
    this.news.fact('able', this.host.capabilities())
    this.news.fact('settings', this.recording.with(this.host.settings(), this.clock.wall()))
    this.news.fact('health', health, like)
  }

  close(): void {
    this.cancel()
  }
}
