/**
 * What a head can do beyond the standard, as data: a name, the bytes that set it, and those that ask for it. Hex
 * bytes stand between the header and the terminator of a VISCA packet; `{value:x2}` is one byte, `{value:n2}`
 * a nibble in each of two.
 */
import * as v from 'valibot'
import { fillTemplate, placeholders, readTemplate } from '../commands/template'
import type { SettingSpec, SettingValue } from '../picture/settings'

const PART = String.raw`[0-9A-F]{2}|\{[a-z]+:[xn]\d\}`
/** Hex bytes with placeholders of these names alone: nothing else can be filled in, or fail to be. */
export function hex(allowed: readonly string[]) {
  const pattern = new RegExp(`^(${PART})( (${PART}))*$`)
  return v.pipe(
    v.string(),
    v.maxLength(80),
    v.regex(pattern, 'Hex bytes such as 01 04 06 02, with {value:x2} where one stands.'),
    // Only one that is well formed can be taken apart.
    v.check(
      (text) => pattern.test(text) && placeholders(text).every((name) => allowed.includes(name)),
      'A placeholder here is unknown.',
    ),
  )
}

const common = {
  /** What the desk knows it by: `digitalZoom`, `freeze`, `subject`, `focusAt` have a meaning. */
  key: v.pipe(v.string(), v.regex(/^[a-z][A-Za-z0-9]{0,39}$/)),
  label: v.pipe(v.string(), v.minLength(1), v.maxLength(40)),
  group: v.picklist(['lens', 'exposure', 'whiteBalance', 'detail', 'image']),
  /** It stands among the settings of the camera. */
  shown: v.optional(v.boolean(), true),
  /** How it is asked. */
  ask: v.optional(hex([])),
  /** How the answer reads, between its first two bytes and the terminator. */
  answer: v.optional(hex(['value'])),
  /** It is taken only while another has one of these values; a switch counts as 1 or 0. */
  needs: v.optional(
    v.pipe(v.array(v.object({ key: v.string(), values: v.array(v.number()) })), v.maxLength(4)),
    [],
  ),
  /** The value that it leaves the factory with. */
  usual: v.optional(v.nullable(v.number()), null),
  /** The camera starts anew when it is changed. */
  restarts: v.optional(v.boolean(), false),
}
const Whole = v.pipe(v.number(), v.integer())

export const NamedControl = v.variant('kind', [
  v.object({ kind: v.literal('switch'), ...common, on: hex([]), off: hex([]) }),
  v.object({
    kind: v.literal('choice'),
    ...common,
    command: hex(['value']),
    options: v.pipe(v.array(v.object({ value: Whole, label: v.string() })), v.minLength(2), v.maxLength(40)),
  }),
  v.pipe(
    v.object({
      kind: v.literal('range'),
      ...common,
      command: hex(['value']),
      min: Whole,
      max: Whole,
      unit: v.optional(v.string(), ''),
      /** What its values are in that unit: `[value, amount]`, rising by value. */
      marks: v.optional(
        v.pipe(v.array(v.tuple([Whole, v.pipe(v.number(), v.finite())])), v.maxLength(256)),
        [],
      ),
    }),
    v.check((control) => control.min < control.max, 'The smallest value must lie below the largest.'),
  ),
  /** Done once; x and y are percent of the picture, from the left and from the top. */
  v.object({ kind: v.literal('act'), ...common, command: hex(['x', 'y']) }),
])
export type NamedControl = v.InferOutput<typeof NamedControl>

type Values = Readonly<Record<string, number>>

/** @returns the bytes between header and terminator */
export function templateBytes(template: string, values: Values = {}): number[] {
  return fillTemplate(template, values)
    .split(' ')
    .map((byte) => Number.parseInt(byte, 16))
}

export const controlOf = <K extends NamedControl['kind']>(
  controls: readonly NamedControl[],
  key: string,
  kind: K,
): (NamedControl & { kind: K }) | null =>
  (controls.find((c) => c.key === key && c.kind === kind) as (NamedControl & { kind: K }) | undefined) ?? null

/** A number of the wire as the desk has it. */
const asValue = (control: NamedControl | undefined, wire: number): SettingValue =>
  control?.kind === 'switch' ? wire !== 0 : control?.kind === 'choice' ? String(wire) : wire

/** As the desk draws it; null if it is no setting. @param all those of the head, which it may depend on */
export function settingOf(control: NamedControl, all: readonly NamedControl[]): SettingSpec | null {
  if (!control.shown) return null
  const { key, label, group, restarts } = control
  const needs = control.needs.map((need) => {
    const other = all.find((c) => c.key === need.key)
    return { key: need.key, values: need.values.map((wire) => asValue(other, wire)) }
  })
  const usual = control.usual === null ? null : asValue(control, control.usual)
  const shared = { key, label, group, needs, usual, restarts, told: control.ask !== undefined }
  if (control.kind === 'switch' || control.kind === 'act') return { kind: control.kind, ...shared }
  if (control.kind === 'range') {
    const { min, max, unit, marks } = control
    return { kind: 'range', ...shared, min, max, step: 1, unit, marks }
  }
  const options = control.options.map((option) => ({ value: String(option.value), label: option.label }))
  return { kind: 'choice', ...shared, options }
}

/** The bytes that set it. @param value one that suits its setting */
export function setBytes(control: NamedControl, value: SettingValue): number[] {
  if (control.kind === 'switch') return templateBytes(value === true ? control.on : control.off)
  if (control.kind === 'act') return templateBytes(control.command)
  return templateBytes(control.command, { value: Number(value) })
}

const hexText = (bytes: Iterable<number>) =>
  [...bytes].map((b) => b.toString(16).toUpperCase().padStart(2, '0')).join(' ')

function readBytes(template: string, bytes: readonly number[]): Values | null {
  const text = hexText(bytes)
  const read = readTemplate(template, text)
  if (!read) return null
  const values = Object.fromEntries(Object.entries(read).map(([name, value]) => [name, Number(value)]))
  // The whole of it, and nothing beside it.
  return fillTemplate(template, values) === text ? values : null
}

/** The value in an answer. @param bytes between its first two bytes and the terminator; null if they do not fit */
export function readControlAnswer(control: NamedControl, bytes: readonly number[]): SettingValue | null {
  if (control.kind === 'act') return null
  if (control.kind === 'switch' && !control.answer)
    return bytes.length !== 1 ? null : bytes[0] === 0x02 ? true : bytes[0] === 0x03 ? false : null
  const value = control.answer ? readBytes(control.answer, bytes)?.value : undefined
  if (value === undefined) return null
  if (control.kind === 'switch') return value !== 0
  return control.kind === 'choice' ? String(value) : value
}

export type ControlOrder = { key: string; value: boolean | number } | { key: string; x: number; y: number }

/** The camera's side: what a packet asks for by these; null if it is none of them. */
export function readControl(packet: Uint8Array, controls: readonly NamedControl[]): ControlOrder | null {
  const bytes = [...packet.subarray(1, -1)]
  for (const control of controls) {
    const { key } = control
    if (control.kind === 'switch') {
      if (readBytes(control.on, bytes)) return { key, value: true }
      if (readBytes(control.off, bytes)) return { key, value: false }
      continue
    }
    const values = readBytes(control.command, bytes)
    if (!values) continue
    return control.kind === 'act'
      ? { key, x: values.x ?? 0, y: values.y ?? 0 }
      : { key, value: values.value ?? 0 }
  }
  return null
}
