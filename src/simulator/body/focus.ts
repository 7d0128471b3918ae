/** The focus motor and its automatics: it waits, measures, and runs to where the picture is sharp. */
import { Axis } from './axis'

const FAR = 0x1000
const NEAR = 0xc000
/** Distance in metres at the near end. */
const NEAREST_M = 1
const AUTO_WAIT_S = 0.28
const AUTO_SPEED = 30_000
const DRIVE_SPEEDS = [1200, 2000, 3200, 5000, 7500, 11_000, 16_000, 24_000]
/** Half the blur, in position units, below which the automatics are content. */
const CONTENT = 40

/** Where the focus must stand for something at this distance, metres. */
export function focusFor(distanceM: number): number {
  return FAR + (NEAR - FAR) * Math.min(1, NEAREST_M / distanceM)
}

export class Focus {
  auto = true
  private readonly motor = new Axis(focusFor(8), { min: FAR, max: NEAR, accel: 200_000, step: 1 })
  private blurredForS = 0
  private onePush = false

  get position(): number {
    return Math.round(this.motor.position)
  }

  get moving(): boolean {
    return this.motor.moving
  }

  setAuto(auto: boolean): void {
    this.auto = auto
    this.blurredForS = 0
    if (!auto) this.motor.drive(0)
  }

  /** Focuses once, then stays where it is. */
  once(): void {
    this.onePush = true
    this.blurredForS = AUTO_WAIT_S
  }

  /** @param direction 1 far, -1 near, 0 stop */
  drive(direction: number, step: number): void {
    // Farther is a smaller position.
    this.motor.drive(-direction * (DRIVE_SPEEDS[step] ?? 0))
  }

  goTo(position: number): void {
    this.motor.goTo(position, AUTO_SPEED)
  }

  /** @param distanceM of what the camera looks at */
  advance(seconds: number, distanceM: number): void {
    if (this.auto || this.onePush) this.hunt(seconds, focusFor(distanceM))
    this.motor.advance(seconds)
  }

  private hunt(seconds: number, sharpAt: number): void {
    if (Math.abs(sharpAt - this.motor.position) <= CONTENT) {
      this.blurredForS = 0
      if (!this.motor.moving) this.onePush = false
      return
    }
    this.blurredForS += seconds
    if (this.blurredForS >= AUTO_WAIT_S) this.motor.goTo(sharpAt, AUTO_SPEED)
  }
}
