/**
 * Matching by measurement: patches of a picture in linear light, how far two of them are apart, and a closed loop
 * that turns exposure and the gains of red and blue until they are as near as the camera's steps allow. No I/O: it
 * is given what was measured, and answers with what to set.
 *
 * Colours: sRGB's transfer curve (IEC 61966-2-1); difference: CIEDE2000.
 */
import { converter, differenceCiede2000 } from 'culori'
import { closedBy, type SettingSpec, type SettingValue, type SettingValues } from './settings'
import { amountOf, stepped, stepsOf, valuesOf } from './units'

/** Mean of a patch in linear light, 0..1 each. */
export interface Linear {
  r: number
  g: number
  b: number
}

export interface Patch extends Linear {
  /** How uneven it is: deviation of its light, beside its mean. */
  spread: number
  /** Share of its points that are clipped, and that are too dark to tell a colour. */
  clipped: number
  dark: number
}

const CLIPPED = 250
const DARK = 4
const toLinear = Float64Array.from({ length: 256 }, (_, i) => {
  const x = i / 255
  return x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4
})

/** Points in the linear light of sRGB to what they look like there, 0..255. */
export const fromLinear = (y: number): number =>
  255 * (y <= 0.0031308 ? 12.92 * y : 1.055 * Math.max(0, y) ** (1 / 2.4) - 0.055)

/** @param rgba of the patch alone, 8 bits a channel */
export function measurePatch(rgba: Uint8ClampedArray): Patch {
  const sum = { r: 0, g: 0, b: 0 }
  let [taken, clipped, dark, light, squares] = [0, 0, 0, 0, 0]
  for (let i = 0; i < rgba.length; i += 4) {
    const [r, g, b] = [rgba[i]!, rgba[i + 1]!, rgba[i + 2]!]
    if (r >= CLIPPED || g >= CLIPPED || b >= CLIPPED) {
      clipped += 1
      continue
    }
    if (Math.max(r, g, b) <= DARK) {
      dark += 1
      continue
    }
    const y = toLinear[g]!
    sum.r += toLinear[r]!
    sum.g += y
    sum.b += toLinear[b]!
    light += y
    squares += y * y
    taken += 1
  }
  const all = Math.max(1, rgba.length / 4)
  const n = Math.max(1, taken)
  const mean = light / n
  const spread = mean > 0 ? Math.sqrt(Math.max(0, squares / n - mean * mean)) / mean : 0
  return {
    ...{ r: sum.r / n, g: sum.g / n, b: sum.b / n, spread },
    ...{ clipped: clipped / all, dark: dark / all },
  }
}

const MOST_CLIPPED = 0.1
const MOST_DARK = 0.3
const MOST_SPREAD = 0.45

/** Why a patch cannot be matched by, in a sentence; null if it can. */
export function unfit({ clipped, dark, spread, g }: Patch): string | null {
  if (clipped > MOST_CLIPPED) return 'it is too bright there, so that its colour is lost'
  if (dark > MOST_DARK || g < 0.004) return 'it is too dark there to tell a colour'
  if (spread > MOST_SPREAD) return 'it is too uneven or too noisy there: touch something plain'
  return null
}

/** Did something move over the patch between two pictures? */
export function movedBetween(a: Linear, b: Linear): boolean {
  const far = (x: number, y: number) => Math.abs(x - y) > 0.12 * Math.max(x, y) + 0.004
  return far(a.r, b.r) || far(a.g, b.g) || far(a.b, b.b)
}

const lab = converter('lab65')
const ciede = differenceCiede2000()
const asColour = ({ r, g, b }: Linear) => lab({ mode: 'lrgb', r, g, b })

/** CIEDE2000 between patches of the same order: their mean, and the worst. */
export function difference(a: readonly Linear[], b: readonly Linear[]): { mean: number; most: number } {
  const each = a.map((one, i) => ciede(asColour(one), asColour(b[i] ?? one)))
  return { mean: each.reduce((sum, d) => sum + d, 0) / Math.max(1, each.length), most: Math.max(0, ...each) }
}

/** One setting, turned. */
export interface Turn {
  key: string
  value: SettingValue
}

/** Good enough: hardly anybody sees it. */
export const AIM = 0.9
const MOST_ROUNDS = 10
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
    const sets: Turn[] = []
    const levels = ['iris', 'shutter', 'gain', 'redGain', 'blueGain'].flatMap((key) => {
      const value = this.now.get(key)
      return value === undefined || !this.specs.some((s) => s.key === key) ? [] : [{ key, value }]
    })
    for (const key of ['exposureMode', 'whiteBalance']) {
      const spec = this.specs.find((s) => s.key === key)
      const manual =
        spec?.kind === 'choice' ? spec.options.find(({ label }) => label === 'Manual') : undefined
      if (manual && this.now.get(key) !== manual.value) sets.push({ key, value: manual.value })
    }
    if (sets.length === 0) return []
    for (const set of sets) this.now.set(set.key, set.value)
    return [...sets, ...levels.filter(({ key }) => this.range(key) !== null)]
  }

  /** The least difference that was reached, and the settings that reached it. */
  get reached(): { off: number; sets: Turn[] } | null {
    if (!this.best) return null
    return { off: this.best.off, sets: [...this.best.sets].map(([key, value]) => ({ key, value })) }
  }

  /** @returns what to set before the next measurement; null: it is as near as it gets, and stands at its best */
  next(measured: readonly Linear[]): Turn[] | null {
    if (this.ended) return null
    const off = difference(measured, this.target).mean
    const turned = new Map(
      this.turnable.map((spec) => [spec.key, this.now.get(spec.key) ?? spec.min] as const),
    )
    if (!this.best || off < this.best.off) this.best = { sets: turned, off }
    if (off <= this.aim || this.round >= MOST_ROUNDS) return this.end()
    this.learn(measured)
    this.before = { measured, now: new Map(this.now) }
    this.round += 1
    const sets = this.turns(measured)
    if (sets.length === 0) return this.end()
    for (const { key, value } of sets) this.now.set(key, value)
    return sets
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
    return ['iris', 'gain', 'bright', 'compensation', 'redGain', 'blueGain']
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
    const back = [...(this.best?.sets ?? [])].filter(([key, value]) => this.now.get(key) !== value)
    if (back.length === 0) return null
    for (const [key, value] of back) this.now.set(key, value)
    return back.map(([key, value]) => ({ key, value }))
  }
}

/** Where the patches of a 24-patch chart lie, from its four corners clockwise from the top left; shares of the picture. */
export function chartPatches(corners: readonly { x: number; y: number }[]): { x: number; y: number }[] {
  const [a, b, c, d] = corners as [Point, Point, Point, Point]
  return Array.from({ length: 24 }, (_, i) => {
    const [s, t] = [((i % 6) + 0.5) / 6, (Math.floor(i / 6) + 0.5) / 4]
    const mix = (k: 'x' | 'y') => (1 - t) * ((1 - s) * a[k] + s * b[k]) + t * ((1 - s) * d[k] + s * c[k])
    return { x: mix('x'), y: mix('y') }
  })
}
type Point = { x: number; y: number }
