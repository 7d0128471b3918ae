/**
 * Looks through a whole running order before the event: what it finds is computed with the planner that will move the
 * cameras, following the order's own cuts from cue to cue. Most findings come with a mend: the cue as it should be.
 */
import type { Guard } from '../orders/guardSettings'
import { listed } from './order'
import {
  type CueState,
  type PredictedStep,
  type Prediction,
  type PredictOptions,
  predictCue,
} from './predict'
import type { Cue, CueView, Step } from './show'
import type { CueWorld } from './world'

export const FINDING_KINDS = [
  'broken',
  'atOnce',
  'tooShort',
  'tooSlow',
  'onAir',
  'caught',
  'silent',
  'device',
  'astray',
] as const
export type FindingKind = (typeof FINDING_KINDS)[number]

export interface Finding {
  kind: FindingKind
  cue: string
  /** Of the cue itself; null: of all of it. */
  step: string | null
  camera: string | null
  /** Into the cue, s. */
  atS: number
  text: string
  /** What to do about it in a word, and the cue as it then is. */
  mend: { label: string; cue: Cue } | null
}

/** What is known only now. */
export interface CheckLive {
  guard: Guard
  /** Cameras that do not answer. */
  silent: ReadonlySet<string>
  /** Devices that did not answer when they were last asked. */
  devicesSilent: ReadonlySet<string>
  /** Presets whose picture no longer shows what was stored. */
  astray: ReadonlySet<string>
}

const GRAIN_S = 0.02
const WORTH_SAYING_S = 1
const ARRIVES_S = 0.3
const upTo = (s: number) => Math.ceil(s * 10) / 10
const said = (s: number) => `${(Math.round(s * 10) / 10).toFixed(1)} s`
/** A pace has no less and no more than this, s. */
const within = (s: number) => Math.min(60, Math.max(0.5, s))

const dataOf = ({ id: _, order: __, version: ___, ...cue }: CueView): Cue => cue

function withStep(cue: CueView, id: string, change: (step: Step) => Step): Cue {
  return { ...dataOf(cue), steps: cue.steps.map((step) => (step.id === id ? change(step) : step)) }
}
const without = (cue: CueView, id: string): Cue => ({
  ...dataOf(cue),
  steps: cue.steps.filter((step) => step.id !== id),
})
const timed = (cue: CueView, id: string, seconds: number): Cue =>
  withStep(cue, id, (step) =>
    step.does.t === 'recall'
      ? { ...step, does: { ...step.does, pace: { kind: 'timed', seconds: within(seconds) } } }
      : step,
  )

interface At {
  cue: CueView
  world: CueWorld
  live: CheckLive
}

const cameraName = ({ world }: At, id: string) => {
  const camera = world.camera(id)
  return camera ? `${camera.number} ${camera.name}` : 'A camera'
}
const mine = ({ path }: PredictedStep) => path.length === 1
/** The step of this cue itself in which it happens. */
const outer = ({ path }: PredictedStep) => path[0]!
const isMove = ({ step, hill, endS, startS }: PredictedStep) =>
  (step.does.t === 'recall' || step.does.t === 'replay') && hill.length > 0 && endS - startS > GRAIN_S

function broken(at: At, one: PredictedStep): Finding[] {
  if (!one.problem) return []
  return [
    {
      ...{ kind: 'broken', cue: at.cue.id, step: outer(one), camera: one.camera, atS: one.startS },
      text: one.problem,
      mend: mine(one) ? { label: 'Remove the step', cue: without(at.cue, one.step.id) } : null,
    },
  ]
}

/** Does it begin only when the other has ended, by itself or by a wait for arrival? */
function waitsFor(steps: readonly PredictedStep[], one: PredictedStep, before: PredictedStep): boolean {
  let at: PredictedStep | undefined = one
  for (let i = 0; at?.step.start.kind === 'after' && i < steps.length; i++) {
    const id: string = at.step.start.step
    at = steps.find(({ step }) => step.id === id)
    if (at === before || at?.step.does.t === 'arrive') return true
  }
  return false
}

/** A camera is asked to do something while it still does something else. */
function atOnce(at: At, steps: readonly PredictedStep[]): Finding[] {
  const found: Finding[] = []
  const lastOf = new Map<string, PredictedStep>()
  for (const one of [...steps].sort((a, b) => a.startS - b.startS)) {
    if (one.camera === null || one.problem) continue
    const before = lastOf.get(one.camera)
    // Only when it is seen to stand has it arrived.
    const restS = before && waitsFor(steps, one, before) ? -GRAIN_S : ARRIVES_S
    if (before && before.endS + restS > one.startS) {
      const own = mine(one) && mine(before) && one.step.start.kind === 'at'
      found.push({
        ...{ kind: 'atOnce', cue: at.cue.id, step: outer(one), camera: one.camera, atS: one.startS },
        text: `${cameraName(at, one.camera)} is asked for this at ${said(one.startS)}, and is busy until ${said(before.endS)}.`,
        mend: own
          ? {
              label: 'Start it when that has ended',
              cue: withStep(at.cue, one.step.id, (step) => ({
                ...step,
                start: { kind: 'after', step: before.step.id, seconds: 0 },
              })),
            }
          : null,
      })
    }
    if (!before || one.endS > before.endS) lastOf.set(one.camera, one)
  }
  return found
}

function lengths(at: At, one: PredictedStep): Finding[] {
  const { asked, leastSeconds, longestSmooth, camera, startS } = one
  if (one.step.does.t !== 'recall' || asked === null || camera === null) return []
  const base = { cue: at.cue.id, step: outer(one), camera, atS: startS }
  if (leastSeconds > asked + GRAIN_S)
    return [
      {
        ...base,
        kind: 'tooShort',
        text: `In ${said(asked)} ${cameraName(at, camera)} cannot be there: it needs ${said(upTo(leastSeconds))}.`,
        mend: mine(one)
          ? {
              label: `Give it ${said(upTo(leastSeconds))}`,
              cue: timed(at.cue, one.step.id, upTo(leastSeconds)),
            }
          : null,
      },
    ]
  // A way that is over in a moment need not be smooth.
  if (longestSmooth !== null && longestSmooth > WORTH_SAYING_S && asked > longestSmooth + GRAIN_S) {
    const most = Math.floor(longestSmooth * 10) / 10
    return [
      {
        ...base,
        kind: 'tooSlow',
        text: `So slowly ${cameraName(at, camera)} cannot move smoothly: ${said(most)} is the longest.`,
        mend: mine(one) ? { label: `Give it ${said(most)}`, cue: timed(at.cue, one.step.id, most) } : null,
      },
    ]
  }
  return []
}

/** What the audience would see of it. */
function onAir(at: At, one: PredictedStep, { air }: Prediction): Finding[] {
  const { guard } = at.live
  const { camera, startS, endS, step } = one
  if (!isMove(one) || camera === null || guard.mode === 'off') return []
  const seen = air.find(
    (span) =>
      span.camera === camera &&
      span.fromS < endS - GRAIN_S &&
      (span.toS ?? Number.POSITIVE_INFINITY) > startS + GRAIN_S,
  )
  if (!seen) return []
  const base = { cue: at.cue.id, step: outer(one), camera, atS: startS }
  const name = cameraName(at, camera)
  const seconds = endS - startS
  if (seen.fromS > startS + GRAIN_S) {
    // A move that was on its way is made gentle from there on, unless it is.
    if (endS - seen.fromS >= guard.seconds) return []
    const earlier = upTo(endS - seen.fromS)
    const room = mine(one) && step.start.kind === 'at' && step.start.seconds >= earlier
    const fits = seen.fromS - startS >= Math.max(0.5, one.leastSeconds)
    const shorter = mine(one) && step.does.t === 'recall' && one.asked !== null && fits
    const toS = Math.floor((seen.fromS - startS) * 10) / 10
    return [
      {
        ...{ ...base, atS: seen.fromS, kind: 'caught' },
        text: `${name} is on air from ${said(seen.fromS)}, while it still moves until ${said(endS)}.`,
        mend: room
          ? {
              label: `Start it ${said(earlier)} earlier`,
              cue: withStep(at.cue, step.id, (s) =>
                s.start.kind === 'at'
                  ? {
                      ...s,
                      start: {
                        kind: 'at',
                        seconds: Math.max(0, Math.round((s.start.seconds - earlier) * 10) / 10),
                      },
                    }
                  : s,
              ),
            }
          : shorter
            ? { label: `Give it ${said(toS)}`, cue: timed(at.cue, step.id, toS) }
            : null,
      },
    ]
  }
  if (guard.mode === 'refuse')
    return [
      {
        ...base,
        kind: 'onAir',
        text: `${name} is on air then, and the on-air guard refuses the move.`,
        mend: null,
      },
    ]
  if (seconds >= guard.seconds - GRAIN_S) return []
  const jumps = one.asked === null
  return [
    {
      ...base,
      kind: 'onAir',
      text: jumps
        ? `${name} would jump on air. The on-air guard eases it to ${said(guard.seconds)}.`
        : `${name} is on air then: the on-air guard makes these ${said(seconds)} into ${said(guard.seconds)}.`,
      mend:
        mine(one) && step.does.t === 'recall'
          ? { label: `Give it ${said(guard.seconds)}`, cue: timed(at.cue, step.id, guard.seconds) }
          : null,
    },
  ]
}

function missing(at: At, one: PredictedStep, told: Set<string>): Finding[] {
  const found: Finding[] = []
  const base = { cue: at.cue.id, step: outer(one), camera: one.camera, atS: one.startS, mend: null }
  const { does } = one.step
  if (one.camera !== null && at.live.silent.has(one.camera) && !told.has(one.camera)) {
    told.add(one.camera)
    found.push({ ...base, kind: 'silent', text: `${cameraName(at, one.camera)} does not answer.` })
  }
  if (does.t === 'message' && at.live.devicesSilent.has(does.device) && !told.has(does.device)) {
    told.add(does.device)
    const name = at.world.device(does.device)?.name ?? 'A device'
    found.push({ ...base, kind: 'device', text: `${name} did not answer when it was last asked.` })
  }
  if (does.t === 'recall' && at.live.astray.has(does.preset)) {
    const name = at.world.preset(does.preset)?.name ?? 'A preset'
    found.push({
      ...base,
      kind: 'astray',
      text: `“${name}” no longer shows what was stored. Look at it before the event.`,
    })
  }
  return found
}

export function findingsOf(at: At, prediction: Prediction): Finding[] {
  const told = new Set<string>()
  return [
    ...prediction.steps.flatMap((one) => [
      ...broken(at, one),
      ...lengths(at, one),
      ...onAir(at, one, prediction),
      ...missing(at, one, told),
    ]),
    ...atOnce(at, prediction.steps),
  ].sort((a, b) => a.atS - b.atS)
}

export interface Checked {
  findings: readonly Finding[]
  predictions: ReadonlyMap<string, Prediction>
}

/** All cues: those of the running order one after the other, the others as if they came now. */
export function checkShow(
  world: CueWorld,
  cues: readonly CueView[],
  state: CueState,
  live: CheckLive,
  options: PredictOptions = {},
): Checked {
  const shared = { ...options, lengths: options.lengths ?? new Map() }
  const predictions = new Map<string, Prediction>()
  const findings: Finding[] = []
  let before = state
  for (const cue of listed(cues)) {
    const prediction = predictCue(world, cue, before, cue.id, shared)
    predictions.set(cue.id, prediction)
    findings.push(...findingsOf({ cue, world, live }, prediction))
    before = prediction.after
  }
  for (const cue of cues) {
    if (cue.listed) continue
    const prediction = predictCue(world, cue, { ...state, program: null, preview: null }, cue.id, shared)
    predictions.set(cue.id, prediction)
    findings.push(...findingsOf({ cue, world, live }, prediction))
  }
  return { findings, predictions }
}
