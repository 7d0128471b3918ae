/**
 * Driving lasts only as long as fresh stick messages arrive. One of these per browser: when its
 * messages stop, its socket closes, or it lets go, every camera that it drives is stopped.
 */
import { DEAD_MAN_MS } from '../../core/live/messages'
import { PUSH_AT_REST, type Push, pushRests } from '../../core/stick/speeds'
import type { Clock } from '../cameras/clock'

export class DeadMan {
  private readonly alarms = new Map<string, () => void>()

  constructor(
    private readonly clock: Clock,
    private readonly drive: (camera: string, sticks: Push) => void,
  ) {}

  /** A stick message came. */
  stick(camera: string, sticks: Push): void {
    this.alarms.get(camera)?.()
    if (pushRests(sticks)) this.alarms.delete(camera)
    else
      this.alarms.set(
        camera,
        this.clock.after(DEAD_MAN_MS, () => this.stop(camera)),
      )
    this.drive(camera, sticks)
  }

  /** A finger holds the picture: as long as it says so, it is a hand on the stick. */
  held(camera: string): void {
    this.alarms.get(camera)?.()
    this.alarms.set(
      camera,
      this.clock.after(DEAD_MAN_MS, () => this.stop(camera)),
    )
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
    this.alarms.get(camera)?.()
    this.alarms.delete(camera)
    this.drive(camera, PUSH_AT_REST)
  }
}
