/** A head and lens as simple as can be, for the tests of the drivers: it knows no protocol. */
import type { HandClock } from './handClock'

const AXES = ['pan', 'tilt', 'zoom'] as const
type Axis = (typeof AXES)[number]

/** Pan and tilt in degrees, zoom 0..1. Each axis is driven at a speed, or travels to a target. */
export class PlainHead {
  readonly ends = { pan: [-170, 170], tilt: [-30, 90], zoom: [0, 1] } as const
  private readonly at = { pan: 0, tilt: 0, zoom: 0 }
  private readonly speed = { pan: 0, tilt: 0, zoom: 0 }
  private readonly target: Record<Axis, number | null> = { pan: null, tilt: null, zoom: null }
  private readonly memories = new Map<number, Record<Axis, number>>()
  private sinceMs: number
  auto = true
  power = true
  focus = 0.5

  constructor(private readonly clock: HandClock) {
    this.sinceMs = clock.now()
  }

  read(): Record<Axis, number> & { moving: boolean } {
    this.advance()
    return { ...this.at, moving: AXES.some((axis) => this.speed[axis] !== 0 || this.target[axis] !== null) }
  }

  drive(speeds: Partial<Record<Axis, number>>): void {
    this.advance()
    for (const axis of AXES)
      if (speeds[axis] !== undefined) {
        this.speed[axis] = speeds[axis]
        this.target[axis] = null
      }
  }

  goTo(targets: Partial<Record<Axis, number>>): void {
    this.advance()
    for (const axis of AXES)
      if (targets[axis] !== undefined) {
        this.speed[axis] = 0
        this.target[axis] = targets[axis]
      }
  }

  keep(number: number): void {
    this.advance()
    this.memories.set(number, { ...this.at })
  }

  /** @returns whether there is anything in it */
  recall(number: number): boolean {
    const kept = this.memories.get(number)
    if (kept) this.goTo(kept)
    return kept !== undefined
  }

  private advance(): void {
    const seconds = (this.clock.now() - this.sinceMs) / 1000
    this.sinceMs = this.clock.now()
    for (const axis of AXES) {
      const target = this.target[axis]
      const top = axis === 'zoom' ? 0.5 : 60
      const step = target === null ? this.speed[axis] * seconds : target - this.at[axis]
      const most = top * seconds
      const moved = target === null ? step : Math.max(-most, Math.min(most, step))
      const [low, high] = this.ends[axis]
      this.at[axis] = Math.max(low, Math.min(high, this.at[axis] + moved))
      if (target !== null && Math.abs(this.at[axis] - target) < 1e-9) this.target[axis] = null
    }
  }
}
