/**
 * What an event is run by, each kind once: cues, tours, recorded moves, clock starts, the buttons of the board, looks,
 * helpers' desks.
 * The database, the API, the pages and the venue file take them from this table.
 */
import * as v from 'valibot'
import { Look } from '../picture/looks'
import { Pace } from '../presets/pace'
import { TALLY_STATES } from '../tally/sources'

const Uuid = v.pipe(v.string(), v.uuid())
const Name = v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60))
const Notes = v.pipe(v.string(), v.maxLength(2000))
const Mark = v.pipe(v.string(), v.trim(), v.maxLength(12))
const whole = (least: number, most: number) =>
  v.pipe(v.number(), v.integer(), v.minValue(least), v.maxValue(most))
const seconds = (least: number, most: number) => v.pipe(v.number(), v.minValue(least), v.maxValue(most))
export const LONGEST_S = 4 * 3600

/** From the start of the cue, or from the end of another of its steps. */
export const StepStart = v.variant('kind', [
  v.object({ kind: v.literal('at'), seconds: seconds(0, LONGEST_S) }),
  v.object({
    kind: v.literal('after'),
    step: v.pipe(v.string(), v.maxLength(40)),
    seconds: seconds(0, LONGEST_S),
  }),
])
export type StepStart = v.InferOutput<typeof StepStart>

/** What a step does, each once: its words, and what it needs. */
export const STEP_KINDS = {
  recall: {
    label: 'Recall a preset',
    /** `together`: it arrives with the others that start with it. */
    entries: {
      preset: Uuid,
      pace: v.optional(v.nullable(Pace), null),
      together: v.optional(v.boolean(), false),
    },
  },
  replay: {
    label: 'Play a recorded move',
    entries: {
      move: Uuid,
      percent: v.optional(whole(25, 400), 100),
      backwards: v.optional(v.boolean(), false),
      /** 0: until it is stopped. */
      times: v.optional(whole(0, 999), 1),
    },
  },
  tour: { label: 'Start a tour', entries: { tour: Uuid } },
  arrive: {
    label: 'Wait for arrival',
    /** Of these cameras, or of all that the cue has moved; at most so long. */
    entries: { cameras: v.optional(v.array(Uuid), []), atMost: v.optional(seconds(1, 600), 60) },
  },
  wait: { label: 'Wait', entries: { seconds: seconds(0, LONGEST_S) } },
  message: {
    label: 'Send a message',
    entries: { device: Uuid, message: v.pipe(v.string(), v.maxLength(40)) },
  },
  switch: {
    label: 'Switcher',
    entries: { action: v.picklist(['cut', 'fade', 'preview']), camera: v.optional(v.nullable(Uuid), null) },
  },
  /** At its own cameras; `seconds` null: as the look has it. */
  look: {
    label: 'Recall a look',
    entries: { look: Uuid, seconds: v.optional(v.nullable(seconds(0, 60)), null) },
  },
  power: { label: 'Camera on or off', entries: { camera: Uuid, on: v.boolean() } },
  cue: { label: 'Start another cue', entries: { cue: Uuid } },
} as const
export type StepKind = keyof typeof STEP_KINDS

export const StepDoes = v.variant('t', [
  v.object({ t: v.literal('recall'), ...STEP_KINDS.recall.entries }),
  v.object({ t: v.literal('replay'), ...STEP_KINDS.replay.entries }),
  v.object({ t: v.literal('tour'), ...STEP_KINDS.tour.entries }),
  v.object({ t: v.literal('arrive'), ...STEP_KINDS.arrive.entries }),
  v.object({ t: v.literal('wait'), ...STEP_KINDS.wait.entries }),
  v.object({ t: v.literal('message'), ...STEP_KINDS.message.entries }),
  v.object({ t: v.literal('switch'), ...STEP_KINDS.switch.entries }),
  v.object({ t: v.literal('look'), ...STEP_KINDS.look.entries }),
  v.object({ t: v.literal('power'), ...STEP_KINDS.power.entries }),
  v.object({ t: v.literal('cue'), ...STEP_KINDS.cue.entries }),
])
export type StepDoes = v.InferOutput<typeof StepDoes>
export type StepOf<K extends StepKind> = StepDoes & { t: K }

export const Step = v.object({
  id: v.pipe(v.string(), v.minLength(1), v.maxLength(40)),
  start: StepStart,
  does: StepDoes,
})
export type Step = v.InferOutput<typeof Step>

/** The time of day, as `19:30`. */
export const TimeOfDay = v.pipe(v.string(), v.regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Write the time as 19:30.'))

const uniqueIds = (steps: readonly { id: string }[]) =>
  new Set(steps.map(({ id }) => id)).size === steps.length

export const Cue = v.object({
  name: Name,
  notes: v.optional(Notes, ''),
  /** It stands in the running order; else it is only started by others. */
  listed: v.optional(v.boolean(), true),
  /** When it is expected to begin; null: when it is its turn. */
  expected: v.optional(v.nullable(TimeOfDay), null),
  /** 0: until it is stopped. */
  times: v.optional(whole(0, 999), 1),
  /** It starts by itself when the tally of a camera becomes this. */
  onTally: v.optional(v.nullable(v.object({ camera: Uuid, state: v.picklist(TALLY_STATES) })), null),
  steps: v.pipe(
    v.array(Step),
    v.maxLength(500),
    v.check((steps) => uniqueIds(steps), 'Two steps have the same id.'),
  ),
})
export type Cue = v.InferOutput<typeof Cue>

export const Tour = v.object({
  name: Name,
  camera: Uuid,
  stops: v.pipe(
    v.array(v.object({ preset: Uuid, dwellSeconds: seconds(0, 3600), pace: Pace })),
    v.minLength(1, 'A tour needs a preset.'),
    v.maxLength(100),
  ),
  shuffled: v.optional(v.boolean(), false),
  /** 0: until it is stopped. */
  rounds: v.optional(whole(0, 999), 0),
  /** While its camera is on air it waits, or moves as gently as the guard has it. */
  onAir: v.optional(v.picklist(['wait', 'gentle']), 'wait'),
})
export type Tour = v.InferOutput<typeof Tour>

/** Where a camera stood at a time of a recorded move: seconds, degrees, lens units. */
export const MovePoint = v.object({
  s: v.number(),
  panDeg: v.number(),
  tiltDeg: v.number(),
  zoom: v.number(),
})
export type MovePoint = v.InferOutput<typeof MovePoint>

export const RecordedMove = v.object({
  name: Name,
  camera: Uuid,
  points: v.pipe(
    v.array(MovePoint),
    v.minLength(2),
    v.maxLength(2000),
    v.check((points) => points.every((p, i) => i === 0 || p.s > points[i - 1]!.s), 'Its times must rise.'),
  ),
  /** How far the kept path is from what was recorded, in picture widths: usual and worst. */
  off: v.nullable(v.object({ median: v.number(), most: v.number() })),
})
export type RecordedMove = v.InferOutput<typeof RecordedMove>

export const ClockStart = v.object({
  cue: Uuid,
  /** As `2026-11-28`; null: every day. */
  date: v.nullable(v.pipe(v.string(), v.isoDate())),
  time: TimeOfDay,
  enabled: v.optional(v.boolean(), true),
  /** What was missed, as the server was down or the order held, is still done. */
  late: v.optional(v.boolean(), false),
})
export type ClockStart = v.InferOutput<typeof ClockStart>

export const BoardButton = v.object({
  label: Name,
  mark: v.optional(Mark, ''),
  does: v.variant('t', [
    v.object({ t: v.literal('cue'), cue: Uuid }),
    v.object({ t: v.literal('tour'), tour: Uuid }),
    v.object({ t: v.literal('look'), look: Uuid }),
    v.object({ t: v.literal('replay'), move: Uuid }),
    v.object({ t: v.literal('message'), device: Uuid, message: v.pipe(v.string(), v.maxLength(40)) }),
  ]),
})
export type BoardButton = v.InferOutput<typeof BoardButton>

export const DESK_SIZES = ['large', 'middle'] as const

/** A page for one helper: what they may touch, and nothing else. */
export const HelperDesk = v.object({
  name: Name,
  presets: v.pipe(v.array(Uuid), v.maxLength(100)),
  cues: v.optional(v.pipe(v.array(Uuid), v.maxLength(50)), []),
  /** The camera that its pad drives; null: it has none. */
  pad: v.optional(v.nullable(Uuid), null),
  size: v.optional(v.picklist(DESK_SIZES), 'large'),
})
export type HelperDesk = v.InferOutput<typeof HelperDesk>

/** `path`: of the API; `what`: as in "This ... no longer exists". */
export const SHOW_PARTS = {
  cue: { path: 'cues', what: 'cue', schema: Cue },
  tour: { path: 'tours', what: 'tour', schema: Tour },
  move: { path: 'moves', what: 'recorded move', schema: RecordedMove },
  start: { path: 'starts', what: 'clock start', schema: ClockStart },
  button: { path: 'buttons', what: 'button', schema: BoardButton },
  look: { path: 'looks', what: 'look', schema: Look },
  desk: { path: 'desks', what: 'helper’s desk', schema: HelperDesk },
} as const
export type PartKind = keyof typeof SHOW_PARTS
export const PART_KINDS = Object.keys(SHOW_PARTS) as PartKind[]
export type PartData<K extends PartKind> = v.InferOutput<(typeof SHOW_PARTS)[K]['schema']>

const kept = { id: v.string(), order: v.number(), version: v.number() }
/** As it is kept: `version` rises with each change, `order` is its place. */
export type Part<K extends PartKind> = PartData<K> & { id: string; order: number; version: number }
export type CueView = Part<'cue'>

export const Show = v.object({
  cues: v.array(v.object({ ...kept, ...Cue.entries })),
  tours: v.array(v.object({ ...kept, ...Tour.entries })),
  moves: v.array(v.object({ ...kept, ...RecordedMove.entries })),
  starts: v.array(v.object({ ...kept, ...ClockStart.entries })),
  buttons: v.array(v.object({ ...kept, ...BoardButton.entries })),
  looks: v.array(v.object({ ...kept, ...Look.entries })),
  desks: v.array(v.object({ ...kept, ...HelperDesk.entries })),
})
export type Show = v.InferOutput<typeof Show>
export const NO_SHOW: Show = { cues: [], tours: [], moves: [], starts: [], buttons: [], looks: [], desks: [] }
