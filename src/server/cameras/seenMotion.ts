/** How a camera runs as its readings show, while it moves by orders of its own. */
import type { HeadProfile } from '../../core/heads/profile'
import type { Sight } from '../../core/optics/sight'
import { SPEEDS_AT_REST, type Speeds, type Standing } from '../../core/stick/speeds'

/** Readings further apart, or older, say nothing about now, ms. */
const LONGEST_MS = 400
/** Nearer ones say more about the head's counting than about its speed, ms. */
const LEAST_MS = 45

class SeenSpeed {
  private readings: { atMs: number; value: number }[] = []

  see(value: number, atMs: number): void {
    const last = this.readings.at(-1)
    if (last?.atMs === atMs) return
    this.readings = [...this.readings.filter((r) => atMs - r.atMs <= LONGEST_MS), { atMs, value }]
  }

  /** Did the newest readings show the same place? */
  get rested(): boolean {
    const last = this.readings.at(-1)
    return !!last && this.readings.length > 1 && this.readings.every(({ value }) => value === last.value)
  }

  /** Per second; 0 where it is not known. */
  at(nowMs: number): number {
    const last = this.readings.at(-1)
    if (!last || nowMs - last.atMs > LONGEST_MS) return 0
    const before = [...this.readings].reverse().find(({ atMs }) => last.atMs - atMs >= LEAST_MS)
    return before ? ((last.value - before.value) / (last.atMs - before.atMs)) * 1000 : 0
  }
}

type Axis = keyof Standing
const SPEED = { panDeg: 'panDegPerSec', tiltDeg: 'tiltDegPerSec', zoom: 'zoomPerSec' } as const

export class SeenMotion {
  private readonly axes = { panDeg: new SeenSpeed(), tiltDeg: new SeenSpeed(), zoom: new SeenSpeed() }

  see(axis: Axis, value: number, atMs: number): void {
    this.axes[axis].see(value, atMs)
  }

  get rested(): boolean {
    return Object.values(this.axes).every((axis) => axis.rested)
  }

  /**
   * Where it is by now and how fast it runs, within what it can reach.
   * @param at as it was read @param readMs when that came
   */
  now(
    at: Standing,
    readMs: Record<Axis, number>,
    { pan, tilt, reportLagSeconds }: HeadProfile,
    { lens, bounds }: Pick<Sight, 'lens' | 'bounds'>,
    nowMs: number,
  ): { at: Standing; speeds: Speeds } {
    const speeds = { ...SPEEDS_AT_REST }
    const inside = { ...at }
    const goOn = (axis: Axis, min: number, max: number) => {
      const speed = this.axes[axis].at(nowMs)
      const to = at[axis] + speed * ((nowMs - readMs[axis]) / 1000 + reportLagSeconds)
      inside[axis] = Math.min(Math.max(max, at[axis]), Math.max(Math.min(min, at[axis]), to))
      // At an end it has come to rest, whatever the readings before showed.
      const atEnd = speed > 0 ? to >= max : to <= min
      speeds[SPEED[axis]] = atEnd ? 0 : speed
    }
    goOn('panDeg', pan.minDeg, pan.maxDeg)
    goOn('tiltDeg', tilt.minDeg, tilt.maxDeg)
    goOn('zoom', lens.wide, bounds.zoomMax)
    return { at: inside, speeds }
  }
}
