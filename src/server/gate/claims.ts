/**
 * Who drives which camera. A claim lasts for as long as the motion that it caused, and a little more. This is
 * the one of a single server; several over one database would share theirs behind the same interface.
 */

import { HOLD_MS } from '../../core/live/messages'
import type { Actor } from '../../core/orders/actors'
import type { Clock } from '../cameras/clock'

export interface Claims {
  holderOf(camera: string): Actor | null
  /** It is this actor's now, whoever had it. */
  hold(camera: string, actor: Actor): void
  release(camera: string): void
  /** The cameras of an actor. */
  heldBy(actor: Actor): string[]
  /** Tells again whose it is. */
  tell(camera: string): void
  close(): void
}

/** How often it is checked whether a camera still moves, ms. */
const LOOK_EVERY_MS = 250

interface Claim {
  actor: Actor
  restsSinceMs: number
  cancel(): void
}

export class MemoryClaims implements Claims {
  private readonly claims = new Map<string, Claim>()

  /**
   * @param busy does the camera still do what it was told?
   * @param changed called when somebody else, or nobody, drives a camera now
   */
  constructor(
    private readonly clock: Clock,
    private readonly busy: (camera: string) => boolean,
    private readonly changed: (camera: string, holder: Actor | null) => void,
  ) {}

  holderOf(camera: string): Actor | null {
    return this.claims.get(camera)?.actor ?? null
  }

  hold(camera: string, actor: Actor): void {
    const former = this.claims.get(camera)
    if (former?.actor.id === actor.id) {
      former.restsSinceMs = this.clock.now()
      return
    }
    former?.cancel()
    const claim: Claim = { actor, restsSinceMs: this.clock.now(), cancel: () => {} }
    this.claims.set(camera, claim)
    this.look(camera, claim)
    this.changed(camera, actor)
  }

  release(camera: string): void {
    const claim = this.claims.get(camera)
    if (!claim) return
    claim.cancel()
    this.claims.delete(camera)
    this.changed(camera, null)
  }

  heldBy(actor: Actor): string[] {
    return [...this.claims].flatMap(([camera, claim]) => (claim.actor.id === actor.id ? [camera] : []))
  }

  tell(camera: string): void {
    this.changed(camera, this.holderOf(camera))
  }

  close(): void {
    for (const { cancel } of this.claims.values()) cancel()
    this.claims.clear()
  }

  private look(camera: string, claim: Claim): void {
    const now = this.clock.now()
    if (this.busy(camera)) claim.restsSinceMs = now
    const left = claim.restsSinceMs + HOLD_MS - now
    if (left <= 0) this.release(camera)
    else claim.cancel = this.clock.after(Math.min(left, LOOK_EVERY_MS), () => this.look(camera, claim))
  }
}
