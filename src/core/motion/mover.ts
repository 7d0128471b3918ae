/**
 * What moves a camera: a push, a finger that holds a point, a glide, a planned move; later a recorded one and a
 * tour. A mover answers how fast its axes are to run now. It holds no clock and sends nothing, so that one
 * steering can run them all, one at a time for each group of axes.
 */
import type { Speeds, Standing } from '../stick/speeds'

export type AxisGroup = 'panTilt' | 'zoom' | 'focus'
export const AXIS_GROUPS: readonly AxisGroup[] = ['panTilt', 'zoom', 'focus']

export interface Mover {
  /** It speaks of the head's own steps: nothing that was learnt of them is put in between. */
  readonly bySteps?: true
  /** A hand moves it: a hand that lets go ends it. */
  readonly byHand: boolean
  /**
   * The speeds of its axes, in degrees and lens units per second of the head; null when it has ended.
   * @param at where the camera stands by now; null if that is not known
   * @param then where it will stand once what is said now takes effect
   */
  velocity(nowMs: number, at: Standing | null, then: Standing | null): Partial<Speeds> | null
}
