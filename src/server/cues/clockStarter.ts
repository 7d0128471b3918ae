/** Starts cues by the wall's clock, in the venue's time; what is missed is told. */
import { dueBetween, nextStart } from '../../core/cues/clock'
import type { Show } from '../../core/cues/show'
import type { Clock } from '../cameras/clock'

export interface ClockStarterDeps {
  clock: Clock
  starts(): Show['starts']
  timeZone(): string
  /** Nothing is to begin now. */
  held(): boolean
  /** @returns why it did not begin */
  begin(cue: string): string | null
  missed(cue: string, atMs: number): void
  changed(): void
}

const LOOK_EVERY_MS = 500
const KEEP_EVERY_MS = 60_000

export class ClockStarter {
  /** Up to here the starts were looked at, ms since 1970. */
  seenMs: number
  /** When that was last worth keeping. */
  keptMs = 0
  /** The starts as they were last looked through, and the next of them. */
  private known: { starts: Show['starts'] | null; zone: string; next: ReturnType<typeof nextStart> } = {
    ...{ starts: null, zone: '', next: null },
  }
  private cancel: () => void = () => {}

  constructor(private readonly deps: ClockStarterDeps) {
    this.seenMs = deps.clock.wall()
    this.tick()
  }

  get next(): ReturnType<typeof nextStart> {
    return this.known.next
  }

  /** What is due is looked for from here on; null: from now. */
  from(seenMs: number | null): void {
    this.seenMs = seenMs ?? this.deps.clock.wall()
    this.known = { ...this.known, starts: null }
  }

  close(): void {
    this.cancel()
  }

  private tick(): void {
    const { deps } = this
    const nowMs = deps.clock.wall()
    const starts = deps.starts()
    const zone = deps.timeZone()
    if (starts !== this.known.starts || zone !== this.known.zone)
      this.known = { starts, zone, next: nextStart(starts, this.seenMs, zone) }
    const comes = this.known.next !== null && this.known.next.dueMs <= nowMs
    // A clock that was set back must not start anything twice.
    if (nowMs > this.seenMs && !comes) this.seenMs = nowMs
    else if (nowMs > this.seenMs) {
      const due = dueBetween(starts, this.seenMs, nowMs, zone, deps.held())
      this.seenMs = nowMs
      this.known = { starts, zone, next: nextStart(starts, nowMs, zone) }
      for (const { start, dueMs, what } of due) {
        const problem = what === 'missed' ? 'missed' : deps.begin(start.cue)
        if (problem !== null) deps.missed(start.cue, dueMs)
      }
      deps.changed()
    }
    if (nowMs - this.keptMs > KEEP_EVERY_MS) {
      this.keptMs = nowMs
      deps.changed()
    }
    this.cancel = deps.clock.after(LOOK_EVERY_MS, () => this.tick())
  }
}
