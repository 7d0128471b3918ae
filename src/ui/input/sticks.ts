/**
 * Brings all hands together (pad, strip, keys) and sends the sum: at once on a change,
 * and again and again while something is held, since the server stops a camera that it hears nothing of.
 */
import { STICK_REPEAT_MS } from '../../core/live/messages'
import { live } from '../live/live'

export interface Push {
  pan?: number
  tilt?: number
  zoom?: number
  focus?: number
}

const MIN_GAP_MS = 16
const AXES = ['pan', 'tilt', 'zoom', 'focus'] as const
const clamp = (x: number) => Math.max(-1, Math.min(1, x))

class Sticks {
  private readonly hands = new Map<string, Push>()
  private cameras: readonly string[] = []
  private sentAtMs = Number.NEGATIVE_INFINITY
  private timer: ReturnType<typeof setTimeout> | null = null
  private lastSent = ''

  constructor() {
    if (typeof document === 'undefined') return
    document.addEventListener('visibilitychange', () => document.hidden && this.letGo())
    window.addEventListener('pagehide', () => this.letGo())
    window.addEventListener('blur', () => this.letGo())
  }

  /** The cameras that are driven from now on, all alike; what drove the former lets go. */
  select(cameras: readonly string[]): void {
    if (cameras.join() === this.cameras.join()) return
    this.letGo()
    this.cameras = cameras
    this.lastSent = ''
  }

  /** @param hand names the control, so that each has its own share */
  push(hand: string, push: Push | null): void {
    if (push) this.hands.set(hand, push)
    else this.hands.delete(hand)
    this.flush()
  }

  /** Every hand off. */
  letGo(): void {
    if (this.hands.size === 0) return
    this.hands.clear()
    this.send()
    live().send({ t: 'letGo' })
  }

  private sum() {
    const out = { pan: 0, tilt: 0, zoom: 0, focus: 0 }
    for (const push of this.hands.values()) {
      for (const axis of AXES) out[axis] = clamp(out[axis] + (push[axis] ?? 0))
    }
    return out
  }

  private flush(): void {
    const wait = this.sentAtMs + MIN_GAP_MS - performance.now()
    const stop = AXES.every((axis) => this.sum()[axis] === 0)
    // A stop never waits.
    if (stop || wait <= 0) this.send()
    else this.later(wait)
  }

  private later(ms: number): void {
    if (this.timer) clearTimeout(this.timer)
    this.timer = setTimeout(() => this.send(), ms)
  }

  private send(): void {
    if (this.timer) clearTimeout(this.timer)
    this.timer = null
    if (this.cameras.length === 0) return
    const sum = this.sum()
    const text = JSON.stringify(sum)
    const held = AXES.some((axis) => sum[axis] !== 0)
    if (!held && text === this.lastSent) return
    this.lastSent = text
    this.sentAtMs = performance.now()
    for (const camera of this.cameras) live().send({ t: 'stick', camera, ...sum })
    if (held) this.later(STICK_REPEAT_MS)
  }
}

export const sticks = new Sticks()
