/**
 * Driving lasts only as long as fresh stick messages arrive. One of these per browser: when its
 * messages stop, its socket closes, or it lets go, every camera that it drives is stopped.
 */
import { DEAD_MAN_MS } from '../../core/live/messages'
import type { Push } from '../../core/stick/speeds'
import { STICKS_AT_REST } from '../cameras/camera'
import type { Clock } from '../cameras/clock'

const atRest = (s: Push) => s.pan === 0 && s.tilt === 0 && s.zoom === 0 && s.focus === 0

export class DeadMan {
  private readonly alarms = new Map<string, () => void>()

  constructor(
    private readonly clock: Clock,
    private readonly drive: (camera: string, sticks: Push) => void,
  ) {}

  /** A stick message came. */
  stick(camera: string, sticks: Push): void {
    this.alarms.get(camera)?.()
    if (atRest(sticks)) this.alarms.delete(camera)
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

  /** Somebody else has taken the camera. */
  lose(camera: string): void {
    if (this.alarms.has(camera)) this.stop(camera)
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
