/**
 * Settings on their way to a device, one of each at a time: while one is on its way only the newest value waits, so
 * that a knob that is turned quickly neither lags nor floods the line.
 */
import type { SettingValue } from '../../core/picture/settings'
import { type CameraResult, DONE } from './camera'

interface Way {
  next: SettingValue | null
  done: Promise<CameraResult>
}

export class NewestWins {
  private readonly ways = new Map<string, Way>()

  /** Is a value of it on its way? */
  has(key: string): boolean {
    return this.ways.has(key)
  }

  /** Settles when the device has taken this value, or a newer one of the same setting. */
  set(
    key: string,
    value: SettingValue,
    send: (value: SettingValue) => Promise<CameraResult>,
  ): Promise<CameraResult> {
    const before = this.ways.get(key)
    if (before) {
      before.next = value
      return before.done
    }
    const way: Way = { next: value, done: Promise.resolve(DONE) }
    const work = async () => {
      let result: CameraResult = DONE
      while (way.next !== null) {
        const now = way.next
        way.next = null
        result = await send(now)
      }
      return result
    }
    this.ways.set(key, way)
    way.done = work().finally(() => this.ways.delete(key))
    return way.done
  }
}
