/**
 * The one way by which anything moves or changes a camera. Whoever has an order hands it in here with who
 * they are; the rules decide, the claim is noted, and only then does the camera hear of it. Stopping a camera
 * is never refused.
 */
import { type Actor, SERVER_ITSELF } from '../../core/orders/actors'
import { isGuarded } from '../../core/orders/guard'
import type { OnAir } from '../../core/orders/guardSettings'
import type { CameraOrder } from '../../core/orders/orders'
import { disturbsNobody, type GateOrder, GO, judge, type Rule, type Verdict } from '../../core/orders/rules'
import type { PresetPlace } from '../../core/people/may'
import { mayNot } from '../../core/people/rights'
import { PUSH_AT_REST, type Push, pushRests } from '../../core/stick/speeds'
import type { Camera, CameraResult } from '../cameras/camera'
import type { Claims } from './claims'

export interface GateMember {
  row: { id: string; name: string }
  camera: Pick<Camera, 'drive' | 'finger' | 'halt' | 'ease'>
}

export interface GateDeps {
  rules: readonly Rule[]
  claims: Claims
  /** Null if there is no such camera, or it is switched off. */
  memberOf(camera: string): GateMember | null
  members(): readonly GateMember[]
  /** Whose order it is; null if what it names is gone. */
  cameraOf(order: CameraOrder): string | null
  /** Null if it is gone. */
  presetOf(preset: string): PresetPlace | null
  carryOut(order: CameraOrder, camera: string): Promise<CameraResult>
  /** Somebody moves this camera now: whatever moved it by itself has to end. */
  taken(camera: string, by: Actor): void
  /** What the on-air guard is to know of a camera. */
  onAir(camera: string): Omit<OnAir, 'confirmed'>
  /** A hand was not let through. */
  refusedHand(camera: string, actor: Actor, why: string): void
  /** What came of an order, for the log. */
  done?(
    order: CameraOrder,
    camera: string,
    actor: Actor,
    how: { result: CameraResult; confirmed: boolean },
  ): void
  /** Somebody took a camera from somebody else. */
  tookOver?(camera: string, actor: Actor, former: Actor): void
  /** A camera could not be told to stop. */
  failed(camera: string, error: unknown): void
}

const GONE: CameraResult = { ok: false, message: 'This preset no longer exists.' }
const OFF: CameraResult = { ok: false, message: 'This camera is switched off in the desk, or gone.' }

export class Gate {
  /** Which hand moves a camera, and how it pushes; null: it holds the picture. */
  private readonly pushedBy = new Map<string, { actor: Actor; push: Push | null }>()

  constructor(private readonly deps: GateDeps) {}

  /** @returns whether the hand has this camera */
  stick(camera: string, push: Push, actor: Actor): boolean {
    const member = this.deps.memberOf(camera)
    if (!member) return false
    if (pushRests(push)) {
      // Letting go is for whoever holds it: it must not stop another hand.
      if (this.deps.claims.holderOf(camera)?.id !== actor.id) return false
      this.pushedBy.delete(camera)
      member.camera.drive(push)
      return true
    }
    const verdict = this.judge({ t: 'stick', push }, actor, member)
    if (verdict.is === 'refuse' || verdict.is === 'ask') {
      this.deps.refusedHand(camera, actor, verdict.why)
      return false
    }
    const order = verdict.is === 'go-changed' && verdict.order.t === 'stick' ? verdict.order : { push }
    this.take(camera, actor)
    this.pushedBy.set(camera, { actor, push })
    member.camera.drive(order.push)
    return true
  }

  /** A finger on the picture, u and v -1..1. @returns whether the hand has this camera */
  finger(
    camera: string,
    { phase, u, v }: { phase: 'down' | 'move' | 'up'; u: number; v: number },
    actor: Actor,
  ): boolean {
    const member = this.deps.memberOf(camera)
    if (!member) return false
    const verdict = phase === 'up' ? GO : this.judge({ t: 'finger' }, actor, member)
    if (verdict.is === 'refuse' || verdict.is === 'ask') {
      this.deps.refusedHand(camera, actor, verdict.why)
      return false
    }
    // Lifting it ends what it holds, whatever is on air by now.
    if (phase === 'up' && this.deps.claims.holderOf(camera)?.id !== actor.id) return false
    const most = verdict.is === 'go-changed' && verdict.order.t === 'finger' ? (verdict.order.most ?? 1) : 1
    this.take(camera, actor)
    if (phase === 'up') this.pushedBy.delete(camera)
    else this.pushedBy.set(camera, { actor, push: null })
    member.camera.finger(phase, u, v, most)
    return true
  }

  /** @param confirmed somebody has confirmed it, after the gate asked */
  async perform(order: CameraOrder, actor: Actor, confirmed = false): Promise<CameraResult> {
    const { deps } = this
    const id = deps.cameraOf(order)
    if (id === null) return GONE
    const member = deps.memberOf(id)
    if (!member) return OFF
    const verdict = this.judge(order, actor, member, confirmed)
    const told = (result: CameraResult) => {
      deps.done?.(order, id, actor, { result, confirmed: confirmed && asksWithout() })
      return result
    }
    // What was confirmed without need is no decision of the guard.
    const asksWithout = () => this.judge(order, actor, member).is === 'ask'
    if (verdict.is === 'refuse') return told({ ok: false, message: verdict.why })
    if (verdict.is === 'ask') return told({ ok: false, message: verdict.why, ask: true })
    const changed = verdict.is === 'go-changed' ? (verdict.order as CameraOrder) : order
    // A round is its own actor: it takes the camera with its first step.
    if (order.t === 'startRound') deps.claims.release(id)
    // The server stops cameras, and keeps none of them from anybody.
    else if (actor.kind === 'server') {
      if (!disturbsNobody(order)) deps.taken(id, actor)
    } else if (!disturbsNobody(order)) this.take(id, actor)
    const result = await deps.carryOut(changed, id)
    return told(result.ok && verdict.is === 'go-changed' ? { ok: true, said: verdict.why } : result)
  }

  /** A camera has come on air: what a hand does is judged anew, and what it does by itself becomes gentle. */
  cameOnAir(camera: string): void {
    const member = this.deps.memberOf(camera)
    if (!member) return
    const pushed = this.pushedBy.get(camera)
    if (pushed?.push) {
      const { actor, push } = pushed
      if (!this.stick(camera, push, actor)) this.stopPushOf(camera, actor)
    }
    const { guard, tally } = this.deps.onAir(camera)
    if (isGuarded(guard, tally)) member.camera.ease(guard.seconds)
  }

  /** A deliberate press: whoever has the camera loses it, and what their hand moved stops. */
  takeOver(camera: string, actor: Actor): void {
    if (!actor.may.drives(camera)) {
      this.deps.refusedHand(camera, actor, mayNot('drive'))
      return
    }
    const former = this.deps.claims.holderOf(camera)
    if (former && former.id !== actor.id) {
      this.stopPushOf(camera, former)
      this.deps.tookOver?.(camera, actor, former)
    }
    this.take(camera, actor)
  }

  /** What this actor started is to move these cameras: they are free for it, but for those that its hand pushes. */
  lend(cameras: readonly string[], actor: Actor): void {
    for (const camera of cameras) {
      if (this.deps.claims.holderOf(camera)?.id !== actor.id || this.pushedBy.has(camera)) continue
      this.deps.claims.release(camera)
    }
  }

  /** Others should see another name. */
  renamed(actor: Actor): void {
    for (const camera of this.deps.claims.heldBy(actor)) this.deps.claims.tell(camera)
  }

  /** This actor is gone: what its hand moved stops. */
  leave(actor: Actor): void {
    for (const camera of this.deps.claims.heldBy(actor)) {
      this.stopPushOf(camera, actor)
      this.deps.claims.release(camera)
    }
  }

  /** Somebody may no longer be here: whatever they had started ends. */
  dismiss(actor: Actor): void {
    this.halt(new Set(this.deps.claims.heldBy(actor)))
    this.leave(actor)
  }

  /** Stops all cameras, or those named, whatever they do. */
  halt(cameras: ReadonlySet<string> | null = null): void {
    for (const { row, camera } of this.deps.members()) {
      if (cameras && !cameras.has(row.id)) continue
      this.deps.taken(row.id, SERVER_ITSELF)
      try {
        camera.halt()
      } catch (error) {
        // If one cannot be told, the others must be told all the same.
        this.deps.failed(row.name, error)
      }
    }
  }

  private judge(order: GateOrder, actor: Actor, { row }: GateMember, confirmed = false): Verdict {
    const { rules, claims } = this.deps
    const onAir = { ...this.deps.onAir(row.id), confirmed }
    const preset = order.t === 'recall' ? this.deps.presetOf(order.preset) : null
    const { id, name } = row
    return judge(rules, order, actor, { id, name, preset, holder: claims.holderOf(id), onAir })
  }

  private take(camera: string, actor: Actor): void {
    const former = this.deps.claims.holderOf(camera)
    if (former && former.id !== actor.id) this.stopPushOf(camera, former)
    this.deps.claims.hold(camera, actor)
    this.deps.taken(camera, actor)
  }

  private stopPushOf(camera: string, actor: Actor): void {
    if (this.pushedBy.get(camera)?.actor.id !== actor.id) return
    this.pushedBy.delete(camera)
    this.deps.memberOf(camera)?.camera.drive(PUSH_AT_REST)
  }
}
