/**
 * What may be done to a camera. Each rule is a small pure function; the first that does not say "go" decides.
 * A new rule is one more function in the list.
 */

import { mayNot, type Right } from '../people/rights'
import { countsAsOnAir } from '../tally/sources'
import { type Actor, yieldsTo } from './actors'
import { guardRule } from './guard'
import { movesCamera, rightFor } from './orders'
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

const NOT_YOURS = 'This camera is not one of yours here. Ask an owner of this desk.'
const NOT_YOUR_PRESET = 'This preset is not one of yours here. Ask an owner of this desk.'

/** An actor may only do what it has a right to, and only as far as it reaches. */
export const rightsRule: Rule = (order, { may }, { id, preset }) => {
  const right: Right = isHand(order) ? 'drive' : rightFor(order)
  if (!may.camera(id)) return { is: 'refuse', why: NOT_YOURS }
  if (!may.rights.has(right)) return { is: 'refuse', why: mayNot(right) }
  if (right === 'drive' && !may.drives(id)) return { is: 'refuse', why: mayNot('drive') }
  if (preset && !may.preset(preset)) return { is: 'refuse', why: NOT_YOUR_PRESET }
  return GO
}

/** Some may touch cameras only while the audience does not see them, and some may not confirm what the guard asks. */
export const onAirRule: Rule = (order, actor, camera) => {
  const { may } = actor
  const moves = isHand(order) || movesCamera(order)
  if (moves && countsAsOnAir(camera.onAir.tally) && !may.rights.has('onAir'))
    return { is: 'refuse', why: `${camera.name} is on air. ${mayNot('onAir')}` }
  if (may.rights.has('override')) return GO
  const asked = guardRule(order, actor, { ...camera, onAir: { ...camera.onAir, confirmed: false } })
  return asked.is === 'ask' ? { is: 'refuse', why: `${camera.name} is on air. ${mayNot('override')}` } : GO
}

/** In order: permanent refusals come before those that pass with time. */
export const RULES: readonly Rule[] = [rightsRule, claimsRule, onAirRule, guardRule]

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
