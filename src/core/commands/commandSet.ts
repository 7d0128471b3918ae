/**
 * A command set: an open JSON file in which a user describes a camera that takes plain HTTP, TCP or UDP
 * commands. One request for each thing that the camera can do, with placeholders for values; ranges say
 * what units those are in. Docs: docs/command-sets.md.
 */
import * as v from 'valibot'
import { SETTING_GROUPS, SettingValue } from '../picture/settings'
import { placeholders } from './template'

export const COMMAND_SET_FORMAT = 'steady-heron/command-set'

/** What may stand in each request. */
const ALLOWED: Record<string, readonly string[]> = {
  drive: ['panSpeed', 'tiltSpeed', 'panStep', 'tiltStep', 'panWord', 'tiltWord'],
  zoom: ['zoomSpeed', 'zoomStep', 'zoomWord'],
  focus: ['focusSpeed', 'focusStep', 'focusWord'],
  goTo: ['pan', 'tilt'],
  zoomTo: ['zoom'],
  focusTo: ['focus'],
  home: [],
  powerOn: [],
  standby: [],
  autoFocusOn: [],
  autoFocusOff: [],
  memorySet: ['number'],
  memoryRecall: ['number'],
}
/** What may be read out of each answer. */
const READABLE = ['pan', 'tilt', 'zoom', 'focus', 'power', 'autoFocus']

/** @param allowed null: whatever is well formed */
const fits = (allowed: readonly string[] | null) => (text: string) => {
  try {
    return placeholders(text).every((name) => allowed === null || allowed.includes(name))
  } catch {
    return false
  }
}

// No line break may come into an HTTP head; everything printable is data.
const Path = v.pipe(
  v.string(),
  v.maxLength(500),
  v.regex(/^\/[\x21-\x7e]*$/, 'A path begins with / and has no blanks.'),
)
const Text = v.pipe(v.string(), v.maxLength(1000))

const Request = v.pipe(
  v.object({
    /** HTTP only. */
    method: v.optional(v.picklist(['GET', 'POST', 'PUT']), 'GET'),
    path: v.optional(Path),
    contentType: v.optional(v.pipe(v.string(), v.regex(/^[\w/+.;= -]{1,80}$/))),
    /** TCP and UDP: what is sent. HTTP: the body of a POST or PUT. */
    text: v.optional(Text),
  }),
  v.check((r) => r.path !== undefined || r.text !== undefined, 'A request needs a path or a text.'),
)
export type CommandRequest = v.InferOutput<typeof Request>

const requestFor = (name: string) =>
  v.pipe(
    Request,
    v.check(
      (r) => fits(ALLOWED[name]!)(r.path ?? '') && fits(ALLOWED[name]!)(r.text ?? ''),
      `Only these may stand in "${name}": ${ALLOWED[name]!.map((p) => `{${p}}`).join(' ') || 'no placeholder'}.`,
    ),
  )

const ReadRequest = v.pipe(
  v.object({
    ...Request.entries,
    /** Where the values stand in the answer. */
    answer: v.pipe(Text, v.minLength(1), v.check(fits(null), 'A placeholder in an answer is not closed.')),
  }),
  v.check((r) => fits([])(r.path ?? '') && fits([])(r.text ?? ''), 'A question has no placeholders.'),
)
export type ReadRequest = v.InferOutput<typeof ReadRequest>

const Num = v.pipe(v.number(), v.finite())
/** The camera's units at both ends of an angle. */
const AngleRange = v.pipe(
  v.object({ fromDeg: Num, toDeg: Num, from: Num, to: Num }),
  v.check((r) => r.from !== r.to && r.fromDeg !== r.toDeg, 'A range has two different ends.'),
)
/** The camera's units at the wide and the tele end, or at the far and the near end. */
const LensRange = v.pipe(
  v.object({ from: Num, to: Num }),
  v.check((r) => r.from !== r.to, 'A range has two different ends.'),
)
/** Full speed in the negative direction, stop, full speed in the positive one. */
const Speed = v.pipe(
  v.object({ negative: Num, still: Num, positive: Num }),
  v.check(
    (s) => s.negative !== s.still && s.positive !== s.still,
    'A speed range has three different values.',
  ),
)
const Word = v.pipe(v.string(), v.maxLength(40), v.regex(/^[\x21-\x7e]*$/))
const DirectionWords = v.object({ negative: Word, still: Word, positive: Word })
/** How the camera names on and off in its answers. */
const Switch = v.object({ on: Word, off: Word })

const Value = v.pipe(v.string(), v.minLength(1), v.maxLength(40), v.regex(/^[\w.-]+$/))
const settingEntries = {
  key: v.pipe(v.string(), v.regex(/^[a-z][A-Za-z0-9]{0,39}$/)),
  label: v.pipe(v.string(), v.minLength(1), v.maxLength(40)),
  group: v.picklist(SETTING_GROUPS),
  /** `{value}` is the number, or the word of what is chosen. */
  set: v.pipe(
    Request,
    v.check(
      (r) => fits(['value'])(r.path ?? '') && fits(['value'])(r.text ?? ''),
      'Only {value} may stand here.',
    ),
  ),
  /** How the device names it in the answers to `reads`; without it the desk knows only what it has set. */
  read: v.optional(v.pipe(v.string(), v.regex(/^[a-zA-Z]{1,20}$/))),
  /** Taken only while another has one of these values. */
  needs: v.optional(
    v.pipe(v.array(v.object({ key: v.string(), values: v.array(SettingValue) })), v.maxLength(4)),
    [],
  ),
  usual: v.optional(v.nullable(SettingValue), null),
  restarts: v.optional(v.boolean(), false),
}
export const CommandSetting = v.variant('kind', [
  v.object({
    kind: v.literal('switch'),
    ...settingEntries,
    on: v.optional(Value, 'on'),
    off: v.optional(Value, 'off'),
  }),
  v.object({
    kind: v.literal('choice'),
    ...settingEntries,
    options: v.pipe(v.array(v.object({ value: Value, label: v.string() })), v.minLength(2), v.maxLength(40)),
  }),
  v.object({
    kind: v.literal('range'),
    ...settingEntries,
    min: Num,
    max: Num,
    step: v.optional(v.pipe(Num, v.gtValue(0)), 1),
    unit: v.optional(v.string(), ''),
    marks: v.optional(v.pipe(v.array(v.tuple([Num, Num])), v.maxLength(256)), []),
  }),
  v.object({ kind: v.literal('act'), ...settingEntries }),
])
export type CommandSetting = v.InferOutput<typeof CommandSetting>

const optional = <T extends v.GenericSchema>(schema: T) => v.optional(schema)

export const CommandSet = v.pipe(
  v.object({
    format: v.literal(COMMAND_SET_FORMAT, 'This file is no command set.'),
    version: v.literal(1, 'This command set is of a newer version than this program knows.'),
    id: v.pipe(v.string(), v.regex(/^[a-z0-9-]{1,64}$/, 'An id has small letters, digits and dashes.')),
    name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60)),
    transport: v.picklist(['http', 'tcp', 'udp']),
    login: v.optional(v.picklist(['none', 'basic', 'digest']), 'none'),
    port: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(65535)),
    /** What ends an answer over TCP. */
    answerEnds: v.optional(v.pipe(v.string(), v.minLength(1), v.maxLength(8)), '\n'),
    actions: v.object({
      drive: optional(requestFor('drive')),
      zoom: optional(requestFor('zoom')),
      focus: optional(requestFor('focus')),
      goTo: optional(requestFor('goTo')),
      zoomTo: optional(requestFor('zoomTo')),
      focusTo: optional(requestFor('focusTo')),
      home: optional(requestFor('home')),
      powerOn: optional(requestFor('powerOn')),
      standby: optional(requestFor('standby')),
      autoFocusOn: optional(requestFor('autoFocusOn')),
      autoFocusOff: optional(requestFor('autoFocusOff')),
      memorySet: optional(requestFor('memorySet')),
      memoryRecall: optional(requestFor('memoryRecall')),
    }),
    /** How many memories of its own it has, numbered from 1. */
    memories: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(128)), 0),
    /** Settings of its picture: what sets each, and where its answers tell it. */
    settings: v.optional(v.pipe(v.array(CommandSetting), v.maxLength(40)), []),
    /** Asked in turn, again and again. */
    reads: v.optional(v.pipe(v.array(ReadRequest), v.maxLength(6)), []),
    ranges: v.optional(
      v.object({
        pan: optional(AngleRange),
        tilt: optional(AngleRange),
        zoom: optional(LensRange),
        focus: optional(LensRange),
      }),
      {},
    ),
    speeds: v.optional(
      v.object({
        pan: optional(Speed),
        tilt: optional(Speed),
        zoom: optional(Speed),
        focus: optional(Speed),
      }),
      {},
    ),
    words: v.optional(
      v.object({
        pan: optional(DirectionWords),
        tilt: optional(DirectionWords),
        zoom: optional(DirectionWords),
        focus: optional(DirectionWords),
        power: optional(Switch),
        autoFocus: optional(Switch),
      }),
      {},
    ),
  }),
  v.check(
    (set) =>
      Object.values(set.actions).every((r) => !r || (set.transport === 'http') === (r.path !== undefined)),
    'With HTTP each action has a path, with TCP and UDP a text.',
  ),
  v.check(
    (set) => !set.actions.goTo || (!!set.ranges.pan && !!set.ranges.tilt),
    'The action "goTo" needs the ranges of pan and tilt.',
  ),
  v.check((set) => !set.actions.zoomTo || !!set.ranges.zoom, 'The action "zoomTo" needs the range of zoom.'),
  v.check(
    (set) => {
      const readable = [...READABLE, ...set.settings.map(({ read }) => read)]
      return set.reads.every(({ answer }) => placeholders(answer).every((name) => readable.includes(name)))
    },
    `Only these can be read: ${READABLE.map((p) => `{${p}}`).join(' ')}, and what a setting names.`,
  ),
  v.check((set) => Object.keys(set.actions).length > 0, 'A command set has at least one action.'),
)
export type CommandSet = v.InferOutput<typeof CommandSet>
export type ActionName = keyof CommandSet['actions']
