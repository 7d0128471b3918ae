/**
 * One camera, one hand. Whoever drives a camera first holds it for as long as they drive and a little
 * after; others see who it is, and can take it over deliberately. Never two sticks fighting.
 */
import { HOLD_MS } from '../../core/live/messages'
import type { Clock } from '../cameras/clock'

/** One browser. */
export interface Holder {
  /** What others read. */
  name(): string
  /** It has lost a camera to somebody else. */
  lost(camera: string): void
}

interface Claim {
  holder: Holder
  cancel(): void
}

export class Claims {
  private readonly claims = new Map<string, Claim>()

  /** @param changed called when somebody else, or nobody, drives a camera now */
  constructor(
    private readonly clock: Clock,
    private readonly changed: (camera: string, holder: Holder | null) => void,
  ) {}

  holderOf(camera: string): Holder | null {
    return this.claims.get(camera)?.holder ?? null
  }

  /** May this browser drive the camera? It does from now on, if so. `null` is an order without a browser. */
  take(camera: string, holder: Holder | null): boolean {
    const claim = this.claims.get(camera)
    if (claim && claim.holder !== holder) return false
    if (holder) this.hold(camera, holder)
    return true
  }

  /** A deliberate press: whoever has it loses it. */
  takeOver(camera: string, holder: Holder): void {
    const former = this.claims.get(camera)?.holder
    if (former && former !== holder) {
      this.drop(camera)
      former.lost(camera)
    }
    this.hold(camera, holder)
  }

  /** This browser is gone. */
  leave(holder: Holder): void {
    for (const [camera, claim] of this.claims) {
      if (claim.holder !== holder) continue
      this.drop(camera)
      this.changed(camera, null)
    }
  }

  /** Its name is another now. */
  renamed(holder: Holder): void {
    for (const [camera, claim] of this.claims) if (claim.holder === holder) this.changed(camera, holder)
  }

  private hold(camera: string, holder: Holder): void {
    const before = this.claims.get(camera)
    before?.cancel()
    const cancel = this.clock.after(HOLD_MS, () => {
      this.claims.delete(camera)
      this.changed(camera, null)
    })
    this.claims.set(camera, { holder, cancel })
    if (before?.holder !== holder) this.changed(camera, holder)
  }

  private drop(camera: string): void {
    this.claims.get(camera)?.cancel()
    this.claims.delete(camera)
  }
}
