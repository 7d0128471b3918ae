/**
 * Driving lasts only as long as fresh stick messages arrive. One of these per browser: when its messages stop, its
 * socket closes, or it lets go, every camera that it drives is stopped. Where the network lets messages come late,
 * it waits a little longer, and what was held up on the way does not drive any more.
 */
import { DEAD_MAN_MS, LAST_WORD_MS } from '../../core/live/messages'
import { PUSH_AT_REST, type Push, pushRests } from '../../core/stick/speeds'
import type { Clock } from '../cameras/clock'

/** What came over the network about the hand's newest word. */
export interface Word {
  /** How long ago the hand said it, ms. */
  ageMs: number
  /** By how much words usually differ in that, ms. */
  jitterMs: number
}
export const AT_ONCE: Word = { ageMs: 0, jitterMs: 0 }

/** Halting and starting again would be a jolt where a word more comes in time, ms. */
const LEAST_MS = 60

export class DeadMan {
  private readonly alarms = new Map<string, () => void>()

  constructor(
    private readonly clock: Clock,
    private readonly drive: (camera: string, sticks: Push) => void,
  ) {}

  /** A stick message came. @returns false where it was held up so long that it says nothing about now */
  stick(camera: string, sticks: Push, word: Word = AT_ONCE): boolean {
    const rests = pushRests(sticks)
    if (rests) this.lifted(camera)
    else if (!this.held(camera, word)) return false
    this.drive(camera, sticks)
    return true
  }

  /**
   * A finger holds the picture: as long as it says so, it is a hand on the stick.
   * @returns false where it was held up so long that it says nothing about now
   */
  held(camera: string, { ageMs, jitterMs }: Word = AT_ONCE): boolean {
    const left = Math.min(DEAD_MAN_MS + jitterMs, LAST_WORD_MS - ageMs)
    if (left < LEAST_MS) return false
    this.alarms.get(camera)?.()
    this.alarms.set(
      camera,
      this.clock.after(left, () => this.stop(camera)),
    )
    return true
  }

  /** The finger was lifted, and has said so. */
  lifted(camera: string): void {
    this.alarms.get(camera)?.()
    this.alarms.delete(camera)
  }

  /** Stops all that this browser drives. */
  letGo(): void {
    for (const camera of [...this.alarms.keys()]) this.stop(camera)
  }

  private stop(camera: string): void {
    this.lifted(camera)
    this.drive(camera, PUSH_AT_REST)
  }
}
