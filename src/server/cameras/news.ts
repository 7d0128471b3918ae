/** What a camera tells of itself, without saying the same thing twice. */
import type { FactKind, FactValue } from '../../core/facts/facts'
import type { CameraEvents } from './camera'
import type { Clock } from './clock'

const SAME_NOTICE_MS = 3000

export class News {
  private readonly told = new Map<FactKind, string>()
  private lastNotice = { text: '', atMs: Number.NEGATIVE_INFINITY }

  constructor(
    private readonly events: CameraEvents,
    private readonly clock: Clock,
  ) {}

  /** @param like what of the value counts as a change; all of it if omitted */
  fact<K extends FactKind>(kind: K, value: FactValue<K>, like: unknown = value): void {
    const text = JSON.stringify(like)
    if (this.told.get(kind) === text) return
    this.told.set(kind, text)
    this.events.fact(kind, value)
  }

  notice(text: string): void {
    const now = this.clock.now()
    if (text === this.lastNotice.text && now - this.lastNotice.atMs < SAME_NOTICE_MS) return
    this.lastNotice = { text, atMs: now }
    this.events.notice(text)
  }
}
