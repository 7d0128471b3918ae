/** A setting of one camera carried over to others, whose steps and ranges may be different. */
import type { SettingSpec, SettingValue } from './settings'
import { amountOf, valueFor } from './units'

export type Along = 'same' | 'relative'

type Range = Extract<SettingSpec, { kind: 'range' }>

/** Units in which equal steps are equal ratios. */
const BY_RATIO = ['f', 's', 'K']

/** Can an amount of the one be an amount of the other? */
const sameUnit = (a: Range, b: Range) =>
  a.unit === b.unit && (a.unit !== '' || (a.min === b.min && a.max === b.max))

/** A value of one setting as another camera has it: by its unit, by its word, or by its place in the range; null if it cannot be. */
export function carried(from: SettingSpec, value: SettingValue, to: SettingSpec): SettingValue | null {
  if (from.kind === 'range' && to.kind === 'range' && typeof value === 'number') {
    if (sameUnit(from, to)) return valueFor(to, amountOf(from, value))
    // Neither has a unit that the other knows: as far along its range.
    if (from.unit !== to.unit) return null
    const share = (value - from.min) / (from.max - from.min)
    return valueFor(to, amountOf(to, to.min) + share * (amountOf(to, to.max) - amountOf(to, to.min)))
  }
  if (from.kind === 'switch' && to.kind === 'switch') return value
  if (from.kind !== 'choice' || to.kind !== 'choice') return null
  const word = from.options.find((option) => option.value === value)?.label
  return to.options.find(({ label }) => label === word)?.value ?? null
}

/**
 * What another camera is set to when one of this camera's settings is turned.
 * @param before what it was here before it was turned
 * @param there what it is at the other camera; null if that is not known
 */
export function turnedAlong(
  how: Along,
  { spec, before, after }: { spec: SettingSpec; before: SettingValue | null; after: SettingValue },
  to: SettingSpec,
  there: SettingValue | null,
): SettingValue | null {
  const both = spec.kind === 'range' && to.kind === 'range'
  if (how === 'same' || !both) return carried(spec, after, to)
  if (typeof before !== 'number' || typeof after !== 'number' || typeof there !== 'number') return null
  const [a, b, c] = [amountOf(spec, before), amountOf(spec, after), amountOf(to, there)]
  if (!sameUnit(spec, to)) return valueFor(to, c + ((b - a) / (spec.max - spec.min)) * (to.max - to.min))
  return BY_RATIO.includes(spec.unit) && a > 0 ? valueFor(to, (c * b) / a) : valueFor(to, c + b - a)
}
