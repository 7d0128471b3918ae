/**
 * One tour as it runs. It holds no clock: it is told the time, whether its camera may be moved, and how its recalls
 * ended, and says where to go next.
 */
import { seeded } from '../seeded'
import type { Tour } from './show'

export type TourState = 'moving' | 'dwelling' | 'waiting' | 'paused' | 'ended'
type Stop = Tour['stops'][number]

/** A place that could not be gone to is passed over, but not in a flurry, ms. */
const AFTER_FAILURE_MS = 2000

export class TourRun {
  state: TourState = 'dwelling'
  /** Where it is in this round. */
  at = 0
  rounds = 0
  /** Why it waits or is paused, in words. */
  why: string | null = null
  private order: readonly Stop[]
  private untilMs: number
  private readonly random: () => number

  constructor(
    readonly tour: Tour,
    seed: number,
    nowMs: number,
  ) {
    this.random = seeded(seed)
    this.order = this.shuffled()
    this.untilMs = nowMs
  }

  /** The stop to go to now; null: none yet. @param kept why the camera must not be moved now; null: it may be */
  due(nowMs: number, kept: string | null): Stop | null {
    if (this.state !== 'dwelling' && this.state !== 'waiting') return null
    if (nowMs < this.untilMs) return null
    if (this.at >= this.order.length && !this.nextRound()) return null
    if (kept !== null) {
      this.state = 'waiting'
      this.why = kept
      return null
    }
    this.state = 'moving'
    this.why = null
    return this.order[this.at]!
  }

  /** Where it goes, stands, or is to go next. */
  get current(): Stop | null {
    const at = this.state === 'dwelling' && this.at > 0 ? this.at - 1 : this.at
    return this.order[at] ?? null
  }

  /** When it is to be asked again; null: when something has happened. */
  get nextAtMs(): number | null {
    return this.state === 'dwelling' ? this.untilMs : null
  }

  arrived(nowMs: number): void {
    if (this.state !== 'moving') return
    this.dwell(nowMs + this.order[this.at]!.dwellSeconds * 1000)
  }

  failed(nowMs: number): void {
    if (this.state === 'moving') this.dwell(nowMs + AFTER_FAILURE_MS)
  }

  /** A hand has its camera. */
  pause(why: string): void {
    if (this.state === 'ended') return
    this.state = 'paused'
    this.why = why
  }

  /** It goes to the stop at which it was. */
  goOn(nowMs: number): void {
    if (this.state !== 'paused') return
    this.state = 'dwelling'
    this.why = null
    this.untilMs = nowMs
  }

  stop(): void {
    this.state = 'ended'
    this.why = null
  }

  private dwell(untilMs: number): void {
    this.at += 1
    this.state = 'dwelling'
    this.untilMs = untilMs
    if (this.at >= this.order.length) this.nextRound()
  }

  /** @returns false: it is through */
  private nextRound(): boolean {
    this.rounds += 1
    if (this.tour.rounds !== 0 && this.rounds >= this.tour.rounds) {
      this.state = 'ended'
      return false
    }
    this.at = 0
    this.order = this.shuffled()
    return true
  }

  private shuffled(): readonly Stop[] {
    const stops = [...this.tour.stops]
    if (!this.tour.shuffled) return stops
    const last = this.order?.at(-1)
    for (let i = stops.length - 1; i > 0; i--) {
      const other = Math.floor(this.random() * (i + 1))
      ;[stops[i], stops[other]] = [stops[other]!, stops[i]!]
    }
    // The same twice in a row would look as if it were stuck.
    if (stops.length > 1 && stops[0] === last) stops.push(stops.shift()!)
    return stops
  }
}
