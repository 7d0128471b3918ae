/** One motor with inertia: it speeds up, slows down and stops at its ends as a real one does. */

/** Longest step of the integration, seconds. */
const STEP_S = 0.004

export interface AxisLimits {
  min: number
  max: number
  /** Units per second squared. */
  accel: number
  /** The encoder's step: positions come to rest on whole ones. */
  step: number
}

export class Axis {
  velocity = 0
  private goal: number | null = null
  private wantedVelocity = 0
  private cruise = 0

  constructor(
    public position: number,
    private limits: AxisLimits,
  ) {}

  /** Other ends than before. */
  bound(min: number, max: number): void {
    this.limits = { ...this.limits, min, max }
  }

  /** Runs at a speed until told otherwise; 0 brakes to a stop. */
  drive(velocity: number): void {
    this.goal = null
    this.wantedVelocity = velocity
  }

  /** Runs to a place at no more than the given speed and comes to rest there. */
  goTo(position: number, speed: number): void {
    const { min, max, step } = this.limits
    this.goal = Math.min(max, Math.max(min, Math.round(position / step) * step))
    this.cruise = speed
  }

  get moving(): boolean {
    return this.velocity !== 0 || this.goal !== null || this.wantedVelocity !== 0
  }

  get hasGoal(): boolean {
    return this.goal !== null
  }

  /** The speed from which the motor can still brake within the distance. */
  private brakingSpeed(distance: number): number {
    return Math.sqrt(2 * this.limits.accel * Math.max(0, distance)) * 0.97
  }

  private target(): number {
    if (this.goal !== null) {
      const distance = this.goal - this.position
      return Math.sign(distance) * Math.min(this.cruise, this.brakingSpeed(Math.abs(distance)))
    }
    const room = this.wantedVelocity > 0 ? this.limits.max - this.position : this.position - this.limits.min
    return Math.sign(this.wantedVelocity) * Math.min(Math.abs(this.wantedVelocity), this.brakingSpeed(room))
  }

  /** Lets time pass, in seconds. */
  advance(seconds: number): void {
    let left = seconds
    while (left > 1e-9) {
      const dt = Math.min(left, STEP_S)
      left -= dt
      const target = this.target()
      const change = this.limits.accel * dt
      this.velocity += Math.min(change, Math.max(-change, target - this.velocity))
      this.position += this.velocity * dt
      this.settle(dt)
    }
  }

  private settle(dt: number): void {
    const { min, max, accel, step } = this.limits
    if (this.goal !== null) {
      const near = Math.abs(this.goal - this.position) <= Math.max(step / 2, accel * dt * dt)
      if (near && Math.abs(this.velocity) <= 2 * accel * dt) {
        this.position = this.goal
        this.velocity = 0
        this.goal = null
        this.wantedVelocity = 0
      }
    } else if (this.wantedVelocity === 0 && Math.abs(this.velocity) <= accel * dt) {
      this.velocity = 0
      this.position = Math.round(this.position / step) * step
    }
    if (this.position <= min || this.position >= max) {
      this.position = Math.min(max, Math.max(min, this.position))
      if (this.velocity > 0 === this.position >= max) this.velocity = 0
    }
  }
}
