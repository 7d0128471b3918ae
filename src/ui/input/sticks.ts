/**
 * Brings all hands together (pad, strip, keys, devices) and sends the sum for each camera: at once on a
 * change, and again and again while something is held, since the server stops a camera that it hears
 * nothing of. The person's speeds apply here, so that every hand feels the same.
 */
import { useSyncExternalStore } from 'react'
import { feelFor } from '../../core/controls/controls'
import { STICK_REPEAT_MS } from '../../core/live/messages'
import { feltPush, type HandPace } from '../../core/stick/hand'
import { PUSH_AT_REST, type Push, pushRests } from '../../core/stick/speeds'
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
const clamp = (x: number) => Math.max(-1, Math.min(1, x))

class Sticks {
  private readonly hands = new Map<string, Hand>()
  private selected: readonly string[] = []
  /** What each camera was last told, for those that are driven. */
  private readonly told = new Map<string, string>()
  private pace: HandPace = 'usual'
  private readonly paceListeners = new Set<() => void>()
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

  setPace(pace: HandPace): void {
    if (pace === this.pace) return
    this.pace = pace
    for (const listener of this.paceListeners) listener()
    if (this.hands.size > 0) this.flush()
  }

  /** Does any hand push now? */
  get pushing(): boolean {
    return this.told.size > 0
  }

  get handPace(): HandPace {
    return this.pace
  }

  onPace(listener: () => void): () => void {
    this.paceListeners.add(listener)
    return () => this.paceListeners.delete(listener)
  }

  /** Every hand off. */
  letGo(): void {
    this.setPace('usual')
    if (this.hands.size === 0) return
    this.hands.clear()
    this.send()
    live().send({ t: 'letGo' })
  }

  private sums(): Map<string, Push> {
    const sums = new Map<string, Push>()
    for (const { push, camera } of this.hands.values()) {
      for (const id of camera === null ? this.selected : [camera]) {
        const sum = sums.get(id) ?? { ...PUSH_AT_REST }
        for (const axis of AXES) sum[axis] = clamp(sum[axis] + (push[axis] ?? 0))
        sums.set(id, sum)
      }
    }
    for (const [id, sum] of sums)
      sums.set(id, feltPush(sum, feelFor(controlsNow(), id), live().far ? 'slow' : this.pace))
    return sums
  }

  private flush(): void {
    const sums = this.sums()
    const stops = [...this.told.keys()].some((id) => !sums.has(id) || pushRests(sums.get(id)!))
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
    for (const id of [...this.told.keys()]) if (!sums.has(id)) sums.set(id, PUSH_AT_REST)
    let [held, sent] = [false, false]
    for (const [camera, sum] of sums) {
      const before = this.told.get(camera)
      if (pushRests(sum)) {
        this.told.delete(camera)
        // What was never driven from here needs no stop.
        if (before === undefined) continue
      } else {
        held = true
        this.told.set(camera, JSON.stringify(sum))
      }
      live().send({ t: 'stick', camera, ...sum, sentMs: performance.now() })
      sent = true
    }
    if (sent) this.sentAtMs = performance.now()
    if (held) this.later(STICK_REPEAT_MS)
  }
}

export const sticks = new Sticks()

const onPace = (listener: () => void) => sticks.onPace(listener)
/** Is slow or fast held? */
export const useHandPace = (): HandPace => useSyncExternalStore(onPace, () => sticks.handPace)
