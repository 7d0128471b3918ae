/** A camera that moves as the planner would have it, in virtual time, and remembers how; it may fall silent. */
import { recallLength } from '../../../core/cues/lengths'
import type { CueCamera, Place } from '../../../core/cues/world'
import type { Recall } from '../../cameras/camera'
import type { Clock } from '../../cameras/clock'
import type { Facts } from '../../facts/facts'

export interface Moved {
  preset: string
  fromMs: number
  toMs: number
  /** It came on air in the middle, and took this long from there on. */
  easedMs: number | null
  end: 'arrived' | 'interrupted' | 'failed'
  /** Did it have a way at all? */
  way: boolean
}

interface Moving {
  recall: Recall
  from: Place
  startMs: number
  seconds: number
  record: Moved
  cancel(): void
}

export class ModelCamera {
  readonly moves: Moved[] = []
  silent = false
  private moving: Moving | null = null

  constructor(
    readonly of: CueCamera,
    public place: Place,
    private readonly clock: Clock,
    private readonly facts: Facts,
    /** Is this order lost on the wire, so that it comes later? Seconds; 0: no. */
    private readonly lateS: () => number,
  ) {
    this.tell()
  }

  get busy(): boolean {
    return this.moving !== null
  }

  async recall(recall: Recall): Promise<{ ok: true } | { ok: false; message: string }> {
    if (this.silent) return { ok: false, message: `${this.of.name} does not answer.` }
    this.end('interrupted')
    const { pose, pace } = recall
    const to = { panDeg: pose.panDeg!, tiltDeg: pose.tiltDeg!, zoom: pose.zoom! }
    const { seconds, hill } = recallLength(this.of, this.place, to, pace, recall.atLeastSeconds ?? null)
    const startMs = this.clock.now() + this.lateS() * 1000
    const record: Moved = {
      ...{
        preset: recall.id,
        fromMs: startMs,
        toMs: startMs,
        easedMs: null,
        end: 'failed',
        way: hill.length > 0,
      },
    }
    this.moving = { recall, from: this.place, startMs, seconds, record, cancel: () => {} }
    this.arriveIn(startMs + seconds * 1000)
    this.travel('travelling')
    return { ok: true }
  }

  /** As a camera does that comes on air in the middle of a move. */
  ease(seconds: number): void {
    const { moving } = this
    if (!moving) return
    const nowMs = this.clock.now()
    const leftMs = moving.startMs + moving.seconds * 1000 - nowMs
    if (leftMs > seconds * 1000 - 1 || leftMs < 1) return
    this.place = this.placeAt(nowMs)
    moving.record.easedMs = seconds * 1000
    Object.assign(moving, { from: this.place, startMs: nowMs, seconds })
    moving.cancel()
    this.arriveIn(nowMs + seconds * 1000)
  }

  async perform(): Promise<{ ok: true }> {
    this.halt()
    return { ok: true }
  }

  halt(): void {
    this.end('interrupted')
  }

  drive(): void {
    this.end('interrupted')
  }

  finger(): void {}

  /** It loses its power. */
  fail(): void {
    this.silent = true
    this.end('failed')
  }

  private arriveIn(atMs: number): void {
    const mine = this.moving!
    mine.cancel = this.clock.after(Math.max(0, atMs - this.clock.now()), () => {
      if (this.moving === mine) this.end('arrived')
    })
  }

  private placeAt(nowMs: number): Place {
    const { moving } = this
    if (!moving) return this.place
    const share = Math.min(1, Math.max(0, (nowMs - moving.startMs) / (moving.seconds * 1000 || 1)))
    const eased = share * share * (3 - 2 * share)
    const { from, recall } = moving
    const mix = (a: number, b: number) => a + (b - a) * eased
    return {
      panDeg: mix(from.panDeg, recall.pose.panDeg!),
      tiltDeg: mix(from.tiltDeg, recall.pose.tiltDeg!),
      zoom: mix(from.zoom, recall.pose.zoom!),
    }
  }

  private end(how: Moved['end']): void {
    const { moving } = this
    if (!moving) return
    moving.cancel()
    const nowMs = this.clock.now()
    this.place = this.placeAt(nowMs)
    this.moves.push({ ...moving.record, toMs: nowMs, end: how })
    this.travel(how)
    this.moving = null
    this.tell()
  }

  private travel(state: 'travelling' | Moved['end']): void {
    const { recall, seconds } = this.moving!
    const reason = state === 'failed' ? `${this.of.name} does not answer.` : null
    this.facts.put('travel', this.of.id, {
      ...{ presetId: recall.id, state, leftMs: 0, totalMs: seconds * 1000, reason, eased: false },
    })
  }

  private tell(): void {
    this.facts.put('pose', this.of.id, {
      ...{ ...this.place, focusAuto: true, focus: null, encoder: null, hfovDeg: 60, power: true },
      ...{ moving: this.busy, held: false, late: false, atMs: this.clock.wall() },
    })
  }
}
