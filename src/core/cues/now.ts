/** How the event's order stands now: told to every page as one fact, and kept for the next start. */
import * as v from 'valibot'

const Nullable = <S extends v.GenericSchema>(schema: S) => v.nullable(schema)

export const StepNow = v.object({
  id: v.string(),
  state: v.picklist(['waiting', 'running', 'done', 'failed', 'out', 'stopped']),
  /** Why it failed or was left out. */
  why: Nullable(v.string()),
  /** Done in another way than it was asked, as eased. */
  said: Nullable(v.string()),
})

export const RunNow = v.object({
  id: v.string(),
  cue: v.string(),
  name: v.string(),
  state: v.picklist(['running', 'ended', 'stopped']),
  /** How far it was into this round when this was told, ms. */
  intoMs: v.number(),
  /** When it was begun, ms since 1970. */
  startedAtMs: v.number(),
  /** Rounds that are through. */
  rounds: v.number(),
  /** Who or what started it. */
  by: v.string(),
  steps: v.array(StepNow),
  out: v.array(v.object({ camera: v.string(), why: v.string() })),
})
export type RunNow = v.InferOutput<typeof RunNow>

export const TourNow = v.object({
  tour: v.string(),
  name: v.string(),
  camera: v.string(),
  state: v.picklist(['moving', 'dwelling', 'waiting', 'paused', 'ended']),
  why: Nullable(v.string()),
  /** The preset at which it is or to which it goes. */
  preset: Nullable(v.string()),
})
export type TourNow = v.InferOutput<typeof TourNow>

export const ReplayNow = v.object({
  move: v.string(),
  name: v.string(),
  camera: v.string(),
  state: v.picklist(['approaching', 'playing']),
  intoMs: v.number(),
  round: v.number(),
})
export type ReplayNow = v.InferOutput<typeof ReplayNow>

export const RecordingNow = v.object({ camera: v.string(), intoMs: v.number(), points: v.number() })

export const ShowNow = v.object({
  /** The cue that Go starts; null: the first; 'end': the order is through. */
  position: Nullable(v.string()),
  held: v.boolean(),
  /** Those that run, and the newest that have ended. */
  runs: v.array(RunNow),
  tours: v.array(TourNow),
  replays: v.array(ReplayNow),
  recordings: v.array(RecordingNow),
  /** What a restart has ended: nothing goes on by itself. */
  interrupted: v.array(v.object({ cue: v.string(), name: v.string(), intoMs: v.number() })),
  /** The newest that was started, and when, ms since 1970. */
  last: Nullable(v.object({ cue: v.string(), atMs: v.number() })),
  /** The next start by the clock. */
  next: Nullable(v.object({ cue: v.string(), name: v.string(), atMs: v.number() })),
  /** Starts that were missed, newest first. */
  missed: v.array(v.object({ cue: v.string(), name: v.string(), atMs: v.number() })),
})
export type ShowNow = v.InferOutput<typeof ShowNow>

export const NOTHING_RUNS: ShowNow = {
  position: null,
  held: false,
  runs: [],
  tours: [],
  replays: [],
  recordings: [],
  interrupted: [],
  last: null,
  next: null,
  missed: [],
}

/** What a page that has lost its server may still say: where the order stood. */
export const showLost = (show: ShowNow | null): ShowNow | null =>
  show && {
    ...show,
    runs: show.runs.filter(({ state }) => state !== 'running'),
    tours: [],
    replays: [],
    recordings: [],
  }

/** What the next start of the server needs. */
export interface KeptShow {
  position: string | null
  held: boolean
  running: { cue: string; name: string; intoMs: number }[]
  last: { cue: string; atMs: number } | null
  /** Up to here the clock's starts were looked at, ms since 1970. */
  clockMs: number | null
}
