/**
 * Driving lasts only as long as fresh stick messages arrive. One of these per browser: when its
 * messages stop, its socket closes, or it lets go, every camera that it drives is stopped.
 */
import { DEAD_MAN_MS } from '../../core/live/messages'
import { STICKS_AT_REST, type Sticks } from '../cameras/camera'
import type { Clock } from '../cameras/clock'

const atRest = (s: Sticks) => s.pan === 0 && s.tilt === 0 && s.zoom === 0 && s.focus === 0

export class DeadMan {
  private readonly alarms = new Map<string, () => void>()

  constructor(
    private readonly clock: Clock,
    private readonly drive: (camera: string, sticks: Sticks) => void,
  ) {}

  /** A stick message came. */
  stick(camera: string, sticks: Sticks): void {
    this.alarms.get(camera)?.()
    if (atRest(sticks)) this.alarms.delete(camera)
    else
      this.alarms.set(
        camera,
        this.clock.after(DEAD_MAN_MS, () => this.stop(camera)),
      )
    this.drive(camera, sticks)
  }

  /** Stops all that this browser drives. */
  letGo(): void {
    for (const camera of [...this.alarms.keys()]) this.stop(camera)
  }

  private stop(camera: string): void {
    this.alarms.get(camera)?.()
    this.alarms.delete(camera)
    this.drive(camera, STICKS_AT_REST)
  }
}
