/** Takes a camera's exposure and white balance from its automatics, as they have chosen them. */
import { closedBy, type SettingSpec, type SettingValue, type SettingValues } from './settings'

/** One setting, turned. */
export interface Turn {
  key: string
  value: SettingValue
}

const EXPOSURE = ['iris', 'shutter', 'gain'] as const
const WHITE = ['redGain', 'blueGain'] as const

/** @returns what to set, modes first; empty where it is under the hand already, or has no such mode */
export function byHand(specs: readonly SettingSpec[], values: SettingValues): Turn[] {
  const sets: Turn[] = []
  for (const key of ['exposureMode', 'whiteBalance']) {
    const spec = specs.find((s) => s.key === key)
    const manual = spec?.kind === 'choice' ? spec.options.find(({ label }) => label === 'Manual') : undefined
    if (manual && values[key] !== manual.value) sets.push({ key, value: manual.value })
  }
  if (sets.length === 0) return []
  const then = { ...values, ...Object.fromEntries(sets.map(({ key, value }) => [key, value])) }
  const levels = [...EXPOSURE, ...WHITE].flatMap((key) => {
    const spec = specs.find((s) => s.key === key)
    const value = values[key]
    const taken = spec?.kind === 'range' && closedBy(spec, specs, then) === null
    return taken && value !== undefined ? [{ key, value }] : []
  })
  return [...sets, ...levels]
}

/** Of exposure and of white balance: what of its levels is not known. */
const unknownOf = (specs: readonly SettingSpec[], values: SettingValues, keys: readonly string[]) =>
  keys.filter((key) => specs.some((s) => s.key === key) && values[key] === undefined)

/** Has the camera told all that taking it by hand needs? */
export const allKnown = (specs: readonly SettingSpec[], values: SettingValues): boolean =>
  unknownOf(specs, values, ['exposureMode', 'whiteBalance', ...EXPOSURE, ...WHITE]).length === 0

/** The same, of that alone whose levels are all known: what is not known would jump. */
export function byHandWhereKnown(specs: readonly SettingSpec[], values: SettingValues): Turn[] {
  const held = (keys: readonly string[]) =>
    specs.some(({ key }) => keys.includes(key)) && unknownOf(specs, values, keys).length === 0
  const left: string[] = [
    ...(held(EXPOSURE) ? [] : ['exposureMode', ...EXPOSURE]),
    ...(held(WHITE) ? [] : ['whiteBalance', ...WHITE]),
  ]
  return byHand(
    specs.filter(({ key }) => !left.includes(key)),
    values,
  )
}
