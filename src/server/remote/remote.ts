/** Programs and button boxes: what they ask for is done by the API itself, with what their key may do. */

import type { Actor } from '../../core/orders/actors'
import { MAY_ALL } from '../../core/people/may'
import { type RemoteOrder, type RemoteValue, type RemoteView, readRemote } from '../../core/remote/addresses'
import type { RemoteRight } from '../../core/remote/settings'
import type { Clock } from '../cameras/clock'
import type { Gate } from '../gate/gate'
import { DeadMan } from '../live/deadMan'

export interface RemoteDeps {
  view(): RemoteView | null
  gate: Pick<Gate, 'stick' | 'leave'>
  clock: Clock
  /** A request to the API by this actor. @returns why it was refused; null when it was done */
  request(order: RemoteOrder & { t: 'request' }, actor: Actor): Promise<string | null>
  select(camera: string): void
}

/** Whose hand this is is forgotten so long after its last word, ms. */
const FORGET_MS = 60_000
const MOST_HANDS = 100

export class Remote {
  private readonly hands = new Map<string, { actor: Actor; deadMan: DeadMan; cancel(): void }>()

  constructor(private readonly deps: RemoteDeps) {}

  /**
   * @param who id and name of the key, or of the sender
   * @returns why it was not done, in a sentence; null when it was
   */
  async ask(
    path: string,
    values: readonly RemoteValue[],
    who: { id: string; name: string },
    may: readonly RemoteRight[],
  ): Promise<string | null> {
    const { deps } = this
    const view = deps.view()
    if (!view) return 'No event is open.'
    let order: RemoteOrder
    try {
      order = readRemote(view, path, values, may)
    } catch (error) {
      return (error as Error).message
    }
    const hand = this.handOf(who)
    if (order.t === 'stick') hand.deadMan.stick(order.camera, order.push)
    else if (order.t === 'select') deps.select(order.camera)
    else return deps.request(order, hand.actor)
    return null
  }

  close(): void {
    for (const { deadMan, cancel } of this.hands.values()) {
      cancel()
      deadMan.letGo()
    }
    this.hands.clear()
  }

  private handOf(who: { id: string; name: string }) {
    const { deps } = this
    const known = this.hands.get(who.id)
    known?.cancel()
    if (!known && this.hands.size >= MOST_HANDS) this.forget([...this.hands.keys()][0]!)
    const actor: Actor = known?.actor ?? {
      ...{ kind: 'api', id: `remote ${who.id}`, name: () => who.name, may: MAY_ALL },
    }
    const deadMan =
      known?.deadMan ?? new DeadMan(deps.clock, (camera, push) => deps.gate.stick(camera, push, actor))
    const hand = { actor, deadMan, cancel: deps.clock.after(FORGET_MS, () => this.forget(who.id)) }
    this.hands.set(who.id, hand)
    return hand
  }

  private forget(id: string): void {
    const hand = this.hands.get(id)
    if (!hand) return
    hand.cancel()
    hand.deadMan.letGo()
    this.deps.gate.leave(hand.actor)
    this.hands.delete(id)
  }
}
