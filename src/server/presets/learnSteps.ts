/** The steps of learning that need no picture: ends, drive steps, coming to rest. */
import type { Mount } from '../../core/cameras/connection'
import type { HeadProfile } from '../../core/heads/profile'
import { degToUnits, unitsToDeg } from '../../core/heads/profile'
import { type DriveRun, learnDrives } from '../../core/learning/drives'
import type { HeadLearnt, LearntFigure } from '../../core/learning/learnt'
import type { Turning } from '../../core/learning/turning'
import { createLens } from '../../core/optics/lens'
import { type Limits, NO_LIMITS } from '../../core/stick/speeds'
import type { Counted, Learner, Trace } from './learner'
import type { RoundWork } from './roundWork'

type Range = { low: number; high: number }

/** What is known of the head at the time, as it counts. */
export interface Known {
  profile: HeadProfile
  mount: Mount
  /** Within this it is moved. */
  pan: Range
  tilt: Range
  zoom: Range
  /** Nobody knows its ends: the ranges are only what is around the place where it began. */
  unsure: boolean
  /** Limits were set, so that its own ends are not looked for. */
  limited: boolean
  /** Degrees in a step as the picture has right and up. */
  panDegPerStep: number
  tiltDegPerStep: number
  turning: Turning | null
  /** Where there is something to see, from the profile's zero. */
  targets: { pan: number; tilt: number }[]
  /** Pictures of the step before, so that the zoom goes on from them. */
  looks: { jpeg: Uint8Array; at: Counted }[]
  pairs: [number, number][]
  closes: boolean
  before: HeadLearnt | null
}

/** A head that its profile does not describe is kept within this of where it stands, until its ends are known, degrees. */
export const AROUND = { pan: 60, tilt: 20 }
const FAR_DEG = 720

export function knownFrom(
  profile: HeadProfile,
  { camera, row }: RoundWork['member'],
  before: HeadLearnt | null,
): Known {
  const limits: Limits = row.limits ?? NO_LIMITS
  const here = camera.pose!.encoder!
  const range = (axis: 'pan' | 'tilt', low: number | null, high: number | null): Range => {
    const of = profile[axis]
    const unknown = of.maxDeg > FAR_DEG
    const ends = before?.[axis].ends?.map((end) => (end === null ? null : unitsToDeg(of, end)))
    const [e0, e1] =
      ends && ends[0] !== null && ends[1] !== null ? [...(ends as number[])].sort((a, b) => a - b) : []
    const at = unitsToDeg(of, here[axis])
    const from = low ?? e0 ?? (unknown ? at - AROUND[axis] : of.minDeg)
    const to = high ?? e1 ?? (unknown ? at + AROUND[axis] : of.maxDeg)
    const units = [degToUnits(of, Math.max(from, of.minDeg)), degToUnits(of, Math.min(to, of.maxDeg))]
    return { low: Math.min(...units), high: Math.max(...units) }
  }
  const sign = row.mount.upsideDown ? -1 : 1
  const per = (axis: 'pan' | 'tilt') =>
    sign * (before?.[axis].degPerStep?.value ?? (profile[axis].reversed ? -1 : 1) / profile[axis].unitsPerDeg)
  const lens = createLens(profile.lens)
  return {
    profile,
    mount: row.mount,
    pan: range('pan', limits.panMinDeg, limits.panMaxDeg),
    tilt: range('tilt', limits.tiltMinDeg, limits.tiltMaxDeg),
    zoom: { low: lens.wide, high: lens.tele },
    unsure: profile.pan.maxDeg > FAR_DEG && !before?.pan.ends,
    limited: Object.values(limits).some((x) => x !== null),
    panDegPerStep: per('pan'),
    tiltDegPerStep: per('tilt'),
    ...{ turning: null, targets: [], looks: [], pairs: [], closes: false },
    before,
  }
}

/** How the picture's right and up lie to the head's. */
export const mountSign = ({ mount }: Known): 1 | -1 => (mount.upsideDown ? -1 : 1)
const span = ({ low, high }: Range) => high - low
const middle = ({ low, high }: Range) => (low + high) / 2

/** Ends are driven to at about this speed, degrees per second. */
const END_SPEED = { pan: 40, tilt: 25 }
const END_SECONDS = 40
const AT_END_MS = 700

const stepNear = (speeds: readonly number[], speed: number) => {
  const i = speeds.findIndex((s) => s >= speed)
  return i < 0 ? speeds.length : i + 1
}

const LIMITED = 'Limits are set for this camera, so its own ends were not looked for.'

/** Drives to where the reports stand still. */
export async function learnEnds(learner: Learner, known: Known): Promise<Partial<HeadLearnt> | string> {
  if (known.limited) return LIMITED
  const { pan, tilt } = known.profile
  const still = (ms: number) => ms > AT_END_MS
  const to = async (axis: 'pan' | 'tilt' | 'zoom', way: 1 | -1) => {
    const none = { pan: 0, tilt: 0, zoom: 0 }
    const step =
      axis === 'zoom' ? 8 : stepNear((axis === 'pan' ? pan : tilt).speedsDegPerSec, END_SPEED[axis])
    const { to: at } = await learner.run({ ...none, [axis]: way * step }, END_SECONDS, still)
    return at[axis]
  }
  const zoomLow = await to('zoom', -1)
  const zoomHigh = await to('zoom', 1)
  const panEnds = [await to('pan', -1), await to('pan', 1)] as const
  const tiltEnds = [await to('tilt', -1), await to('tilt', 1)] as const
  const sorted = (ends: readonly [number, number]): [number, number] =>
    ends[0] < ends[1] ? [ends[0], ends[1]] : [ends[1], ends[0]]
  const [p, t] = [sorted(panEnds), sorted(tiltEnds)]
  known.pan = { low: p[0], high: p[1] }
  known.tilt = { low: t[0], high: t[1] }
  const zoomEnds: [number, number] = [Math.min(zoomLow, zoomHigh), Math.max(zoomLow, zoomHigh)]
  known.zoom = { low: zoomEnds[0], high: zoomEnds[1] }
  known.unsure = false
  return { pan: { ends: p }, tilt: { ends: t }, zoomEnds }
}

/** A run is to go so many of the head's steps at least, and last so long where it has the room, s. */
const LEAST_WAY = 60
const [SHORTEST_S, LONGEST_S, EVENLY_S] = [0.9, 5, 1.7]
/** A step that has no room for that is run again, until it has run evenly for this share of it, or this often. */
const ENOUGH = 0.8
const MOST_RUNS = 3
const OF_ROOM = 0.85
/** The first run shows which way it counts, and how fast it is about. */
const TRIAL_S = 0.7

interface Plan {
  sign: 1 | -1
  seconds: number
  /** The room for it, units. */
  room: number
}

/** Which way there is room for a run, and how long it lasts. @param speed, ramp units per second, and per second squared */
function runFor(at: number, range: Range, speed: number, ramp: number): Plan {
  const [up, down] = [range.high - at, at - range.low]
  const sign = up >= down ? 1 : -1
  const room = OF_ROOM * Math.max(up, down)
  const wanted = Math.max(EVENLY_S + speed / ramp, LEAST_WAY / speed, SHORTEST_S)
  return { sign, room, seconds: Math.min(LONGEST_S, wanted, Math.max(0.4, room / speed)) }
}

const traceOf = (trace: Trace, axis: keyof Counted, step: number): DriveRun => ({
  step,
  ...{ toldMs: trace.toldMs, stoppedMs: trace.stoppedMs },
  seen: trace.seen
    .map((s) => ({ atMs: s.atMs, value: s[axis] }))
    .filter((s, i, all) => s.value !== all[i - 1]?.value),
  ...{ from: trace.from[axis], to: trace.to[axis] },
})

/** Each drive step of pan and tilt, both at once; then whether a new packet starts the ramp anew. */
export async function learnDriveSteps(
  learner: Learner,
  known: Known,
): Promise<Partial<HeadLearnt> & Pick<HeadLearnt, 'pan' | 'tilt'>> {
  const { profile } = known
  const runs = { pan: [] as DriveRun[], tilt: [] as DriveRun[] }
  /** How much faster it is than its profile says, as seen by now. */
  const rate = { pan: 1, tilt: 1 }
  const units = (axis: 'pan' | 'tilt', i: number) =>
    rate[axis] * profile[axis].speedsDegPerSec[i]! * profile[axis].unitsPerDeg
  const ramp = (axis: 'pan' | 'tilt') =>
    rate[axis] * profile[axis].accelDegPerSec2 * profile[axis].unitsPerDeg
  /** Which way a positive step makes it count. */
  const way = { pan: profile.pan.reversed ? -1 : 1, tilt: profile.tilt.reversed ? -1 : 1 }
  const count = Math.max(profile.pan.speedsDegPerSec.length, profile.tilt.speedsDegPerSec.length)
  const first = Math.floor(
    0.6 * Math.min(profile.pan.speedsDegPerSec.length, profile.tilt.speedsDegPerSec.length),
  )
  const see = (axis: 'pan' | 'tilt', run: DriveRun) => {
    const went = run.to - run.from
    if (went === 0) return
    way[axis] = Math.sign(went) * Math.sign(run.step)
    const seconds = (run.stoppedMs - run.toldMs) / 1000
    rate[axis] *= Math.abs(went) / seconds / units(axis, Math.abs(run.step) - 1)
  }
  await learner.goTo({ pan: middle(known.pan), tilt: middle(known.tilt), zoom: known.zoom.low })
  const trial = await learner.run({ pan: first, tilt: first, zoom: 0 }, TRIAL_S)
  for (const axis of ['pan', 'tilt'] as const) see(axis, traceOf(trial, axis, first))
  /** @returns how long it ran at an even speed, s; of two axes the shorter time */
  const runStep = async (i: number): Promise<number> => {
    const axes = (['pan', 'tilt'] as const).filter((axis) => i < profile[axis].speedsDegPerSec.length)
    let at = learner.here
    const planned = () => axes.map((axis) => runFor(at[axis], known[axis], units(axis, i), ramp(axis)))
    let plans = planned()
    const needs = (k: number) => units(axes[k]!, i) * (EVENLY_S + units(axes[k]!, i) / ramp(axes[k]!))
    // Too little room from here: from the nearer end there is all of it.
    if (plans.some(({ room }, k) => room < Math.min(needs(k), 0.8 * span(known[axes[k]!])))) {
      const place = { ...at }
      plans.forEach(({ room, sign }, k) => {
        const axis = axes[k]!
        if (room < needs(k)) place[axis] = sign > 0 ? known[axis].low + 2 : known[axis].high - 2
      })
      at = await learner.goTo(place)
      plans = planned()
    }
    // As long as the slower of the two needs, where the other has the room.
    const longest = Math.max(...plans.map((plan) => plan.seconds))
    const seconds = Math.min(longest, ...plans.map(({ room }, k) => room / units(axes[k]!, i)))
    const steps = { pan: 0, tilt: 0, zoom: 0 }
    axes.forEach((axis, k) => {
      steps[axis] = plans[k]!.sign * way[axis] * (i + 1)
    })
    const trace = await learner.run(steps, Math.max(0.4, seconds))
    for (const axis of axes) runs[axis].push(traceOf(trace, axis, steps[axis]))
    return seconds - Math.max(...axes.map((axis) => units(axis, i) / ramp(axis)))
  }
  for (let i = count - 1; i >= 0; i--) {
    let even = 0
    for (let k = 0; k < MOST_RUNS && even < ENOUGH * EVENLY_S; k++) even += Math.max(0, await runStep(i))
  }
  const found = (axis: 'pan' | 'tilt') =>
    learnDrives(runs[axis], profile[axis].speedsDegPerSec.length, ramp(axis))
  const [pan, tilt] = [found('pan'), found('tilt')]
  if (pan.speeds.every((s) => s === null) && tilt.speeds.every((s) => s === null))
    return { pan: {}, tilt: {} }
  const delays = [pan.delaySeconds, tilt.delaySeconds].filter((d) => d !== null)
  const renewals = [pan.renewSeconds, tilt.renewSeconds].filter((s) => s !== null)
  const reversed = (axis: 'pan' | 'tilt') => {
    // Which way it turns only a picture tells.
    if (!known.turning && !known.before?.[axis].degPerStep) return {}
    const deg = axis === 'pan' ? known.panDegPerStep : known.tiltDegPerStep
    // A positive step is to turn the head its own right, or up.
    const right = way[axis] * Math.sign(deg) * mountSign(known) > 0
    return { drivesReversed: right === profile[axis].drivesReversed }
  }
  const restarts = pan.speeds.some((s) => s !== null)
    ? await restartsRamp(learner, known, pan.speeds, way.pan)
    : undefined
  return {
    pan: { stepsPerSec: pan.speeds, stepsPerSec2: pan.accel, ...reversed('pan') },
    tilt: { stepsPerSec: tilt.speeds, stepsPerSec2: tilt.accel, ...reversed('tilt') },
    ...(delays.length > 0 ? { delaySeconds: meanOf(delays) } : {}),
    ...(renewals.length > 0 ? { renewSeconds: Math.max(...renewals) } : {}),
    ...(restarts === undefined ? {} : { restartsRamp: restarts }),
  }
}

const meanOf = (figures: readonly LearntFigure[]): LearntFigure => {
  const weight = figures.reduce((sum, { sigma }) => sum + 1 / sigma ** 2, 0)
  const value = figures.reduce((sum, f) => sum + f.value / f.sigma ** 2, 0) / weight
  const apart = Math.max(...figures.map((f) => Math.abs(f.value - value)))
  return { value, sigma: Math.max(1 / Math.sqrt(weight), apart / 2) }
}

const PACKETS = 12
const BETWEEN_S = 0.11
/** With ramps that start anew it falls behind by more than this. */
const FALLS_BEHIND = 0.88

/** Two steps in turn, packet by packet: does it go as far as the two speeds say? */
async function restartsRamp(
  learner: Learner,
  known: Known,
  speeds: readonly (LearntFigure | null)[],
  way: number,
): Promise<boolean | undefined> {
  const i = Math.floor(speeds.length * 0.6)
  const [a, b] = [speeds[i]?.value, speeds[i + 1]?.value]
  if (!a || !b) return undefined
  const at = learner.here
  const { sign } = runFor(at.pan, known.pan, b, b)
  const of = (k: number) => ({ pan: sign * way * (k % 2 === 0 ? i + 1 : i + 2), tilt: 0, zoom: 0 })
  const firstMs = await learner.begin(of(0), 1)
  for (let k = 1; k < PACKETS; k++) {
    await learner.pass(BETWEEN_S)
    await learner.begin(of(k), k === PACKETS - 1 ? BETWEEN_S : 1)
  }
  const stoppedMs = await learner.pass(BETWEEN_S)
  const to = await learner.rests()
  const seconds = (stoppedMs - firstMs) / 1000
  return Math.abs(to.pan - at.pan) < (FALLS_BEHIND * seconds * (a + b)) / 2
}

/** Each drive step of the zoom. */
export async function learnZoomSteps(learner: Learner, known: Known): Promise<Partial<HeadLearnt>> {
  const { zoomSpeedsPerSec, zoomAccelPerSec2 } = known.profile
  const runs: DriveRun[] = []
  for (let i = zoomSpeedsPerSec.length - 1; i >= 0; i--) {
    const speed = zoomSpeedsPerSec[i]!
    let even = 0
    for (let k = 0; k < MOST_RUNS && even < ENOUGH * EVENLY_S; k++) {
      const { sign, seconds } = runFor(learner.here.zoom, known.zoom, speed, zoomAccelPerSec2)
      const step = sign * (i + 1)
      runs.push(traceOf(await learner.run({ pan: 0, tilt: 0, zoom: step }, seconds), 'zoom', step))
      even += Math.max(0, seconds - speed / zoomAccelPerSec2)
    }
  }
  const { speeds } = learnDrives(runs, zoomSpeedsPerSec.length, zoomAccelPerSec2)
  return speeds.some((s) => s !== null) ? { zoomPerSec: speeds } : {}
}

const ARRIVALS = 6
const ASIDE_DEG = 8

/** Comes to one place from both sides again and again: how far apart does it rest? */
export async function learnRest(
  learner: Learner,
  known: Known,
  work: RoundWork,
): Promise<Partial<HeadLearnt> | string> {
  const { profile } = known
  const lens = createLens(profile.lens)
  const zoom = Math.round(lens.zoomForHfov(Math.min(20, lens.hfovDeg(lens.wide))))
  const [target] = known.targets
  const goal = target
    ? { pan: target.pan + profile.pan.zeroUnits, tilt: target.tilt + profile.tilt.zeroUnits, zoom }
    : { pan: middle(known.pan), tilt: middle(known.tilt), zoom }
  const aside = ASIDE_DEG * profile.pan.unitsPerDeg
  const rested: { jpeg: Uint8Array | null; at: Counted }[] = []
  for (let i = 0; i < ARRIVALS; i++) {
    const side = i % 2 === 0 ? 1 : -1
    const away = goal.pan + side * aside
    await learner.goTo({ ...goal, pan: Math.min(known.pan.high, Math.max(known.pan.low, away)) })
    rested.push({ at: await learner.goTo(goal), jpeg: await learner.look() })
  }
  const counted = spreadOf(rested.map(({ at }) => at.pan / profile.pan.unitsPerDeg))
  const jpegs = rested.flatMap(({ jpeg }) => (jpeg ? [jpeg] : []))
  if (jpegs.length < ARRIVALS) return { repeatsDeg: counted }
  const pairs = jpegs.slice(1).map((_, i) => ({ a: 0, b: i + 1, laid: [1, 0, 0, 0, 1, 0, 0, 0, 1] }))
  const matched = await work.store.matches({ pictures: jpegs, pairs })
  const shifts = matched.flatMap(({ points }) => {
    const xs = points.map(([xa, , xb]) => xb - xa).sort((x, y) => x - y)
    return xs.length > 0 ? [xs[xs.length >> 1]!] : []
  })
  if (shifts.length < ARRIVALS - 1) return { repeatsDeg: counted }
  return { repeatsDeg: spreadOf([0, ...shifts].map((x) => (x * lens.hfovDeg(zoom)) / 2)) }
}

function spreadOf(list: readonly number[]): number {
  const mean = list.reduce((a, b) => a + b, 0) / list.length
  return Math.sqrt(list.reduce((sum, x) => sum + (x - mean) ** 2, 0) / Math.max(1, list.length - 1))
}
