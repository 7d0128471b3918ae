/** What goes through the gate, what a rule may know, and what it may say. */
import type { PresetPlace } from '../people/may'
import type { Push } from '../stick/speeds'
import type { Actor } from './actors'
import type { OnAir } from './guardSettings'
import type { CameraOrder } from './orders'

/** What goes through the gate: orders, and the push of a hand. */
export type GateOrder = CameraOrder | HandOrder
export type HandOrder =
  | { t: 'stick'; push: Push }
  /** `most`: the share of the top speed with which the picture follows it. */
  | { t: 'finger'; most?: number }

/** What a rule may know of the camera. */
export interface CameraAtGate {
  id: string
  /** Of a recall: what is recalled; null if it is gone. */
  preset: PresetPlace | null
  name: string
  /** Who drives it; null if nobody does. */
  holder: Actor | null
  onAir: OnAir
}

export type Verdict =
  | { is: 'go' }
  /** Another order replaces it, such as a slower one. */
  | { is: 'go-changed'; order: GateOrder; why: string }
  | { is: 'refuse'; why: string }
  /** It may go once somebody has confirmed it. */
  | { is: 'ask'; why: string }

export type Rule = (order: GateOrder, actor: Actor, camera: CameraAtGate) => Verdict

export const GO: Verdict = { is: 'go' }
