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

const common = {
  key: v.string(),
  label: v.string(),
  group: v.picklist(['lens', 'exposure', 'whiteBalance', 'detail', 'image']),
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
  }),
  v.object({
    kind: v.literal('choice'),
    ...common,
    options: v.array(v.object({ value: v.string(), label: v.string() })),
  }),
])
export type SettingSpec = v.InferOutput<typeof SettingSpec>

/** What is known of a camera's settings, by key. */
export const SettingValues = v.record(v.string(), SettingValue)
export type SettingValues = v.InferOutput<typeof SettingValues>

/** Why a value does not suit a setting, in a sentence; null if it does. */
export function unsuitable(spec: SettingSpec, value: SettingValue): string | null {
  if (spec.kind === 'switch')
    return typeof value === 'boolean' ? null : `${spec.label} is switched on or off.`
  if (spec.kind === 'choice')
    return spec.options.some((option) => option.value === value)
      ? null
      : `${spec.label} is one of: ${spec.options.map((option) => option.label).join(', ')}.`
  return typeof value === 'number' && value >= spec.min && value <= spec.max
    ? null
    : `${spec.label} lies between ${spec.min} and ${spec.max}${spec.unit && ` ${spec.unit}`}.`
}

/** It enlarges beyond the tele end, so the range of the zoom depends on it. */
export const DIGITAL_ZOOM = 'digitalZoom'
