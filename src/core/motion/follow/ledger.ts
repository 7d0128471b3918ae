/**
 * What a head makes of the speeds that it is told: each step of its profile's table has a factor, learnt from what
 * the head reports while it runs evenly. The second move is better than the first.
 */
import * as v from 'valibot'
import type { HeadProfile } from '../../heads/profile'

const Factors = v.pipe(
  v.array(v.pipe(v.number(), v.minValue(0.2), v.maxValue(5))),
  v.minLength(1),
  v.maxLength(64),
)
/** Of a camera; kept with it. */
export const Learnt = v.object({ pan: Factors, tilt: Factors, zoom: Factors })
export type Learnt = v.InferOutput<typeof Learnt>
export type LearntAxis = keyof Learnt

const LEAST = 0.2
const MOST = 5
/** How much one look counts, and the first one of a step. */
const WEIGHT = 0.3
const FIRST_WEIGHT = 1.0
/** A step that was never looked at follows its neighbour, by so much less for each doubling of the speed between them. */
const SPREAD = 0.5
/** What was learnt before this server began counts as so many looks. */
const KNOWN = 3
/** A look that differs more than this is no speed but something else: an end, a hand, a fault. */
const BELIEVED = { least: 0.3, most: 3 }

const tablesOf = ({ pan, tilt, zoomSpeedsPerSec }: HeadProfile): Record<LearntAxis, readonly number[]> => ({
  pan: pan.speedsDegPerSec,
  tilt: tilt.speedsDegPerSec,
  zoom: zoomSpeedsPerSec,
})

export class SpeedLedger {
  private readonly tables: Record<LearntAxis, readonly number[]>
  private factors: Learnt
  /** How often each step was looked at. */
  private readonly looks: Record<LearntAxis, number[]>
  changed = false

  constructor(profile: HeadProfile, known: Learnt | null = null) {
    this.tables = tablesOf(profile)
    const fresh = (axis: LearntAxis) => {
      const { length } = this.tables[axis]
      // A table of another length belongs to another profile.
      return known && known[axis].length === length ? [...known[axis]] : new Array<number>(length).fill(1)
    }
    this.factors = { pan: fresh('pan'), tilt: fresh('tilt'), zoom: fresh('zoom') }
    const looked = (axis: LearntAxis) => this.factors[axis].map((factor) => (factor === 1 ? 0 : KNOWN))
    this.looks = { pan: looked('pan'), tilt: looked('tilt'), zoom: looked('zoom') }
  }

  get learnt(): Learnt {
    return this.factors
  }

  /** What the head does for each unit that it is told, at about this speed. */
  factor(axis: LearntAxis, told: number): number {
    const table = this.tables[axis]
    const factors = this.factors[axis]
    const { low, share } = this.place(axis, Math.abs(told))
    const next = table[low + 1]
    if (share === 0 || next === undefined) return factors[low]!
    const does = table[low]! * factors[low]! * (1 - share) + next * factors[low + 1]! * share
    return does / Math.abs(told)
  }

  /** What to tell it, so that it does this: between two steps it runs at both in turn. */
  toTell(axis: LearntAxis, wanted: number): number {
    const table = this.tables[axis]
    const does = (i: number) => table[i]! * this.factors[axis][i]!
    const speed = Math.abs(wanted)
    if (speed <= does(0)) return wanted / this.factors[axis][0]!
    for (let i = 0; i + 1 < table.length; i++) {
      const [a, b] = [does(i), does(i + 1)]
      if (a < speed && speed <= b)
        return Math.sign(wanted) * (table[i]! + ((table[i + 1]! - table[i]!) * (speed - a)) / (b - a))
    }
    return wanted / this.factors[axis].at(-1)!
  }

  /**
   * @param ran at which speeds it was meant to run, and for what share of its way @param ratio what it did to what was
   * expected of it
   */
  learn(axis: LearntAxis, ran: readonly { speed: number; share: number }[], ratio: number): void {
    if (!(ratio > BELIEVED.least && ratio < BELIEVED.most)) return
    const factors = this.factors[axis]
    const weights = new Map<number, number>()
    for (const { speed, share: part } of ran) {
      const told = Math.abs(this.toTell(axis, speed))
      const { low, share } = this.place(axis, told)
      const of = (i: number, time: number) => ((this.tables[axis][i] ?? 0) * (factors[i] ?? 0) * time) / told
      const [slow, fast] = share === 0 ? [1, 0] : [of(low, 1 - share), of(low + 1, share)]
      weights.set(low, (weights.get(low) ?? 0) + (part * slow) / (slow + fast))
      weights.set(low + 1, (weights.get(low + 1) ?? 0) + (part * fast) / (slow + fast))
    }
    const looks = this.looks[axis]
    const table = this.tables[axis]
    const turn = (i: number, weight: number) => {
      factors[i] = Math.min(MOST, Math.max(LEAST, factors[i]! * ratio ** weight))
    }
    // Heads that are slow at one step are slow at those beside it: what nobody has looked at yet follows.
    for (const j of factors.keys()) {
      if (weights.get(j)) continue
      let most = 0
      for (const [i, weight] of weights)
        if (table[i] && table[j]) {
          const octaves = Math.abs(Math.log2(table[i]! / table[j]!))
          most = Math.max(most, weight * SPREAD ** octaves)
        }
      turn(j, (most * WEIGHT) / (1 + looks[j]!) ** 2)
    }
    for (const [i, weight] of weights) {
      if (factors[i] === undefined || weight === 0) continue
      turn(i, weight * Math.max(WEIGHT, FIRST_WEIGHT / (1 + looks[i]!)))
      looks[i]! += weight
    }
    this.changed ||= Math.abs(ratio - 1) > 0.02
  }

  /** Between which two steps a speed lies. */
  private place(axis: LearntAxis, s: number): { low: number; share: number } {
    const table = this.tables[axis]
    let low = 0
    while (low < table.length - 1 && table[low + 1]! <= s) low += 1
    const [a, b] = [table[low]!, table[low + 1]]
    const share = b === undefined || s <= a ? 0 : Math.min(1, (s - a) / (b - a))
    return { low, share }
  }
}
