/**
 * The camera's own menu: opened, walked through and closed. Its arrows are pulses of the pan and tilt drive, so
 * while it is open no stick may reach the head.
 */
import type { HeadProfile } from '../../../core/heads/profile'
import type { MenuAction } from '../../../core/orders/orders'
import { SPEEDS_AT_REST, type Speeds } from '../../../core/stick/speeds'
import type { ViscaCommand } from '../../../core/visca/commands'
import type { ControlKey } from '../../../core/visca/inquiries'
import { type CameraResult, DONE } from '../camera'
import type { Clock } from '../clock'

const OPEN = [0x01, 0x06, 0x06, 0x02]
const CLOSE = [0x01, 0x06, 0x06, 0x03]
const BACK = [0x01, 0x06, 0x06, 0x04]
const ENTER = { enter7E: [0x01, 0x7e, 0x01, 0x02, 0x00, 0x01], enter06: [0x01, 0x06, 0x06, 0x05] } as const
const IS_OPEN: ControlKey = 'control:menu'
const ASK = [0x06, 0x06]
/** A question that no camera knows: one that answers it answers whatever it is asked. */
const NONSENSE: ControlKey = 'control:nonsense'
const ASK_NONSENSE = [0x06, 0x7f]
/** A packet may be lost, and some cameras know nothing while they start. */
const ASKS = 3
/** How long an arrow is held, and how fast that would be, degrees a second. */
const PULSE_MS = 90
const SPEED = 8
const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  up: [0, 1],
  down: [0, -1],
  left: [-1, 0],
  right: [1, 0],
}
const NOT_OPEN: CameraResult = { ok: false, message: 'The menu is not open.' }

export interface MenuHost {
  readonly profile: HeadProfile
  readonly clock: Clock
  order(command: ViscaCommand): Promise<CameraResult>
  ask(kind: ControlKey, bytes: readonly number[]): void
  drive(speeds: Speeds): void
  changed(): void
}

const extra = (bytes: readonly number[]): ViscaCommand => ({ kind: 'extra', bytes })

export class CameraMenu {
  open = false
  /** It says that its menu is open, though it was not opened from here: is that to be believed? */
  private doubts = false
  private asksLeft = 0

  constructor(private readonly host: MenuHost) {}

  async act(action: MenuAction): Promise<CameraResult> {
    const { profile } = this.host
    if (action === 'open' || action === 'close') {
      const result = await this.host.order(extra(action === 'open' ? OPEN : CLOSE))
      if (result.ok) this.set(action === 'open')
      return result
    }
    if (!this.open) return NOT_OPEN
    if (action === 'back') return this.host.order(extra(BACK))
    if (action === 'enter')
      return this.host.order(extra(ENTER[profile.menu === 'enter06' ? 'enter06' : 'enter7E']))
    return this.arrow(ARROWS[action]!)
  }

  /** It may have been closed at the camera. */
  look(): void {
    if (this.open) this.host.ask(IS_OPEN, ASK)
  }

  /** Another camera may be there now, or the menu may be open from before this server began. */
  begin(): void {
    this.set(false)
    this.doubts = false
    this.asksLeft = ASKS
    this.askFirst()
  }

  /** @returns whether the answer was for the menu */
  take(kind: string, bytes: readonly number[]): boolean {
    if (kind === NONSENSE) {
      this.doubts = false
      return true
    }
    if (kind !== IS_OPEN) return false
    this.asksLeft = 0
    if (bytes[0] === 0x03 || (bytes[0] === 0x02 && this.open)) this.set(bytes[0] === 0x02)
    else if (bytes[0] === 0x02 && !this.doubts) {
      // A camera that answers whatever it is asked would lose its sticks.
      this.doubts = true
      this.host.ask(NONSENSE, ASK_NONSENSE)
    }
    return true
  }

  /** A question was refused, or nothing came: a camera that knows what it does not know is believed. */
  unknown(kind: string): void {
    if (kind === NONSENSE && this.doubts) this.set(true)
    if (kind === NONSENSE) this.doubts = false
    if (kind === IS_OPEN && !this.open) this.askFirst()
  }

  private askFirst(): void {
    if (this.host.profile.menu === 'none' || this.asksLeft <= 0) return
    this.asksLeft -= 1
    this.host.ask(IS_OPEN, ASK)
  }

  /** On the way of every drive, so that it is stopped as surely as any. */
  private async arrow([pan, tilt]: readonly [number, number]): Promise<CameraResult> {
    const { drive, clock } = this.host
    drive({ ...SPEEDS_AT_REST, panDegPerSec: pan * SPEED, tiltDegPerSec: tilt * SPEED })
    await new Promise<void>((resolve) => clock.after(PULSE_MS, resolve))
    drive(SPEEDS_AT_REST)
    return DONE
  }

  private set(open: boolean): void {
    if (this.open === open) return
    this.open = open
    this.host.changed()
  }
}
