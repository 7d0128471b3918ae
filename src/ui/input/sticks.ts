/**
 * Brings all hands together (pad, strip, keys, devices) and sends the sum for each camera: at once on a
 * change, and again and again while something is held, since the server stops a camera that it hears
 * nothing of. The person's speeds apply here, so that every hand feels the same.
 */
import { feelFor } from '../../core/controls/controls'
import { STICK_REPEAT_MS } from '../../core/live/messages'
import type { Push } from '../../core/stick/speeds'
import { live } from '../live/live'
import { controlsNow } from './controlsStore'

/** What a hand pushes: shares of the top speeds. */
export type HandPush = Partial<Push>

interface Hand {
  push: HandPush
  /** Null: the cameras that are selected. */
  camera: string | null
}

const MIN_GAP_MS = 16
const AXES = ['pan', 'tilt', 'zoom', 'focus'] as const
/** What fast multiplies the speed by; never beyond full. */
const FAST = 2.2
const clamp = (x: number) => Math.max(-1, Math.min(1, x))
const resting = (push: Push) => AXES.every((axis) => push[axis] === 0)

class Sticks {
  private readonly hands = new Map<string, Hand>()
  private selected: readonly string[] = []
  /** What each camera was last told, for those that are driven. */
  private readonly told = new Map<string, string>()
  private pace: 'slow' | 'usual' | 'fast' = 'usual'
  private sentAtMs = Number.NEGATIVE_INFINITY
  private timer: ReturnType<typeof setTimeout> | null = null

  constructor() {
    if (typeof document === 'undefined') return
    document.addEventListener('visibilitychange', () => document.hidden && this.letGo())
    window.addEventListener('pagehide', () => this.letGo())
    window.addEventListener('blur', () => this.letGo())
  }

  /** The cameras that are driven from now on, all alike; what drove the former lets go. */
  select(cameras: readonly string[]): void {
    if (cameras.join() === this.selected.join()) return
    for (const [name, hand] of [...this.hands]) if (hand.camera === null) this.hands.delete(name)
    this.send()
    this.selected = cameras
  }

  /**
   * @param name of the control, so that each has its own share
   * @param camera null: the selected ones
   */
  push(name: string, push: HandPush | null, camera: string | null = null): void {
    if (push) this.hands.set(name, { push, camera })
    else this.hands.delete(name)
    this.flush()
  }

  setPace(pace: typeof this.pace): void {
    if (pace === this.pace) return
    this.pace = pace
    if (this.hands.size > 0) this.flush()
  }

  /** Every hand off. */
  letGo(): void {
    this.pace = 'usual'
    if (this.hands.size === 0) return
    this.hands.clear()
    this.send()
    live().send({ t: 'letGo' })
  }

  private sums(): Map<string, Push> {
    const sums = new Map<string, Push>()
    for (const { push, camera } of this.hands.values()) {
      for (const id of camera === null ? this.selected : [camera]) {
        const sum = sums.get(id) ?? { pan: 0, tilt: 0, zoom: 0, focus: 0 }
        for (const axis of AXES) sum[axis] = clamp(sum[axis] + (push[axis] ?? 0))
        sums.set(id, sum)
      }
    }
    for (const [id, sum] of sums) sums.set(id, this.felt(id, sum))
    return sums
  }

  /** With the person's speeds for this camera. */
  private felt(camera: string, push: Push): Push {
    const feel = feelFor(controlsNow(), camera)
    const pace = this.pace === 'slow' ? feel.slow : this.pace === 'fast' ? FAST : 1
    const part = (axis: (typeof AXES)[number]) => clamp(push[axis] * feel.speed * feel[axis] * pace)
    return {
      pan: part('pan'),
      tilt: part('tilt'),
      zoom: part('zoom'),
      focus: clamp(push.focus * feel.focus * Math.min(1, pace)),
    }
  }

  private flush(): void {
    const sums = this.sums()
    const stops = [...this.told.keys()].some((id) => !sums.has(id) || resting(sums.get(id)!))
    const wait = this.sentAtMs + MIN_GAP_MS - performance.now()
    // A stop never waits.
    if (stops || wait <= 0) this.send()
    else this.later(wait)
  }

  private later(ms: number): void {
    if (this.timer) clearTimeout(this.timer)
    this.timer = setTimeout(() => this.send(), ms)
  }

  private send(): void {
    if (this.timer) clearTimeout(this.timer)
    this.timer = null
    const sums = this.sums()
    const rest: Push = { pan: 0, tilt: 0, zoom: 0, focus: 0 }
    for (const id of [...this.told.keys()]) if (!sums.has(id)) sums.set(id, rest)
    let [held, sent] = [false, false]
    for (const [camera, sum] of sums) {
      const before = this.told.get(camera)
      if (resting(sum)) {
        this.told.delete(camera)
        // What was never driven from here needs no stop.
        if (before === undefined) continue
      } else {
        held = true
        this.told.set(camera, JSON.stringify(sum))
      }
      live().send({ t: 'stick', camera, ...sum })
      sent = true
    }
    if (sent) this.sentAtMs = performance.now()
    if (held) this.later(STICK_REPEAT_MS)
  }
}

export const sticks = new Sticks()
