/** What a session has under way, and what it has to tell of it. */
import type { Quirk } from './quirks'
import type { Entry, FailReason, Lane, SessionEvent } from './sessionTypes'

export class Book {
  readonly entries: Entry[] = []
  readonly quirks = new Set<Quirk>()
  private pending: SessionEvent[] = []

  add(entry: Entry): void {
    this.entries.push(entry)
  }

  remove(entry: Entry): void {
    const i = this.entries.indexOf(entry)
    if (i >= 0) this.entries.splice(i, 1)
  }

  report(event: SessionEvent): void {
    this.pending.push(event)
  }

  /** What happened, in order; each event is handed out once. */
  takeEvents(): SessionEvent[] {
    return this.pending.length === 0 ? this.pending : this.pending.splice(0)
  }

  /** An oddity was met. */
  note(quirk: Quirk, nowMs: number): void {
    if (this.quirks.has(quirk)) return
    this.quirks.add(quirk)
    this.report({ type: 'quirk', quirk, atMs: nowMs })
  }

  fail(entry: Entry, reason: FailReason, nowMs: number): void {
    this.remove(entry)
    if (!entry.inquiry && !entry.dropped) this.report({ type: 'failed', id: entry.id, reason, atMs: nowMs })
  }

  accept(entry: Entry, nowMs: number): void {
    entry.phase = 'running'
    if (!entry.dropped) this.report({ type: 'accepted', id: entry.id, atMs: nowMs })
  }

  /** It is over, as far as anybody can tell. */
  finish(entry: Entry, nowMs: number): void {
    this.accept(entry, nowMs)
    if (!entry.dropped) this.report({ type: 'completed', id: entry.id, atMs: nowMs })
    this.remove(entry)
  }

  /** A newer command for these axes takes the place of what has not been acknowledged. */
  supersede(lanes: readonly Lane[], nowMs: number): void {
    if (lanes.length === 0) return
    for (const e of [...this.entries]) {
      if (e.dropped || e.phase === 'running' || !e.lanes.some((lane) => lanes.includes(lane))) continue
      this.report({ type: 'superseded', id: e.id, atMs: nowMs })
      if (e.phase === 'waiting') this.remove(e)
      else e.dropped = true
    }
  }

  inFlight(test: (e: Entry) => boolean): number {
    return this.entries.reduce((n, e) => n + (e.phase === 'sent' && test(e) ? 1 : 0), 0)
  }

  oldestSent(test: (e: Entry) => boolean): Entry | undefined {
    let oldest: Entry | undefined
    for (const e of this.entries) {
      if (e.phase === 'sent' && test(e) && (!oldest || e.sentMs < oldest.sentMs)) oldest = e
    }
    return oldest
  }

  inSocket(socket: number): Entry[] {
    return this.entries.filter((e) => e.phase === 'running' && e.socket === socket)
  }
}
