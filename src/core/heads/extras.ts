/**
 * What some heads can do beyond the standard, by commands of their own: data in the head profile, as hex
 * bytes between the header and the terminator of a VISCA packet, with placeholders where a value stands.
 */
import * as v from 'valibot'
import { fillTemplate, placeholders, readTemplate } from '../commands/template'

const hex = (allowed: readonly string[]) =>
  v.pipe(
    v.string(),
    v.maxLength(60),
    v.regex(/^([0-9A-F]{2}|\{[a-z]+:x2\})( ([0-9A-F]{2}|\{[a-z]+:x2\}))*$/),
    v.check((text) => placeholders(text).every((name) => allowed.includes(name))),
  )
const Levels = v.pipe(v.number(), v.integer(), v.minValue(2), v.maxValue(9))

export const HeadExtras = v.object({
  /** Keeps a subject in the picture by itself. */
  subject: v.optional(
    v.object({
      on: hex([]),
      off: hex([]),
      /** Levels count from 1: from calm to quick, and from wide to close. */
      sensitivity: v.object({ levels: Levels, command: hex(['level']) }),
      size: v.object({ levels: Levels, command: hex(['level']) }),
    }),
  ),
  /** Focuses on a place of the picture: percent from the left and from the top. */
  focusAt: v.optional(hex(['x', 'y'])),
})
export type HeadExtras = v.InferOutput<typeof HeadExtras>

/** @returns the bytes between header and terminator */
export function extraBytes(template: string, values: Readonly<Record<string, number>>): number[] {
  return fillTemplate(template, values)
    .split(' ')
    .map((byte) => Number.parseInt(byte, 16))
}

export type ExtraOrder =
  | { kind: 'subject'; on: boolean }
  | { kind: 'sensitivity' | 'size'; level: number }
  | { kind: 'focusAt'; x: number; y: number }

/** The camera's side: what a packet asks for by these; null if it is none of them. */
export function readExtra(packet: Uint8Array, extras: HeadExtras | undefined): ExtraOrder | null {
  const text = [...packet.subarray(1, -1)].map((b) => b.toString(16).toUpperCase().padStart(2, '0')).join(' ')
  const whole = (template: string | undefined) => {
    if (!template || template.split(' ').length !== packet.length - 2) return null
    const read = readTemplate(template, text)
    return read && Object.fromEntries(Object.entries(read).map(([name, value]) => [name, Number(value)]))
  }
  const { subject, focusAt } = extras ?? {}
  if (whole(subject?.on)) return { kind: 'subject', on: true }
  if (whole(subject?.off)) return { kind: 'subject', on: false }
  for (const kind of ['sensitivity', 'size'] as const) {
    const values = whole(subject?.[kind].command)
    if (values) return { kind, level: values.level! }
  }
  const at = whole(focusAt)
  return at ? { kind: 'focusAt', x: at.x!, y: at.y! } : null
}
