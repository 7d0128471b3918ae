/** What a device says, made into pushes: calibration, curves, and learning what somebody moves. */
import { curveAt, shapeOne, shapeStick } from '../stick/curve'
import type { Push } from '../stick/speeds'
import type { AxisBinding, Button, DeviceProfile } from './controls'

/** All axes and buttons of a device at one moment. */
export interface Reading {
  axes: readonly number[]
  buttons: readonly boolean[]
}

/** A hat as an axis: up is -1, then clockwise in eight steps to 1; at rest it is beyond 1. */
function hatDirection(value: number): number | null {
  if (value > 1.05 || value < -1.05) return null
  return Math.round(((value + 1) / 2) * 7)
}

export function pressed(reading: Reading, button: Button): boolean {
  if (button.kind === 'button') return reading.buttons[button.index] ?? false
  const direction = hatDirection(reading.axes[button.index] ?? 9)
  if (direction === null) return false
  // Between two directions both are pressed.
  const apart = Math.abs(direction - button.direction)
  return Math.min(apart, 8 - apart) <= 1
}

/** -1..1; 0 where the device has no such axis. */
export function deflection(reading: Reading, binding: AxisBinding | null): number {
  if (!binding) return 0
  if (binding.kind === 'buttons')
    return Number(pressed(reading, binding.positive)) - Number(pressed(reading, binding.negative))
  const raw = reading.axes[binding.index]
  if (raw === undefined || !Number.isFinite(raw)) return 0
  const { low, centre, high, inverted } = binding
  const span = raw < centre ? centre - low : high - centre
  const share = span > 0 ? Math.max(-1, Math.min(1, (raw - centre) / span)) : 0
  return share === 0 ? 0 : inverted ? -share : share
}

/** The push of a device as it is now. */
export function pushOf(reading: Reading, { axes, deadZone, curve }: DeviceProfile): Push {
  const respond = curveAt(curve)
  const { x, y } = shapeStick(
    deflection(reading, axes.pan),
    deflection(reading, axes.tilt),
    deadZone,
    respond,
  )
  return {
    pan: x,
    tilt: y,
    zoom: shapeOne(deflection(reading, axes.zoom), deadZone, respond),
    focus: shapeOne(deflection(reading, axes.focus), deadZone, respond),
  }
}

/** Where a fader stands, 0..1; null if the device has none for the speed. */
export function faderOf(reading: Reading, binding: AxisBinding | null): number | null {
  if (binding?.kind !== 'axis' || !Number.isFinite(reading.axes[binding.index])) return null
  const { low, high, inverted } = binding
  const share = Math.max(0, Math.min(1, (reading.axes[binding.index]! - low) / (high - low || 1)))
  return inverted ? 1 - share : share
}

/** Does it come back to its middle by itself, as a stick does and a knob does not? */
export const springsBack = ({ low, centre, high }: AxisBinding & { kind: 'axis' }): boolean =>
  centre - low > (high - low) * 0.25 && high - centre > (high - low) * 0.25

export type Learnt =
  | { kind: 'axis'; index: number; centre: number; inverted: boolean }
  | { kind: 'button'; button: Button }

/** A control moved this far from rest was meant. */
const MEANT = 0.55

/** "Move what you want to use": compares with how the device stood when it was asked. */
export class Learner {
  private rest: { axes: number[]; buttons: boolean[] } | null = null

  /** @returns what was moved; null while nothing was */
  feed(reading: Reading): Learnt | null {
    const rest = this.rest
    if (!rest) {
      this.rest = { axes: [...reading.axes], buttons: [...reading.buttons] }
      return null
    }
    const index = reading.buttons.findIndex((down, i) => down && !rest.buttons[i])
    if (index >= 0) return { kind: 'button', button: { kind: 'button', index } }
    let best: { index: number; by: number } | null = null
    for (const [i, value] of reading.axes.entries()) {
      // A knob is known from when it is first turned.
      if (Number.isNaN(rest.axes[i])) rest.axes[i] = value
      const before = rest.axes[i] ?? 0
      if (Math.abs(before) > 1.05) {
        const direction = hatDirection(value)
        if (direction === null || direction % 2 !== 0) continue
        return { kind: 'button', button: { kind: 'hat', index: i, direction: direction as 0 | 2 | 4 | 6 } }
      }
      const by = value - before
      if (Math.abs(by) > MEANT && (!best || Math.abs(by) > Math.abs(best.by))) best = { index: i, by }
    }
    if (!best) return null
    return { kind: 'axis', index: best.index, centre: rest.axes[best.index] ?? 0, inverted: best.by < 0 }
  }
}

/** An axis that is moved through its whole range: what it reads at rest and at its ends. */
export class Calibrator {
  private centre: number | null = null
  private low = Number.POSITIVE_INFINITY
  private high = Number.NEGATIVE_INFINITY

  constructor(private readonly index: number) {}

  feed(reading: Reading): void {
    const value = reading.axes[this.index]
    if (value === undefined || !Number.isFinite(value)) return
    this.centre ??= value
    this.low = Math.min(this.low, value)
    this.high = Math.max(this.high, value)
  }

  /** Null while it was hardly moved. */
  result(): { low: number; centre: number; high: number } | null {
    if (this.centre === null || this.high - this.low < 0.4) return null
    return { low: this.low, centre: this.centre, high: this.high }
  }
}
