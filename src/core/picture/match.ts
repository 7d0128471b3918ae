/**
 * Matching by measurement: a closed loop that turns exposure and the gains of red and blue, then what bends colours
 * (fineMatch), until they are as near as the camera's steps allow. No I/O: it is given what was measured, and answers
 * with what to set.
 */
import { byHand, type Turn } from './byHand'
import { FineMatch } from './fineMatch'
import { difference, type Linear } from './patch'
import { closedBy, type SettingSpec, type SettingValue, type SettingValues } from './settings'
import { amountOf, stepped, stepsOf, valuesOf } from './units'

/** Good enough: hardly anybody sees it. */
export const AIM = 0.9
const MOST_ROUNDS = 10
const ROUNDS_AGAIN = 3
const MOST_TIMES = 3
/** From so many colours on their saturation and their gradation tell. */
const MANY = 3
/** A trial turns a setting by this part of its range. */
const TRIAL = 0.06
/** Unmeasured slopes: octaves a step, of gains whose whole range is about four. */
const LEAST_SLOPE = 1e-4

type Range = Extract<SettingSpec, { kind: 'range' }>
const log2 = Math.log2

/** From here on a channel of a patch has lost light, linear. */
const LOST = 0.96
const isLost = (measured: readonly Linear[]) =>
  measured.filter(({ r, g, b }) => Math.max(r, g, b) >= LOST).length > measured.length / 4

/** Median of what each patch asks for: one that is odd does not count. */
function middle(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  const at = (sorted.length - 1) / 2
  return (sorted[Math.floor(at)]! + sorted[Math.ceil(at)]!) / 2
}

/** What one of its steps does to the light, where that follows from its unit, octaves. */
function stopsOf(spec: Range, value: number): number | null {
  const amount = amountOf(spec, value)
  if (spec.unit === 'f') return amount > 0 ? -2 * log2(amount) : Number.NEGATIVE_INFINITY
  if (spec.unit === 'dB' && spec.key === 'gain') return amount / 6.0206
  // ONVIF tells an iris by how much it dims.
  if (spec.unit === 'dB' && spec.key === 'iris') return -amount / 6.0206
  return spec.unit === 's' ? log2(amount) : null
}

interface Asked {
  red: number
  green: number
  blue: number
}

export class Matcher {
  private round = 0
  private best: { sets: Map<string, SettingValue>; off: number } | null = null
  private now = new Map<string, SettingValue>()
  private slopes: Record<'redGain' | 'blueGain' | 'exposure', number | null> = {
    redGain: null,
    blueGain: null,
    exposure: null,
  }
  private before: { measured: readonly Linear[]; now: Map<string, SettingValue> } | null = null
  private ended = false
  private fine: FineMatch | null = null
  /** Exposure and gains are set once more after that, as gamma moves them. */
  private times = 0

  /**
   * @param target the patches as the reference has them
   * @param values what the camera is set to
   */
  constructor(
    private readonly specs: readonly SettingSpec[],
    values: SettingValues,
    private readonly target: readonly Linear[],
    private readonly aim = AIM,
  ) {
    for (const [key, value] of Object.entries(values)) this.now.set(key, value)
  }

  /** Brings it under the hand, with what its automatics had chosen: modes first. */
  begin(): Turn[] {
    return this.take(byHand(this.specs, Object.fromEntries(this.now)))
  }

  /** @returns what to set before the next measurement; null: it is as near as it gets, and stands at its best */
  next(measured: readonly Linear[]): Turn[] | null {
    if (this.ended) return null
    const off = difference(measured, this.target).mean
    const turned = new Map(
      this.turnable.map((spec) => [spec.key, this.now.get(spec.key) ?? spec.min] as const),
    )
    if (!this.best || off < this.best.off) this.best = { sets: turned, off }
    if (off <= this.aim) return this.end()
    if (this.fine) return this.finer(off)
    this.learn(measured)
    this.before = { measured, now: new Map(this.now) }
    this.round += 1
    const sets = this.round <= MOST_ROUNDS ? this.turns(measured) : []
    if (sets.length === 0) return this.finer(off)
    return this.take(sets)
  }

  private take(sets: Turn[]): Turn[] {
    for (const { key, value } of sets) this.now.set(key, value)
    return sets
  }

  /** Nothing more is tried. @returns what brings it to the best of all that was */
  stop(): Turn[] {
    return this.end() ?? []
  }

  /** What bends colours, where more than one of them is seen: a single one is met by exposure and gains. */
  private finer(off: number): Turn[] | null {
    if (!this.fine) {
      const gains = this.range('redGain') !== null && this.range('blueGain') !== null
      const keys = [
        ...(gains ? [] : ['tint']),
        ...(this.target.length >= MANY ? ['gamma', 'saturation'] : []),
      ]
      const ranges = keys.map((key) => this.range(key)).filter((spec) => spec !== null)
      const sets = this.backToBest()
      this.fine = new FineMatch(ranges, (spec) => this.at(spec))
      // The first is measured where it was best.
      if (sets.length > 0 && ranges.length > 0) return sets
    }
    const next = this.fine.next(off)
    if (next) return this.take([next])
    if (!this.fine.improved || this.times >= MOST_TIMES) return this.end()
    this.times += 1
    this.fine = null
    this.before = null
    this.round = MOST_ROUNDS - ROUNDS_AGAIN
    return this.backToBest()
  }

  /** @returns what to set for that */
  private backToBest(): Turn[] {
    const back = [...(this.best?.sets ?? [])].filter(([key, value]) => this.now.get(key) !== value)
    return this.take(back.map(([key, value]) => ({ key, value })))
  }

  /** Where light is lost, its colour tells nothing: first it is made darker. */
  private turns(measured: readonly Linear[]): Turn[] {
    const darker = isLost(measured) ? this.expose(Math.min(-0.5, this.asked(measured).green)) : []
    if (darker.length > 0) return darker
    const tried =
      this.slopes.redGain !== null || this.slopes.blueGain !== null || this.slopes.exposure !== null
    return this.round === 1 || !tried ? this.trial(measured) : this.newton(measured)
  }

  private range(key: string): Range | null {
    const spec = this.specs.find((s) => s.key === key)
    if (spec?.kind !== 'range') return null
    return closedBy(spec, this.specs, Object.fromEntries(this.now)) === null ? spec : null
  }

  private get turnable(): Range[] {
    return ['iris', 'gain', 'bright', 'compensation', 'redGain', 'blueGain', 'tint', 'saturation', 'gamma']
      .map((key) => this.range(key))
      .filter((spec) => spec !== null)
  }

  /** What stands for exposure where neither iris nor gain has a unit. */
  private get plain(): Range | null {
    return this.exact.length > 0
      ? null
      : (this.range('iris') ?? this.range('gain') ?? this.range('bright') ?? this.range('compensation'))
  }

  private get exact(): Range[] {
    return ['iris', 'gain']
      .map((key) => this.range(key))
      .filter((spec) => spec !== null && stopsOf(spec, spec.max) !== null) as Range[]
  }

  private at(spec: Range): number {
    const value = this.now.get(spec.key)
    return typeof value === 'number' ? value : spec.min
  }

  /** Octaves by which red beside green, blue beside green, and green itself are off. */
  private asked(measured: readonly Linear[]): Asked {
    const each = measured.map((m, i) => {
      const t = this.target[i]!
      const ratio = (x: number, y: number) => log2(Math.max(1e-5, x) / Math.max(1e-5, y))
      const green = ratio(t.g, m.g)
      return { green, red: ratio(t.r, m.r) - green, blue: ratio(t.b, m.b) - green }
    })
    return {
      red: middle(each.map(({ red }) => red)),
      green: middle(each.map(({ green }) => green)),
      blue: middle(each.map(({ blue }) => blue)),
    }
  }

  /** What a step of each did, by what was measured before and now. */
  private learn(measured: readonly Linear[]): void {
    const { before } = this
    if (!before || isLost(before.measured) || isLost(measured)) return
    const [was, is] = [this.asked(before.measured), this.asked(measured)]
    const steps = (spec: Range | null) => {
      if (!spec) return 0
      const [a, b] = [before.now.get(spec.key), this.now.get(spec.key)]
      return typeof a === 'number' && typeof b === 'number' ? b - a : 0
    }
    const take = (name: 'redGain' | 'blueGain' | 'exposure', spec: Range | null, gone: number) => {
      const by = steps(spec)
      if (!spec || Math.abs(by) < Math.max(1, (spec.max - spec.min) * 0.02)) return
      const slope = gone / by
      // A gain that seems to do the opposite was drowned in noise.
      const upwards = name === 'exposure' ? slope * (this.slopes[name] ?? slope) > 0 : slope > 0
      if (Math.abs(slope) > LEAST_SLOPE && upwards) this.slopes[name] = slope
    }
    take('redGain', this.range('redGain'), was.red - is.red)
    take('blueGain', this.range('blueGain'), was.blue - is.blue)
    take('exposure', this.plain, was.green - is.green)
  }

  /** One turn of each, to see what its steps do; exposure at once where its unit tells. */
  private trial(measured: readonly Linear[]): Turn[] {
    const { red, blue, green } = this.asked(measured)
    const turn = (spec: Range | null, wish: number): Turn[] => {
      if (!spec || Math.abs(wish) < 0.01) return []
      const by = Math.max(1, Math.round(stepsOf(spec) * TRIAL)) * Math.sign(wish)
      const value = stepped(spec, this.at(spec), by)
      // At its end it is tried the other way.
      return [{ key: spec.key, value: value === this.at(spec) ? stepped(spec, this.at(spec), -by) : value }]
    }
    return [
      ...turn(this.range('redGain'), red),
      ...turn(this.range('blueGain'), blue),
      ...turn(this.plain, green),
      ...this.expose(green),
    ]
  }

  private newton(measured: readonly Linear[]): Turn[] {
    const { red, blue, green } = this.asked(measured)
    const turn = (spec: Range | null, slope: number | null, wish: number): Turn[] => {
      if (!spec || slope === null) return []
      const by = Math.round(wish / slope / (spec.step || 1))
      const value = stepped(spec, this.at(spec), by)
      return value === this.at(spec) ? [] : [{ key: spec.key, value }]
    }
    return [
      ...turn(this.range('redGain'), this.slopes.redGain, red),
      ...turn(this.range('blueGain'), this.slopes.blueGain, blue),
      ...turn(this.plain, this.slopes.exposure, green),
      ...this.expose(green),
    ]
  }

  /** The pair of iris and gain that comes closest, with as little change of gain as will do. */
  private expose(stops: number): Turn[] {
    const { exact } = this
    if (exact.length === 0 || Math.abs(stops) < 0.02) return []
    const light = (spec: Range, value: number) => stopsOf(spec, value) ?? 0
    const goal = exact.reduce((sum, spec) => sum + light(spec, this.at(spec)), 0) + stops
    const lit = (spec: Range) => valuesOf(spec).filter((value) => Number.isFinite(light(spec, value)))
    const seconds = exact[1] ? lit(exact[1]) : [0]
    const [a, b] = exact as [Range, Range | undefined]
    let best: { cost: number; sets: Turn[] } = { cost: Number.POSITIVE_INFINITY, sets: [] }
    for (const first of lit(a))
      for (const second of seconds) {
        const off = Math.abs(light(a, first) + (b ? light(b, second) : 0) - goal)
        const turned = Math.abs(light(a, first) - light(a, this.at(a)))
        const lifted = b ? Math.abs(light(b, second) - light(b, this.at(b))) : 0
        const cost = off + turned * 0.004 + lifted * 0.006
        if (cost < best.cost)
          best = { cost, sets: [{ key: a.key, value: first }, ...(b ? [{ key: b.key, value: second }] : [])] }
      }
    return best.sets.filter(({ key, value }) => this.now.get(key) !== value)
  }

  /** Back to the best of all that was tried. */
  private end(): Turn[] | null {
    this.ended = true
    const back = this.backToBest()
    return back.length > 0 ? back : null
  }
}
