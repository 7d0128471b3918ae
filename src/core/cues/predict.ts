/**
 * A cue as it is expected to run: when each of its steps begins and ends, which camera is on air meanwhile, and where
 * the cameras stand afterwards. From the same planner as the moves themselves.
 */
import { pathHill, placeAt, recallLength, USUAL_PACE } from './lengths'
import type { Cue, Step } from './show'
import { type CueCamera, type CueWorld, type Place, placeOf } from './world'

/** What is known when a cue begins. */
export interface CueState {
  places: ReadonlyMap<string, Place>
  program: string | null
  preview: string | null
}

export interface PredictedStep {
  step: Step
  /** Ids of the steps of cues within cues, outermost first; its own last. */
  path: readonly string[]
  camera: string | null
  startS: number
  endS: number
  /** It goes on after that, until it is stopped. */
  endless: boolean
  /** Of a move: its speed over the screen at even steps of its time. */
  hill: readonly number[]
  /** Of a move that was asked to take a given time, s; null: as quick as can be. */
  asked: number | null
  leastSeconds: number
  longestSmooth: number | null
  /** It takes this long so that it arrives with others, s; null: for itself. */
  together: number | null
  /** Why it cannot be done, in a sentence. */
  problem: string | null
}

export interface AirSpan {
  camera: string
  fromS: number
  /** Null: to the end, and beyond. */
  toS: number | null
}

export interface Prediction {
  steps: readonly PredictedStep[]
  /** Of one round, s. */
  seconds: number
  air: readonly AirSpan[]
  after: CueState
}

const DEEPEST = 5
const USUAL_FADE_S = 1
const LEAST_TOGETHER_S = 0.5

export interface PredictOptions {
  fadeSeconds?: number
  /** Its length is known already, as of one that was computed before. */
  lengths?: Map<string, ReturnType<typeof recallLength>>
}

interface Builder {
  world: CueWorld
  options: PredictOptions
  places: Map<string, Place>
  steps: PredictedStep[]
  switches: { atS: number; camera: string | null; action: 'cut' | 'fade' | 'preview'; forS: number }[]
}

const GONE = {
  recall: 'This preset no longer exists.',
  replay: 'This recorded move no longer exists.',
  tour: 'This tour no longer exists.',
  look: 'This look no longer exists.',
  message: 'This device or message no longer exists.',
  cue: 'This cue no longer exists.',
  power: 'This camera no longer exists.',
} as const
const NOTHING_KNOWN = 'Nothing but a name is known of this preset. Store it again.'
const ITSELF = 'It starts a cue that starts it again.'
const NEVER = 'It waits for a step that waits for it.'

const keyOf = (camera: CueCamera, from: Place | null, to: Place, more: unknown) =>
  JSON.stringify([camera.id, from, to, more])

function lengthOf(
  b: Builder,
  camera: CueCamera,
  from: Place | null,
  to: Place,
  pace: Parameters<typeof recallLength>[3],
  atLeast: number | null,
) {
  const { lengths } = b.options
  if (!lengths) return recallLength(camera, from, to, pace, atLeast)
  const key = keyOf(camera, from, to, [pace, atLeast])
  const known = lengths.get(key)
  if (known) return known
  const found = recallLength(camera, from, to, pace, atLeast)
  lengths.set(key, found)
  return found
}

type Found = Omit<PredictedStep, 'step' | 'path' | 'startS' | 'together'>
const NO_MOVE = { hill: [], asked: null, leastSeconds: 0, longestSmooth: null, endless: false }
const nothing = (endS: number, problem: string | null = null): Found => ({
  ...NO_MOVE,
  ...{ camera: null, endS, problem },
})

function recallStep(b: Builder, step: Step, startS: number, atLeast: number | null): Found {
  const { does } = step
  if (does.t !== 'recall') return nothing(startS)
  const preset = b.world.preset(does.preset)
  const camera = preset && b.world.camera(preset.cameraId)
  if (!preset || !camera) return nothing(startS, GONE.recall)
  const to = placeOf(preset.pose)
  if (!to) return { ...nothing(startS, NOTHING_KNOWN), camera: camera.id }
  const from = b.places.get(camera.id) ?? null
  const pace = does.pace ?? USUAL_PACE(preset, camera)
  const { seconds, ...length } = lengthOf(b, camera, from, to, pace, atLeast)
  return { ...NO_MOVE, ...length, camera: camera.id, endS: startS + seconds, problem: null }
}

function replayStep(b: Builder, step: Step, startS: number): Found {
  const { does } = step
  const move = does.t === 'replay' ? b.world.move(does.move) : null
  const camera = move && b.world.camera(move.camera)
  if (does.t !== 'replay' || !move || !camera) return nothing(startS, GONE.replay)
  const end = move.points.at(-1)!.s
  const one = (end * 100) / does.percent
  const [first, last] = does.backwards
    ? [placeAt(move.points, end), move.points[0]!]
    : [move.points[0]!, placeAt(move.points, end)]
  const from = b.places.get(camera.id) ?? null
  const approach = lengthOf(b, camera, from, first, { kind: 'quick' }, null)
  const hill = pathHill(camera, move.points).map((speed) => (speed * does.percent) / 100)
  if (does.backwards) hill.reverse()
  b.places.set(camera.id, { panDeg: last.panDeg, tiltDeg: last.tiltDeg, zoom: last.zoom })
  const rounds = does.times === 0 ? 1 : does.times
  return {
    ...NO_MOVE,
    ...{ camera: camera.id, endS: startS + approach.seconds + rounds * one, endless: does.times === 0 },
    ...{ hill, asked: one, problem: null },
  }
}

function tourStep(b: Builder, step: Step, startS: number): Found {
  const tour = step.does.t === 'tour' ? b.world.tour(step.does.tour) : null
  const camera = tour && b.world.camera(tour.camera)
  if (!tour || !camera) return nothing(startS, GONE.tour)
  let at = startS
  for (const stop of tour.stops) {
    const to = placeOf(b.world.preset(stop.preset)?.pose ?? null)
    if (!to) return { ...nothing(startS, 'A preset of this tour no longer exists.'), camera: camera.id }
    at +=
      lengthOf(b, camera, b.places.get(camera.id) ?? null, to, stop.pace, null).seconds + stop.dwellSeconds
    b.places.set(camera.id, to)
  }
  const endS = tour.rounds === 0 ? at : startS + (at - startS) * tour.rounds
  return { ...NO_MOVE, camera: camera.id, endS, endless: tour.rounds === 0, problem: null }
}

function lengthOfStep(b: Builder, step: Step, startS: number, started: readonly PredictedStep[]): Found {
  const { does } = step
  switch (does.t) {
    case 'recall':
      return recallStep(b, step, startS, null)
    case 'replay':
      return replayStep(b, step, startS)
    case 'tour':
      return tourStep(b, step, startS)
    case 'wait':
      return nothing(startS + does.seconds)
    case 'arrive': {
      const moving = started.filter(
        (one) =>
          one.camera !== null &&
          one.startS <= startS &&
          (does.cameras.length === 0 || does.cameras.includes(one.camera)),
      )
      return nothing(Math.max(startS, ...moving.map(({ endS }) => endS)))
    }
    case 'message': {
      const device = b.world.device(does.device)
      const known = device?.messages.some(({ id }) => id === does.message)
      return nothing(startS, known ? null : GONE.message)
    }
    case 'switch': {
      const forS = does.action === 'fade' ? (b.options.fadeSeconds ?? USUAL_FADE_S) : 0
      b.switches.push({ atS: startS, camera: does.camera, action: does.action, forS })
      const known = does.camera === null || b.world.camera(does.camera)
      return nothing(startS + forS, known ? null : GONE.power)
    }
    case 'look': {
      const look = b.world.look(does.look)
      return nothing(startS + (does.seconds ?? look?.fadeSeconds ?? 0), look ? null : GONE.look)
    }
    case 'power': {
      const known = b.world.camera(does.camera)
      return { ...nothing(startS, known ? null : GONE.power), camera: known ? does.camera : null }
    }
    case 'cue':
      return nothing(startS)
  }
}

const sameStart = (a: Step, b: Step) => JSON.stringify(a.start) === JSON.stringify(b.start)
const goesTogether = ({ does }: Step) => does.t === 'recall' && does.together

/** Places the steps of one cue from `baseS` on. @returns when it ends */
function place(
  b: Builder,
  cue: Pick<Cue, 'steps'>,
  baseS: number,
  path: readonly string[],
  within: readonly string[],
): number {
  const open = new Set(cue.steps)
  const ends = new Map<string, number>()
  const mine: PredictedStep[] = []
  const ids = new Set(cue.steps.map(({ id }) => id))
  const startOf = ({ start }: Step): number | null => {
    if (start.kind === 'at') return baseS + start.seconds
    if (!ids.has(start.step)) return baseS + start.seconds
    const end = ends.get(start.step)
    return end === undefined ? null : end + start.seconds
  }
  const put = (step: Step, startS: number, found: Found, together: number | null) => {
    const placed = { step, path: [...path, step.id], startS, together, ...found }
    open.delete(step)
    ends.set(step.id, found.endless ? startS : found.endS)
    mine.push(placed)
    b.steps.push(placed)
    const to = step.does.t === 'recall' ? placeOf(b.world.preset(step.does.preset)?.pose ?? null) : null
    if (to && found.camera && !found.problem) b.places.set(found.camera, to)
  }
  while (open.size > 0) {
    const able = [...open].flatMap((step) => {
      const startS = startOf(step)
      return startS === null ? [] : [{ step, startS }]
    })
    // What waits for arrival comes after what sets off at the same time.
    const late = ({ step }: { step: Step }) => (step.does.t === 'arrive' ? 1 : 0)
    const next = able.sort((x, y) => x.startS - y.startS || late(x) - late(y))[0]
    if (!next) {
      for (const step of [...open]) put(step, baseS, nothing(baseS, NEVER), null)
      break
    }
    const { step, startS } = next
    if (step.does.t === 'cue') {
      const inner = b.world.cue(step.does.cue)
      const again = within.includes(step.does.cue)
      const problem = !inner ? GONE.cue : again || within.length >= DEEPEST ? ITSELF : null
      const endS =
        inner && !problem ? place(b, inner, startS, [...path, step.id], [...within, step.does.cue]) : startS
      const rounds = inner && !problem ? inner.times : 1
      const whole = startS + (endS - startS) * Math.max(1, rounds)
      put(step, startS, { ...nothing(whole, problem), endless: rounds === 0 }, null)
      continue
    }
    if (!goesTogether(step)) {
      put(step, startS, lengthOfStep(b, step, startS, mine), null)
      continue
    }
    const group = [...open].filter((one) => goesTogether(one) && sameStart(one, step))
    const endsIn = (atLeast: number | null) =>
      Math.max(...group.map((one) => recallStep(b, one, startS, atLeast).endS - startS))
    // Evenly a camera may need longer than the head takes by itself.
    const longest = group.length > 1 ? endsIn(Math.max(LEAST_TOGETHER_S, endsIn(null))) : null
    for (const one of group) put(one, startS, recallStep(b, one, startS, longest), longest)
  }
  return Math.max(baseS, ...mine.map((one) => (one.endless ? one.startS : one.endS)))
}

/** What is on air while it runs, by its own cuts and fades. */
function airOf(
  b: Builder,
  state: CueState,
): Pick<Prediction, 'air'> & { program: string | null; preview: string | null } {
  const spans: AirSpan[] = []
  let { program, preview } = state
  let sinceS = 0
  const close = (toS: number) => {
    if (program !== null && toS > sinceS) spans.push({ camera: program, fromS: sinceS, toS })
  }
  for (const { atS, camera, action, forS } of b.switches.sort((x, y) => x.atS - y.atS)) {
    if (action === 'preview') {
      preview = camera
      continue
    }
    const next = camera ?? preview
    if (next === program) continue
    // In a fade both are seen.
    close(atS + forS)
    const former = program
    program = next
    preview = former
    sinceS = atS
  }
  if (program !== null) spans.push({ camera: program, fromS: sinceS, toS: null })
  return { air: spans, program, preview }
}

/** One round of a cue. @param id of the cue itself, if it has one yet */
export function predictCue(
  world: CueWorld,
  cue: Pick<Cue, 'steps'>,
  state: CueState,
  id: string | null = null,
  options: PredictOptions = {},
): Prediction {
  const b: Builder = { world, options, places: new Map(state.places), steps: [], switches: [] }
  const seconds = place(b, cue, 0, [], id === null ? [] : [id])
  const { air, program, preview } = airOf(b, state)
  return { steps: b.steps, seconds, air, after: { places: b.places, program, preview } }
}

/** How long each recall is to take at least, so that those which go together arrive together: step -> s. */
export const togetherOf = (prediction: Prediction): Map<string, number> =>
  new Map(
    prediction.steps.flatMap(({ path, step, together }) =>
      path.length === 1 && together !== null ? [[step.id, together] as const] : [],
    ),
  )
