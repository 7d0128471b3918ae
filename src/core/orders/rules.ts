/**
 * What may be done to a camera. Each rule is a small pure function; the first that does not say "go" decides.
 * A new rule is one more function in the list.
 */

import { type Actor, type Right, yieldsTo } from './actors'
import { guardRule } from './guard'
import { movesCamera } from './orders'
import { type CameraAtGate, type GateOrder, GO, type HandOrder, type Rule, type Verdict } from './verdict'

export * from './verdict'

const isHand = (order: GateOrder): order is HandOrder => order.t === 'stick' || order.t === 'finger'

/** It moves nothing, so it does not disturb whoever drives: one may set the picture while another drives. */
export const disturbsNobody = (order: GateOrder) =>
  order.t === 'lamp' || order.t === 'setting' || (order.t === 'memory' && !movesCamera(order))

/** One camera, one hand. A hand takes a camera from what goes on by itself, and from nobody else. */
export const claimsRule: Rule = (order, actor, { holder }) => {
  // Whoever sees that it must stop may stop it.
  if (holder === null || holder.id === actor.id || disturbsNobody(order) || order.t === 'hold') return GO
  if (yieldsTo(holder, actor)) return GO
  return {
    is: 'refuse',
    why: `${holder.name()} drives this camera. Take it over first, or wait until two seconds after it has stopped.`,
  }
}

const rightFor = (order: GateOrder): Right => {
  if (order.t === 'power') return 'power'
  return isHand(order) || movesCamera(order) ? 'drive' : 'picture'
}

/** An actor may only do what it has a right to. */
export const rightsRule: Rule = (order, actor) =>
  actor.rights.has(rightFor(order)) ? GO : { is: 'refuse', why: 'You may not do this here.' }

/** In order: permanent refusals come before those that pass with time. */
export const RULES: readonly Rule[] = [rightsRule, claimsRule, guardRule]

/** The first verdict that is not \"go\"; a changed order is judged by the remaining rules. */
export function judge(rules: readonly Rule[], order: GateOrder, actor: Actor, camera: CameraAtGate): Verdict {
  let current = order
  let changed: (Verdict & { is: 'go-changed' }) | null = null
  for (const rule of rules) {
    const verdict = rule(current, actor, camera)
    if (verdict.is === 'refuse' || verdict.is === 'ask') return verdict
    if (verdict.is !== 'go-changed') continue
    current = verdict.order
    changed = verdict
  }
  return changed ?? GO
}
