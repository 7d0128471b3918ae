/** Another device that is told things, as house lights, a mixer or a scoreboard, with its messages by name. */
import * as v from 'valibot'
import { lineProblem } from './line'

/** What may stand in a message. `secret`: the device's own, which never leaves the server. */
export const MESSAGE_VALUES = ['camera', 'preset', 'name', 'time', 'secret'] as const

export const DeviceMessage = v.object({
  id: v.pipe(v.string(), v.minLength(1), v.maxLength(40)),
  name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60)),
  line: v.pipe(
    v.string(),
    v.trim(),
    v.maxLength(4000),
    v.check(
      (text) => lineProblem(text, MESSAGE_VALUES) === null,
      (issue) => lineProblem(issue.input, MESSAGE_VALUES) ?? '',
    ),
  ),
  /** What its answer must hold; '' for any answer, or none. */
  expects: v.optional(v.pipe(v.string(), v.maxLength(200)), ''),
  withinMs: v.optional(v.pipe(v.number(), v.integer(), v.minValue(100), v.maxValue(10_000)), 1500),
  retries: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(5)), 0),
})
export type DeviceMessage = v.InferOutput<typeof DeviceMessage>

export const Device = v.object({
  name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60)),
  /** It may stand on this computer. */
  local: v.optional(v.boolean(), false),
  messages: v.pipe(
    v.array(DeviceMessage),
    v.maxLength(200),
    v.check((all) => new Set(all.map(({ id }) => id)).size === all.length, 'Two messages have the same id.'),
  ),
})
export type Device = v.InferOutput<typeof Device>

export const DeviceView = v.object({ id: v.string(), ...Device.entries, hasSecret: v.boolean() })
export type DeviceView = v.InferOutput<typeof DeviceView>

/** What came of the newest message. */
export const DeviceState = v.object({
  ok: v.boolean(),
  /** ms since 1970. */
  atMs: v.number(),
  message: v.string(),
  /** What it answered, or why it was not reached. */
  text: v.string(),
})
export type DeviceState = v.InferOutput<typeof DeviceState>

/** A secret as it may be shown. */
export const MASKED = '•••'
export const masked = (text: string, secret: string): string =>
  secret === '' ? text : text.split(secret).join(MASKED).split(encodeURIComponent(secret)).join(MASKED)
