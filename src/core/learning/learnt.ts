/** What a camera has learnt of its own head and lens, as it is kept and shown, and the profile that follows from it. */
import * as v from 'valibot'
import type { HeadProfile } from '../heads/profile'
import { unitsToDeg } from '../heads/profile'
import { createLens } from '../optics/lens'

/** The steps of learning, in their order; each can be left out, or done again by itself. */
export const LEARN_STEPS = ['ends', 'lens', 'zoom', 'drives', 'rest'] as const
export type LearnStep = (typeof LEARN_STEPS)[number]

const Figure = v.object({
  value: v.pipe(v.number(), v.finite()),
  /** One standard deviation. */
  sigma: v.pipe(v.number(), v.finite(), v.minValue(0)),
})
export type LearntFigure = v.InferOutput<typeof Figure>
const maybe = <T extends v.GenericSchema>(schema: T) => v.optional(schema)
const Speeds = v.pipe(v.array(v.nullable(Figure)), v.maxLength(64))

const LearntAxis = v.object({
  /** Degrees in one of the head's steps, negative where it counts to the left, or downwards. */
  degPerStep: maybe(Figure),
  /** A drive to the right turns it left, or one up turns it down. */
  drivesReversed: maybe(v.boolean()),
  /** Ends of travel, as the head counts; null where a limit or the time stood before it. */
  ends: maybe(v.tuple([v.nullable(v.number()), v.nullable(v.number())])),
  /** Of each drive step, its own steps per second, and how fast it gathers it. */
  stepsPerSec: maybe(Speeds),
  stepsPerSec2: maybe(v.nullable(Figure)),
})
export type LearntAxis = v.InferOutput<typeof LearntAxis>

export const HeadLearnt = v.object({
  /** ISO 8601: when the last of it was learnt. */
  at: v.string(),
  /** The profile that it was measured with: its zeros and its zoom range are those of the figures. */
  profile: v.string(),
  pan: LearntAxis,
  tilt: LearntAxis,
  /** Tilt where the profile has zero, degrees. */
  tiltAtZeroDeg: maybe(Figure),
  /** Zoom position and focal length in half-widths of the picture. */
  focals: maybe(
    v.pipe(v.array(v.object({ zoom: v.number(), focal: Figure })), v.minLength(1), v.maxLength(64)),
  ),
  bend: maybe(v.tuple([Figure, Figure])),
  /** Where the optical axis is, half-widths right and up of the middle, at the widest and the longest. */
  axisWide: maybe(v.tuple([Figure, Figure])),
  axisTele: maybe(v.tuple([Figure, Figure])),
  zoomEnds: maybe(v.tuple([v.number(), v.number()])),
  zoomPerSec: maybe(Speeds),
  /** From an order to its showing in the reports: the order's delay and the reports' lag together, s. */
  delaySeconds: maybe(Figure),
  /** Between two new positions, s. */
  renewSeconds: maybe(v.number()),
  restartsRamp: maybe(v.boolean()),
  /** How far apart it comes to rest at the same place, degrees, one standard deviation. */
  repeatsDeg: maybe(v.number()),
  /** The pan range goes round: both its ends see the same thing. */
  closes: maybe(v.boolean()),
})
export type HeadLearnt = v.InferOutput<typeof HeadLearnt>

/** What was learnt anew over what is known from before; another profile's figures mean something else. */
export function together(before: HeadLearnt | null, now: HeadLearnt): HeadLearnt {
  if (before?.profile !== now.profile) return now
  const given = <T extends object>(one: T) =>
    Object.fromEntries(Object.entries(one).filter(([, value]) => value !== undefined))
  return {
    ...before,
    ...given(now),
    pan: { ...before.pan, ...given(now.pan) },
    tilt: { ...before.tilt, ...given(now.tilt) },
  } as HeadLearnt
}

const round = (x: number, digits: number) => Number(x.toPrecision(digits))

/** Positions of a head are whole: a zero that is hardly off stays. */
const ZERO_TELLS_DEG = 0.3

function axisOf(
  axis: HeadProfile['pan'],
  learnt: LearntAxis,
  atZero: LearntFigure | undefined,
): HeadProfile['pan'] {
  const { degPerStep, drivesReversed, ends, stepsPerSec, stepsPerSec2 } = learnt
  const was = (axis.reversed ? -1 : 1) / axis.unitsPerDeg
  const deg = degPerStep?.value ?? was
  let next = { ...axis, unitsPerDeg: round(Math.abs(1 / deg), 6), reversed: deg < 0 }
  if (atZero && Math.abs(atZero.value) > Math.max(ZERO_TELLS_DEG, 2 * atZero.sigma))
    next = { ...next, zeroUnits: Math.round(axis.zeroUnits - atZero.value / deg) }
  if (drivesReversed !== undefined) next = { ...next, drivesReversed }
  const scale = Math.abs(deg)
  // The same places as before, where it was not looked for the ends.
  const place = (minOrMax: number) => axis.zeroUnits + Math.round(minOrMax / was)
  const [low, high] = ends ?? [null, null]
  const all = [low ?? place(axis.minDeg), high ?? place(axis.maxDeg)].map((units) => unitsToDeg(next, units))
  next = { ...next, minDeg: round(Math.min(...all), 6), maxDeg: round(Math.max(...all), 6) }
  const own = Math.abs(was)
  const speeds = filled(
    stepsPerSec,
    axis.speedsDegPerSec.map((speed) => speed / own),
  ).map((s) => round(s * scale, 5))
  const accel = stepsPerSec2 ? stepsPerSec2.value * scale : (axis.accelDegPerSec2 / own) * scale
  return { ...next, speedsDegPerSec: speeds, accelDegPerSec2: round(accel, 4) }
}

/** Speeds rise from step to step, or stay: what noise turned round is levelled. Gaps are filled as the rest differs. */
function filled(found: readonly (LearntFigure | null)[] | undefined, before: readonly number[]): number[] {
  if (!found) return [...before]
  const ratios = before.flatMap((was, i) => (found[i] ? [found[i].value / was] : [])).sort((a, b) => a - b)
  const usual = ratios[ratios.length >> 1] ?? 1
  const out = before.map((was, i) => found[i]?.value ?? was * usual)
  for (let i = 1; i < out.length; i++) out[i] = Math.max(out[i]!, out[i - 1]!)
  return out
}

/** Rising positions, rising focal lengths: a lens that does not is measured wrongly there. */
function curveOf(
  lens: HeadProfile['lens'],
  focals: NonNullable<HeadLearnt['focals']>,
): HeadProfile['lens']['zoomCurve'] {
  const half = lens.sensorWidthMm / 2
  const out: [number, number][] = []
  for (const { zoom, focal } of focals) {
    const last = out.at(-1)
    if (!last || (zoom > last[0] && focal.value * half > last[1]))
      out.push([zoom, round(focal.value * half, 6)])
  }
  if (out.length < 2) return lens.zoomCurve
  // Beyond what could be seen the curve goes on as the profile has it.
  const was = createLens(lens)
  const [last, mm] = out.at(-1)!
  for (const [zoom] of lens.zoomCurve)
    if (zoom > last) out.push([zoom, round((mm * was.focalMm(zoom)) / was.focalMm(last), 6)])
  return out
}

/**
 * What the reports lag behind cannot be told from the order's own delay from outside, so both share as in the profile,
 * and evenly where that knows of no lag; a report is older by half of what lies between two.
 */
const split = (total: number, renew: number | undefined, profile: HeadProfile) => {
  const { delaySeconds, reportLagSeconds } = profile
  const delay = total * (reportLagSeconds > 0 ? delaySeconds / (delaySeconds + reportLagSeconds) : 0.5)
  return { delaySeconds: round(delay, 3), reportLagSeconds: round(total - delay + (renew ?? 0) / 2, 3) }
}

/** The head as it is known now. @param profile the one with which it was measured */
export function profileLearnt(profile: HeadProfile, learnt: HeadLearnt): HeadProfile {
  const { focals, bend, zoomPerSec, delaySeconds, renewSeconds, restartsRamp } = learnt
  const lens = {
    ...profile.lens,
    ...(focals ? { zoomCurve: curveOf(profile.lens, focals) } : {}),
    ...(bend ? { bend: [round(bend[0].value, 4), round(bend[1].value, 4)] as [number, number] } : {}),
  }
  return {
    ...profile,
    pan: axisOf(profile.pan, learnt.pan, undefined),
    tilt: axisOf(profile.tilt, learnt.tilt, learnt.tiltAtZeroDeg),
    lens,
    zoomSpeedsPerSec: filled(zoomPerSec, profile.zoomSpeedsPerSec).map((s) => round(s, 5)),
    ...(delaySeconds ? split(Math.max(0, delaySeconds.value), renewSeconds, profile) : {}),
    ...(restartsRamp === undefined ? {} : { restartsRamp }),
  }
}
