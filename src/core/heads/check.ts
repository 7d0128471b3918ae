/**
 * The first check of a head: from four small nudges and the positions that it reports, whether its profile has the
 * directions and the scale of it. Where there is a picture, its shift tells which way it turned and how far; without
 * one a drive to the right is taken to turn it right, and its speed as the profile has it is the measure.
 */
import * as v from 'valibot'
import type { HeadProfile } from './profile'

export interface NudgeSeen {
  axis: 'pan' | 'tilt'
  /** Which way it was driven; right and up positive. */
  way: 1 | -1
  /** How far it should have turned by its profile, degrees. */
  nominalDeg: number
  /** How far it turned as its picture shows it, right and up positive; null where that tells nothing. */
  turnedDeg: number | null
  /** What it reported, as the head counts. */
  before: number
  after: number
  /** From the order to the first change that was reported, ms; null if none came. */
  firstMs: number | null
  /** Between the changes that were reported, ms. */
  betweenMs: readonly number[]
}

/** What changes in an axis of the profile. */
export const AxisMend = v.object({
  axis: v.picklist(['pan', 'tilt']),
  reversed: v.optional(v.boolean()),
  drivesReversed: v.optional(v.boolean()),
  unitsPerDeg: v.optional(v.pipe(v.number(), v.gtValue(0))),
  minDeg: v.optional(v.pipe(v.number(), v.minValue(-720), v.maxValue(720))),
  maxDeg: v.optional(v.pipe(v.number(), v.minValue(-720), v.maxValue(720))),
})
export type AxisMend = v.InferOutput<typeof AxisMend>

/** How far a head goes, degrees. */
export type HeadRanges = Record<'pan' | 'tilt', { min: number; max: number }>

export const HeadFinding = v.object({
  axis: v.picklist(['pan', 'tilt']),
  kind: v.picklist(['fine', 'drives', 'reversed', 'scale', 'range', 'still']),
  words: v.string(),
  /** What would mend it; null where nothing is to be mended, or nothing can. */
  mend: v.nullable(AxisMend),
})
export type HeadFinding = v.InferOutput<typeof HeadFinding>

export const HeadCheck = v.object({
  findings: v.array(HeadFinding),
  /** From the order to the first reported change, and between two changes, ms; null if none came. */
  delayMs: v.nullable(v.number()),
  renewMs: v.nullable(v.number()),
  /** It was judged by the picture too. */
  byPicture: v.boolean(),
})
export type HeadCheck = v.InferOutput<typeof HeadCheck>

/** Speeds differ from head to head, so only a scale further off than this is told from a head that is quick or slow. */
const PLAUSIBLE = 1.9
/** The same where the picture is the measure: what is left is the lens, whose angle a profile may have a little wrong. */
const PLAUSIBLE_SEEN = 1.3
const NEAR_SEEN = 1.2
/** Two measures by the picture may differ by this factor. */
const AGREE = 1.25
/** Scales that heads have; a measured one near to one of these is that one. */
const KNOWN = [14.4, 16, 20, 40, 80, 100, 160, 200]
const NEAR = 1.45

const median = (list: readonly number[]): number | null =>
  list.length === 0 ? null : [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!

function scaleNear(units: number, within: number): number {
  const apart = (known: number) => Math.abs(Math.log(known / units))
  const nearest = KNOWN.reduce((best, known) => (apart(known) < apart(best) ? known : best))
  return apart(nearest) < Math.log(within) ? nearest : Math.round(units * 10) / 10
}

const WAYS = { pan: ['right', 'left'], tilt: ['up', 'down'] } as const

const moved = (seen: readonly NudgeSeen[]) => seen.filter(({ before, after }) => before !== after)
const seenIn = (all: readonly NudgeSeen[]) => all.filter((n) => n.turnedDeg !== null && n.turnedDeg !== 0)

/** What the picture says of an axis counts only where its nudges agree: one picture may have come late. */
function agreed(all: readonly NudgeSeen[]): NudgeSeen[] {
  const doubtful = (['pan', 'tilt'] as const).filter((axis) => {
    const of = seenIn(all.filter((n) => n.axis === axis))
    const steps = of.map((n) => Math.abs((n.after - n.before) / n.turnedDeg!))
    const ways = new Set(of.map((n) => Math.sign(n.turnedDeg!) * n.way))
    return ways.size > 1 || Math.max(...steps) > AGREE * Math.min(...steps)
  })
  return all.map((n) => (doubtful.includes(n.axis) ? { ...n, turnedDeg: null } : n))
}

/** Steps in a degree, as these nudges have it. */
const stepsSeen = (seen: readonly NudgeSeen[]): number | null =>
  median(moved(seen).map((n) => Math.abs(n.after - n.before) / n.nominalDeg))

/** Heads count both axes alike, and the speeds of the two err each by itself: together they tell better. */
function stepsOfBoth(seen: readonly NudgeSeen[]): number | null {
  const of = (axis: 'pan' | 'tilt') => stepsSeen(seen.filter((n) => n.axis === axis))
  const [pan, tilt] = [of('pan'), of('tilt')]
  return pan !== null && tilt !== null ? Math.sqrt(pan * tilt) : (pan ?? tilt)
}

interface Measure {
  /** How many times as many steps as the profile has it. */
  factor: number
  plausible: number
  /** The scale that it has. */
  steps: number
}

/** By the picture where that tells anything, else by the speeds. */
function measure(profile: HeadProfile, axis: 'pan' | 'tilt', all: readonly NudgeSeen[]): Measure {
  const seen = moved(all.filter((n) => n.axis === axis))
  const { unitsPerDeg } = profile[axis]
  const shown = median(seenIn(seen).map((n) => Math.abs((n.after - n.before) / n.turnedDeg!)))
  if (shown !== null)
    return { factor: shown / unitsPerDeg, plausible: PLAUSIBLE_SEEN, steps: scaleNear(shown, NEAR_SEEN) }
  const steps = scaleNear(stepsOfBoth(all)!, NEAR)
  return { factor: stepsSeen(seen)! / unitsPerDeg, plausible: PLAUSIBLE, steps }
}

/** Which way it really turned: as the picture shows it, else as it was driven. */
const turnedWay = ({ way, turnedDeg }: NudgeSeen, drivesWrong: boolean): number =>
  turnedDeg ? Math.sign(turnedDeg) : drivesWrong ? -way : way

const drivesWrong = (seen: readonly NudgeSeen[]): boolean => {
  const shown = seenIn(seen)
  return shown.filter((n) => Math.sign(n.turnedDeg!) !== n.way).length > shown.length / 2
}

function judgeAxis(profile: HeadProfile, axis: 'pan' | 'tilt', all: readonly NudgeSeen[]): HeadFinding[] {
  const seen = all.filter((n) => n.axis === axis)
  const { unitsPerDeg, reversed, drivesReversed } = profile[axis]
  const [plus, minus] = WAYS[axis]
  const title = axis === 'pan' ? 'Pan' : 'Tilt'
  const found: HeadFinding[] = []
  const wrong = drivesWrong(seen)
  if (wrong) {
    // What hangs upside down turns both axes round, and nothing is wrong with its profile.
    const hangs =
      drivesWrong(all.filter((n) => n.axis === 'pan')) && drivesWrong(all.filter((n) => n.axis === 'tilt'))
    found.push({
      ...{ axis, kind: 'drives' as const },
      words: hangs
        ? `${title} turns the other way than it is driven, and so does the other axis: it may hang upside down. Set that below.`
        : `${title} turns the other way than it is driven: ${minus} in the picture when it is driven ${plus}.`,
      mend: hangs ? null : { axis, drivesReversed: !drivesReversed },
    })
  }
  const turned = moved(seen)
  if (turned.length === 0) {
    const words = `${title} reported no change. Look whether it turned, and whether something holds it.`
    return [...found, { axis, kind: 'still', words, mend: null }]
  }
  const sign = reversed ? -1 : 1
  const against = turned.filter((n) => Math.sign(n.after - n.before) * sign !== turnedWay(n, wrong))
  if (against.length > turned.length / 2)
    found.push({
      ...{ axis, kind: 'reversed' as const },
      words: `${title} counts the other way than its profile says: turned ${plus}, its position went ${minus}.`,
      mend: { axis, reversed: !reversed },
    })
  const { factor, plausible, steps } = measure(profile, axis, all)
  if (factor > plausible || factor < 1 / plausible)
    found.push({
      ...{ axis, kind: 'scale' as const },
      words: `${title} counts ${factor.toFixed(1)} times as many steps as its profile says. It seems to have ${steps} steps in a degree instead of ${unitsPerDeg}.`,
      mend: { axis, unitsPerDeg: steps },
    })
  if (found.length === 0)
    found.push({
      axis,
      kind: 'fine',
      words: `${title} turns the right way, by a plausible scale.`,
      mend: null,
    })
  return found
}

export function judgeHead(profile: HeadProfile, nudges: readonly NudgeSeen[]): HeadCheck {
  const seen = agreed(nudges)
  return {
    findings: [...judgeAxis(profile, 'pan', seen), ...judgeAxis(profile, 'tilt', seen)],
    delayMs: median(seen.flatMap((n) => (n.firstMs === null ? [] : [n.firstMs]))),
    renewMs: median(seen.flatMap((n) => n.betweenMs)),
    byPicture: seenIn(seen).length > 0,
  }
}

const SAME_DEG = 0.5

/** Of a head that tells how far it goes: does its profile say the same? */
export function judgeRanges(profile: HeadProfile, ranges: HeadRanges): HeadCheck {
  const findings = (['pan', 'tilt'] as const).map((axis): HeadFinding => {
    const { min, max } = ranges[axis]
    const { minDeg, maxDeg } = profile[axis]
    const title = axis === 'pan' ? 'Pan' : 'Tilt'
    const same = Math.abs(min - minDeg) < SAME_DEG && Math.abs(max - maxDeg) < SAME_DEG
    return {
      axis,
      kind: same ? 'fine' : 'range',
      words: same
        ? `${title} goes as far as its profile says, by the camera's own word.`
        : `The camera says that ${axis} goes from ${min}° to ${max}°; its profile has ${minDeg}° to ${maxDeg}°.`,
      mend: same || min >= max ? null : { axis, minDeg: min, maxDeg: max },
    }
  })
  return { findings, delayMs: null, renewMs: null, byPicture: false }
}

/** The profile with its axes mended. */
export function mended(profile: HeadProfile, mends: readonly AxisMend[]): HeadProfile {
  const whole = { ...profile, pan: { ...profile.pan }, tilt: { ...profile.tilt } }
  for (const { axis, ...change } of mends) Object.assign(whole[axis], change)
  return whole
}
