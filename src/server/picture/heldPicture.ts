/** Exposure and white balance held as they are, for pictures that are to fit together; given back afterwards. */
import { SERVER_ITSELF } from '../../core/orders/actors'
import { allKnown, byHandWhereKnown } from '../../core/picture/byHand'
import type { Clock } from '../cameras/clock'
import type { Facts } from '../facts/facts'
import type { Gate } from '../gate/gate'
import type { Looks } from './looks'

export interface HoldDeps {
  facts: Pick<Facts, 'get'>
  gate: Pick<Gate, 'perform'>
  looks: Pick<Looks, 'remember' | 'restore'>
  clock: Clock
}

/** A camera that has only just answered is still being asked for its settings, ms. */
const KNOWN_WITHIN_MS = 6000
const LOOK_AGAIN_MS = 200

/** Gives the picture back to the camera as it was. @returns what could not be set, in sentences */
export type GiveBack = () => Promise<string[]>

/**
 * What stood before is kept first, so that it can be brought back after the server has died in the middle.
 * @param what is done meanwhile, for the list of what can be undone
 * @returns null where nothing is to be held, or the camera does not tell what it has chosen
 */
export async function holdPicture(
  { facts, gate, looks, clock }: HoldDeps,
  camera: string,
  what: string,
): Promise<GiveBack | null> {
  const specs = () => facts.get('able', camera)?.settings ?? []
  const values = () => facts.get('settings', camera) ?? {}
  const untilMs = clock.now() + KNOWN_WITHIN_MS
  while (!allKnown(specs(), values()) && clock.now() < untilMs)
    await new Promise<void>((resolve) => clock.after(LOOK_AGAIN_MS, resolve))
  const turns = byHandWhereKnown(specs(), values())
  if (turns.length === 0) return null
  const before = await looks.remember(what, [camera])
  for (const { key, value } of turns) {
    const result = await gate.perform({ t: 'setting', camera, key, value }, SERVER_ITSELF, true)
    if (result.ok) continue
    await looks.restore(before, SERVER_ITSELF)
    return null
  }
  return () => looks.restore(before, SERVER_ITSELF)
}
