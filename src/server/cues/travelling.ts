/** Gives orders that set a camera on its way, and says when and how it has come to its end. */
import type { Actor } from '../../core/orders/actors'
import type { CameraOrder } from '../../core/orders/orders'
import type { Gate } from '../gate/gate'
import type { Outcome, TravelWaits } from './travelWaits'

export interface TravellingDeps {
  gate: Pick<Gate, 'perform'>
  waits: TravelWaits
}

/** @param presetId under which the travel is told; '' for a pose */
export async function travel(
  { gate, waits }: TravellingDeps,
  order: CameraOrder,
  camera: string,
  presetId: string,
  actor: Actor,
): Promise<Outcome> {
  // The order goes out before anything is awaited: what starts together starts together.
  const given = gate.perform(order, actor)
  const { over, cancel } = waits.wait(camera, presetId)
  const result = await given
  if (!result.ok) {
    cancel()
    return { ok: false, why: result.message }
  }
  const outcome = await over
  return result.said === undefined ? outcome : { ...outcome, said: result.said }
}
