/**
 * A look: a saved set of picture settings, of one camera or of several. Each setting is kept with its unit or its
 * word, so that a camera with other steps can be brought to the same.
 */
import * as v from 'valibot'
import { carried } from './along'
import {
  BRING_FILE,
  KEEP_FILE,
  type SettingGroup,
  SettingSpec,
  SettingValue,
  type SettingValues,
} from './settings'
import { amountOf, stepAt, valueText } from './units'

const Uuid = v.pipe(v.string(), v.uuid())

export const LookSetting = v.object({ spec: SettingSpec, value: SettingValue })
export type LookSetting = v.InferOutput<typeof LookSetting>

export const LookCamera = v.object({
  camera: Uuid,
  settings: v.pipe(v.array(LookSetting), v.maxLength(80)),
  /** The camera's own file in which it was kept too. */
  file: v.optional(v.pipe(v.string(), v.maxLength(40))),
})
export type LookCamera = v.InferOutput<typeof LookCamera>

/** A small JPEG as a data address. */
const Small = v.pipe(v.string(), v.regex(/^data:image\/jpeg;base64,[A-Za-z0-9+/=]+$/), v.maxLength(24_000))

export const Look = v.object({
  name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60)),
  picture: v.optional(v.nullable(Small), null),
  /** What can be stepped is faded over so long when it is recalled; 0: at once. */
  fadeSeconds: v.optional(v.pipe(v.number(), v.minValue(0), v.maxValue(60)), 0),
  cameras: v.pipe(v.array(LookCamera), v.minLength(1), v.maxLength(64)),
})
export type Look = v.InferOutput<typeof Look>

/** Of these groups the focus and what the camera does with it is no part of how a picture looks. */
const KEPT: readonly SettingGroup[] = ['exposure', 'whiteBalance', 'detail', 'image']
const LEFT_OUT = ['recording', 'mirror', 'flip', 'freeze', KEEP_FILE, BRING_FILE]

const isMode = (key: string, specs: readonly SettingSpec[]) =>
  specs.some((other) => other.needs.some((need) => need.key === key))

/** Of the scale and the options only what this value needs: a look is read by every page. */
function asKept(spec: SettingSpec, value: SettingValue): SettingSpec {
  const plain = { ...spec, needs: [], usual: null }
  if (plain.kind === 'choice') return { ...plain, options: plain.options.filter((o) => o.value === value) }
  if (plain.kind !== 'range' || typeof value !== 'number' || plain.marks.length === 0) return plain
  return { ...plain, marks: [[value, amountOf(plain, value)]] }
}

/** What a camera is set to now, as a look keeps it: what its modes set by themselves is left out. */
export function settingsNow(specs: readonly SettingSpec[], values: SettingValues): LookSetting[] {
  return specs.flatMap((spec) => {
    const value = values[spec.key]
    if (value === undefined || spec.kind === 'act' || spec.restarts) return []
    if (!KEPT.includes(spec.group) || LEFT_OUT.includes(spec.key)) return []
    const byHand = spec.needs.every((need) => {
      const at = values[need.key]
      return at === undefined || need.values.includes(at)
    })
    return byHand ? [{ spec: asKept(spec, value), value }] : []
  })
}

export interface Change {
  key: string
  label: string
  group: SettingGroup
  from: SettingValue | null
  to: SettingValue
  /** As the operator reads them. */
  fromText: string
  toText: string
  /** It cannot be faded: the audience would see it jump. */
  jumps: boolean
}

export interface LookPlan {
  /** In the order in which they are set: a mode before its levels. */
  changes: Change[]
  /** Settings that this camera has nothing like, by their labels. */
  missing: string[]
}

function textOf(spec: SettingSpec, value: SettingValue | null): string {
  if (value === null) return 'not told'
  if (spec.kind === 'range') return typeof value === 'number' ? valueText(spec, value) : String(value)
  if (spec.kind === 'choice') return spec.options.find((o) => o.value === value)?.label ?? String(value)
  return value === true ? 'on' : 'off'
}

/**
 * What a recall would change at a camera.
 * @param kept what the look keeps of this camera, or of another that it is copied from
 * @param groups null: all
 */
export function planLook(
  kept: readonly LookSetting[],
  specs: readonly SettingSpec[],
  values: SettingValues,
  groups: readonly SettingGroup[] | null = null,
): LookPlan {
  const plan: LookPlan = { changes: [], missing: [] }
  for (const { spec, value } of kept) {
    if (groups && !groups.includes(spec.group)) continue
    const own = specs.find(({ key }) => key === spec.key)
    const to = own ? carried(spec, value, own) : null
    if (!own || to === null) {
      plan.missing.push(spec.label)
      continue
    }
    const from = values[own.key] ?? null
    if (from === to) continue
    plan.changes.push({
      ...{ key: own.key, label: own.label, group: own.group, from, to },
      ...{ fromText: textOf(own, from), toText: textOf(own, to) },
      jumps: own.kind !== 'range' || from === null,
    })
  }
  const first = (change: Change) => (isMode(change.key, specs) ? 0 : 1)
  plan.changes.sort((a, b) => first(a) - first(b))
  return plan
}

/**
 * Where a fade of a range stands: a whole step of the setting.
 * @param share 0 at its beginning, 1 at its end
 */
export function fadedValue(spec: SettingSpec, from: number, to: number, share: number): number {
  if (spec.kind !== 'range' || share >= 1) return to
  const [a, b] = [stepAt(spec, from), stepAt(spec, to)]
  const at = a + (b - a) * Math.max(0, share)
  if (spec.step > 0) return Number((spec.min + Math.round(at) * spec.step).toFixed(6))
  return spec.marks[Math.round(at)]?.[0] ?? to
}

/** One row a setting of a camera, for a list in other programs. */
export function looksCsvRows(
  looks: readonly (Look & { id: string })[],
  nameOf: (camera: string) => string,
): string[][] {
  const head = ['look', 'camera', 'group', 'setting', 'value', 'amount', 'unit']
  const rows = looks.flatMap((look) =>
    look.cameras.flatMap(({ camera, settings }) =>
      settings.map(({ spec, value }) => [
        look.name,
        nameOf(camera),
        spec.group,
        spec.label,
        textOf(spec, value),
        spec.kind === 'range' && typeof value === 'number' ? String(amountOf(spec, value)) : '',
        spec.kind === 'range' ? spec.unit : '',
      ]),
    ),
  )
  return [head, ...rows]
}
