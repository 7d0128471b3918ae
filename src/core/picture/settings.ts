/**
 * A setting of a camera as data: what it is called, what it may be, where it belongs. A driver offers
 * settings, pages draw them and set them, and neither needs to know which there are.
 */
import * as v from 'valibot'

export const SettingValue = v.union([
  v.boolean(),
  v.pipe(v.number(), v.finite()),
  v.pipe(v.string(), v.maxLength(40)),
])
export type SettingValue = v.InferOutput<typeof SettingValue>

export const SETTING_GROUPS = ['lens', 'exposure', 'whiteBalance', 'detail', 'image'] as const
export type SettingGroup = (typeof SETTING_GROUPS)[number]

const common = {
  key: v.string(),
  label: v.string(),
  group: v.picklist(SETTING_GROUPS),
  /** It can be set only while each of these has one of these values. */
  needs: v.optional(v.array(v.object({ key: v.string(), values: v.array(SettingValue) })), []),
  /** What a double press goes back to. */
  usual: v.optional(v.nullable(SettingValue), null),
  /** The camera starts anew with it, so the operator is asked first. */
  restarts: v.optional(v.boolean(), false),
  /** False: the camera never tells it, so what is shown is what was set from here. */
  told: v.optional(v.boolean(), true),
}

export const SettingSpec = v.variant('kind', [
  v.object({ kind: v.literal('switch'), ...common }),
  v.object({
    kind: v.literal('range'),
    ...common,
    min: v.number(),
    max: v.number(),
    step: v.number(),
    unit: v.string(),
    /** What a value is in the trade's unit, where that does not follow by itself: `[value, amount]`, rising. */
    marks: v.optional(v.array(v.tuple([v.number(), v.number()])), []),
  }),
  v.object({
    kind: v.literal('choice'),
    ...common,
    options: v.array(v.object({ value: v.string(), label: v.string() })),
  }),
  /** Done once. */
  v.object({ kind: v.literal('act'), ...common }),
])
export type SettingSpec = v.InferOutput<typeof SettingSpec>

/** What is known of a camera's settings, by key. */
export const SettingValues = v.record(v.string(), SettingValue)
export type SettingValues = v.InferOutput<typeof SettingValues>

/** Why a value does not suit a setting, in a sentence; null if it does. */
export function unsuitable(spec: SettingSpec, value: SettingValue): string | null {
  if (spec.kind === 'switch')
    return typeof value === 'boolean' ? null : `${spec.label} is switched on or off.`
  if (spec.kind === 'act') return null
  if (spec.kind === 'choice')
    return spec.options.some((option) => option.value === value)
      ? null
      : `${spec.label} is one of: ${spec.options.map((option) => option.label).join(', ')}.`
  return typeof value === 'number' && value >= spec.min && value <= spec.max
    ? null
    : `${spec.label} lies between ${spec.min} and ${spec.max}${spec.unit && ` ${spec.unit}`}.`
}

/** Among the values, though no setting: its own menu is open in its picture. */
export const MENU = 'menu'
/** A switch of a camera that records by itself. */
export const RECORDING = 'recording'
/** Among the values, though no setting: when it was first seen to record, ms of the wall's clock. */
export const RECORDING_SINCE = 'recordingSince'
/** Choices among a camera's own files of settings: what it keeps there is what it is set to now. */
export const KEEP_FILE = 'keepFile'
export const BRING_FILE = 'bringFile'
/** It enlarges beyond the tele end, so the range of the zoom depends on it. */
export const DIGITAL_ZOOM = 'digitalZoom'

const WORD = { true: 'on', false: 'off' } as const

/** A value of it as the operator reads it, without its unit. */
function valueWord(spec: SettingSpec | undefined, value: SettingValue): string {
  if (typeof value === 'boolean') return WORD[`${value}`]
  const option = spec?.kind === 'choice' ? spec.options.find((o) => o.value === String(value)) : undefined
  return option?.label ?? String(value)
}

/**
 * Why it cannot be set now, as short as fits beside it; null if it can, or if that is not known.
 * @param specs all settings of the camera
 */
export function closedBy(
  spec: SettingSpec,
  specs: readonly SettingSpec[],
  values: SettingValues,
): string | null {
  for (const need of spec.needs) {
    const at = values[need.key]
    const other = specs.find(({ key }) => key === need.key)
    // A camera that does not tell the mode, or has none, decides for itself.
    if (at === undefined || !other || need.values.includes(at)) continue
    const offered = need.values.filter(
      (value) => other.kind !== 'choice' || other.options.some((o) => o.value === String(value)),
    )
    const words = offered.map((value) => valueWord(other, value)).join(' or ')
    return words ? `only with ${other.label} ${words}` : 'not in this mode'
  }
  return null
}
