/** The trade's units of picture settings: how an amount reads, and how two amounts compare. */
import type { SettingSpec } from './settings'

type Range = Extract<SettingSpec, { kind: 'range' }>

/** Units in which equal steps are equal ratios. */
const BY_RATIO = ['f', 's', 'K']

const short = (value: number, digits: number) => String(Number(value.toFixed(digits)))

/** How an amount reads in its unit: `f/2.8`, `1/50`, `6 dB`, `3200 K`, an ND filter in stops as `1/4`. */
export function amountText(unit: string, amount: number): string {
  if (unit === 'f') return amount === 0 ? 'closed' : `f/${short(amount, amount < 10 ? 1 : 0)}`
  if (unit === 's') return amount >= 0.4 ? `${short(amount, 1)} s` : `1/${Math.round(1 / amount)}`
  if (unit === 'ND') return amount === 0 ? 'clear' : `1/${Math.round(2 ** amount)}`
  const text = short(amount, 2)
  return unit ? `${text} ${unit}` : text
}

/** What a value is in the setting's unit; between two marks it is interpolated. */
export function amountOf({ marks }: Range, value: number): number {
  if (marks.length === 0) return value
  const next = marks.findIndex(([at]) => at >= value)
  if (next <= 0) return marks[next === 0 ? 0 : marks.length - 1]![1]
  const [[a, from], [b, to]] = [marks[next - 1]!, marks[next]!]
  return from + ((value - a) / (b - a)) * (to - from)
}

/** A profile may describe any scale: of one with more steps than this not every step is looked at. */
const MOST_VALUES = 512

/** The values of a scale from its low end to its high one, at most some hundred. */
export function valuesOf(spec: Range): number[] {
  if (spec.step === 0) return spec.marks.map(([at]) => at)
  const steps = stepsOf(spec)
  const stride = Math.max(1, Math.ceil(steps / MOST_VALUES))
  const values = Array.from(
    { length: Math.floor(steps / stride) + 1 },
    (_, i) => spec.min + i * stride * spec.step,
  )
  return values[values.length - 1] === spec.max ? values : [...values, spec.max]
}

/** The setting's value that comes closest to an amount of its unit. */
export function valueFor(spec: Range, amount: number): number {
  const { min, max, step, unit, marks } = spec
  const ratio = BY_RATIO.includes(unit) && amount > 0
  const far = (other: number) => {
    if (!ratio) return Math.abs(other - amount)
    return other > 0 ? Math.abs(Math.log(other / amount)) : Number.POSITIVE_INFINITY
  }
  if (step > 0 && marks.length === 0) return stepped(spec, Math.min(max, Math.max(min, amount)), 0)
  const values = valuesOf(spec)
  return values.reduce(
    (best, value) => (far(amountOf(spec, value)) < far(amountOf(spec, best)) ? value : best),
    values[0] ?? min,
  )
}

export const valueText = (spec: Range, value: number): string => amountText(spec.unit, amountOf(spec, value))

/** A value moved by so many steps, within the range; a step of nothing goes from mark to mark. */
export function stepped({ min, max, step, marks }: Range, value: number, steps: number): number {
  if (step > 0) {
    const to = min + Math.round((value - min) / step + steps) * step
    return Math.min(max, Math.max(min, Number(to.toFixed(6))))
  }
  const far = marks.map(([at]) => Math.abs(at - value))
  const at = far.indexOf(Math.min(...far)) + Math.round(steps)
  return marks[Math.min(marks.length - 1, Math.max(0, at))]?.[0] ?? value
}

/** Where a value stands on the setting's scale, in steps from its low end; not whole between two of them. */
export function stepAt({ min, step, marks }: Range, value: number): number {
  if (step > 0) return (value - min) / step
  const next = marks.findIndex(([at]) => at >= value)
  if (next <= 0) return next === 0 ? 0 : marks.length - 1
  const [a, b] = [marks[next - 1]![0], marks[next]![0]]
  return next - 1 + (value - a) / (b - a)
}

/** How many steps its scale has. */
export const stepsOf = ({ min, max, step, marks }: Range): number =>
  step > 0 ? Math.round((max - min) / step) : marks.length - 1
