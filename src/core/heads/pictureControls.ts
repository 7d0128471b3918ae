/**
 * The picture settings that VISCA heads have in common, as named controls. A profile says which of them its head
 * has, and what their steps are in the trade's units. Codes: the command books of such heads agree on these.
 */
import * as v from 'valibot'
import { NamedControl } from './namedControls'

type Written = v.InferInput<typeof NamedControl>

const EXPOSURE = { auto: 0x00, manual: 0x03, shutter: 0x0a, iris: 0x0b, bright: 0x0d } as const
const WHITE = { onePush: 3, manual: 5, kelvin: 0x20 } as const
const AUTOMATIC = [EXPOSURE.auto, EXPOSURE.shutter, EXPOSURE.iris]
const exposure = (...values: number[]) => [{ key: 'exposureMode', values }]
const white = (value: number) => [{ key: 'whiteBalance', values: [value] }]

/** Two nibbles behind two zeros. */
const LEVEL = '00 00 {value:n2}'
const level = (code: string, max = 255) =>
  ({
    command: `01 04 ${code} ${LEVEL}`,
    ask: `04 ${code}`,
    answer: LEVEL,
    min: 0,
    max,
    kind: 'range',
  }) as const
const onOff = (code: string) =>
  ({ on: `01 04 ${code} 02`, off: `01 04 ${code} 03`, ask: `04 ${code}`, kind: 'switch' }) as const
/** One byte for each value. */
const choice = (code: string, options: Record<number, string>) =>
  ({
    kind: 'choice',
    command: `01 04 ${code} {value:x2}`,
    ask: `04 ${code}`,
    answer: '{value:x2}',
    options: Object.entries(options).map(([value, label]) => ({ value: Number(value), label })),
  }) as const
const small = (code: string, max: number) =>
  ({
    kind: 'range',
    command: `01 04 ${code} {value:x2}`,
    ask: `04 ${code}`,
    answer: '{value:x2}',
    min: 0,
    max,
  }) as const

const WRITTEN: Written[] = [
  {
    ...choice('39', { 0: 'Auto', 10: 'Shutter', 11: 'Iris', 3: 'Manual', 13: 'Bright' }),
    ...{ key: 'exposureMode', label: 'Exposure', group: 'exposure', usual: 0 },
  },
  {
    ...level('4B', 17),
    ...{ key: 'iris', label: 'Iris', group: 'exposure', needs: exposure(EXPOSURE.manual, EXPOSURE.iris) },
  },
  {
    ...level('4A', 21),
    ...{
      key: 'shutter',
      label: 'Shutter',
      group: 'exposure',
      needs: exposure(EXPOSURE.manual, EXPOSURE.shutter),
    },
  },
  {
    ...level('4C', 15),
    ...{ key: 'gain', label: 'Gain', group: 'exposure', needs: exposure(EXPOSURE.manual), usual: 0 },
  },
  {
    ...level('4D', 31),
    ...{ key: 'bright', label: 'Bright', group: 'exposure', needs: exposure(EXPOSURE.bright) },
  },
  {
    ...onOff('3E'),
    ...{
      key: 'compensationOn',
      label: 'Compensation',
      group: 'exposure',
      needs: exposure(...AUTOMATIC),
      usual: 0,
    },
  },
  {
    ...level('4E', 14),
    ...{ key: 'compensation', label: 'Compensation by', group: 'exposure', usual: 7 },
    needs: [{ key: 'compensationOn', values: [1] }, ...exposure(...AUTOMATIC)],
  },
  {
    ...onOff('33'),
    ...{ key: 'backlight', label: 'Backlight', group: 'exposure', needs: exposure(...AUTOMATIC), usual: 0 },
  },
  { ...onOff('3D'), key: 'wideRange', label: 'Wide dynamic range', group: 'exposure', usual: 0 },
  {
    ...small('2C', 15),
    ...{ key: 'gainLimit', label: 'Gain limit', group: 'exposure', needs: exposure(...AUTOMATIC) },
  },
  {
    ...onOff('5A'),
    ...{
      key: 'slowShutter',
      label: 'Slow shutter',
      group: 'exposure',
      needs: exposure(...AUTOMATIC),
      usual: 0,
    },
  },
  {
    ...choice('35', { 0: 'Auto', 1: 'Indoor', 2: 'Outdoor', 3: 'One push', 32: 'Kelvin', 5: 'Manual' }),
    ...{ key: 'whiteBalance', label: 'White balance', group: 'whiteBalance', usual: 0 },
  },
  {
    kind: 'act',
    ...{ key: 'measureWhite', label: 'Measure white', group: 'whiteBalance', command: '01 04 10 05' },
    needs: white(WHITE.onePush),
  },
  {
    kind: 'range',
    ...{ key: 'kelvin', label: 'Colour temperature', group: 'whiteBalance', needs: white(WHITE.kelvin) },
    ...{ command: '01 04 20 {value:n2}', ask: '04 20', answer: '{value:n2}', min: 0, max: 55 },
  },
  {
    ...level('43'),
    ...{ key: 'redGain', label: 'Red gain', group: 'whiteBalance', needs: white(WHITE.manual), usual: 128 },
  },
  {
    ...level('44'),
    ...{ key: 'blueGain', label: 'Blue gain', group: 'whiteBalance', needs: white(WHITE.manual), usual: 128 },
  },
  { ...level('42', 14), key: 'sharpness', label: 'Sharpness', group: 'detail', usual: 7 },
  { ...small('53', 5), key: 'noiseReduction', label: 'Noise reduction', group: 'detail', usual: 3 },
  { ...level('49', 14), key: 'saturation', label: 'Saturation', group: 'image', usual: 7 },
  { ...level('4F', 14), key: 'hue', label: 'Hue', group: 'image', usual: 7 },
  { ...small('5B', 4), key: 'gamma', label: 'Gamma', group: 'image', usual: 0 },
  { ...level('A1', 14), key: 'brightness', label: 'Brightness', group: 'image', usual: 7 },
  { ...level('A2', 14), key: 'contrast', label: 'Contrast', group: 'image', usual: 7 },
  { ...onOff('61'), key: 'mirror', label: 'Mirror', group: 'image', usual: 0 },
  { ...onOff('66'), key: 'flip', label: 'Flip', group: 'image', usual: 0 },
  {
    ...choice('58', { 2: 'Normal', 3: 'Low' }),
    ...{ key: 'focusSensitivity', label: 'Autofocus', group: 'lens', usual: 2 },
  },
  {
    ...choice('57', { 0: 'Always', 1: 'At intervals', 2: 'After a zoom' }),
    ...{ key: 'focusWhen', label: 'Autofocus runs', group: 'lens', usual: 0 },
  },
  {
    kind: 'range',
    ...{ key: 'nearLimit', label: 'Nearest focus', group: 'lens' },
    ...{ command: '01 04 28 {value:n4}', ask: '04 28', answer: '{value:n4}', min: 0x1000, max: 0xc000 },
  },
]

const STANDARD: ReadonlyMap<string, NamedControl> = new Map(
  WRITTEN.map((written) => [written.key, v.parse(NamedControl, written)]),
)
export const PICTURE_KEYS = [...STANDARD.keys()]

const Whole = v.pipe(v.number(), v.integer())

/** One of them as this head has it; what is left out is as usual. */
export const PictureUse = v.object({
  key: v.picklist(PICTURE_KEYS),
  min: v.optional(Whole),
  max: v.optional(Whole),
  usual: v.optional(Whole),
  unit: v.optional(v.pipe(v.string(), v.maxLength(8))),
  /** What its values are in that unit: `[value, amount]`, rising by value. */
  marks: v.optional(v.pipe(v.array(v.tuple([Whole, v.pipe(v.number(), v.finite())])), v.maxLength(256))),
  /** Of a choice: the values that it has. */
  values: v.optional(v.pipe(v.array(Whole), v.minLength(2), v.maxLength(16))),
})
export type PictureUse = v.InferOutput<typeof PictureUse>

/** What a head is asked for about which nothing is said: it is offered only where the head answers. */
export const USUAL_PICTURE: readonly PictureUse[] = PICTURE_KEYS.map((key) => ({ key }))

function asUsed({ key, values, ...use }: PictureUse): NamedControl {
  const control = STANDARD.get(key)!
  if (control.kind === 'range') return { ...control, ...use }
  const usual = use.usual ?? control.usual
  if (control.kind === 'choice')
    return { ...control, usual, options: control.options.filter((o) => !values || values.includes(o.value)) }
  return { ...control, usual }
}

const known = new WeakMap<object, readonly NamedControl[]>()

/** All that a head can be told by name: its own, and those of the standard that are not among them. */
export function controlsOf(profile: {
  controls: readonly NamedControl[]
  picture?: readonly PictureUse[] | undefined
}): readonly NamedControl[] {
  const before = known.get(profile)
  if (before) return before
  const own = new Set(profile.controls.map(({ key }) => key))
  const uses = (profile.picture ?? USUAL_PICTURE).filter(({ key }) => !own.has(key))
  const all = [...profile.controls, ...uses.map(asUsed)]
  known.set(profile, all)
  return all
}
