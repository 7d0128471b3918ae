/**
 * The first check of a head: from four small nudges and the positions that it reports, whether its profile has the
 * directions and the scale of it. Without a picture a drive to the right is taken to turn it right.
 */
import * as v from 'valibot'
import type { HeadProfile } from './profile'

export interface NudgeSeen {
  axis: 'pan' | 'tilt'
  /** Which way it was driven; right and up positive. */
  way: 1 | -1
  /** How far it should have turned by its profile, degrees. */
  nominalDeg: number
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
  unitsPerDeg: v.optional(v.pipe(v.number(), v.gtValue(0))),
})
export type AxisMend = v.InferOutput<typeof AxisMend>

export const HeadFinding = v.object({
  axis: v.picklist(['pan', 'tilt']),
  kind: v.picklist(['fine', 'reversed', 'scale', 'still']),
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
})
export type HeadCheck = v.InferOutput<typeof HeadCheck>

/** Speeds differ from head to head, so only a scale further off than this is told from a head that is quick or slow. */
const PLAUSIBLE = 1.9
/** Scales that heads have; a measured one near to one of these is that one. */
const KNOWN = [14.4, 16, 20, 40, 80, 100, 160, 200]
const NEAR = 1.45

const median = (list: readonly number[]): number | null =>
  list.length === 0 ? null : [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!

function scaleNear(units: number): number {
  const apart = (known: number) => Math.abs(Math.log(known / units))
  const nearest = KNOWN.reduce((best, known) => (apart(known) < apart(best) ? known : best))
  return apart(nearest) < Math.log(NEAR) ? nearest : Math.round(units * 10) / 10
}

const WAYS = { pan: ['right', 'left'], tilt: ['up', 'down'] } as const

const moved = (seen: readonly NudgeSeen[]) => seen.filter(({ before, after }) => before !== after)

/** Steps in a degree, as these nudges have it. */
const stepsSeen = (seen: readonly NudgeSeen[]): number | null =>
  median(moved(seen).map((n) => Math.abs(n.after - n.before) / n.nominalDeg))

/** Heads count both axes alike, and the speeds of the two err each by itself: together they tell better. */
function stepsOfBoth(seen: readonly NudgeSeen[]): number | null {
  const of = (axis: 'pan' | 'tilt') => stepsSeen(seen.filter((n) => n.axis === axis))
  const [pan, tilt] = [of('pan'), of('tilt')]
  return pan !== null && tilt !== null ? Math.sqrt(pan * tilt) : (pan ?? tilt)
}

function judgeAxis(profile: HeadProfile, axis: 'pan' | 'tilt', all: readonly NudgeSeen[]): HeadFinding[] {
  const seen = all.filter((n) => n.axis === axis)
  const { unitsPerDeg, reversed } = profile[axis]
  const [plus] = WAYS[axis]
  const title = axis === 'pan' ? 'Pan' : 'Tilt'
  const turned = moved(seen)
  if (turned.length === 0) {
    const words = `${title} reported no change. Look whether it turned, and whether something holds it.`
    return [{ axis, kind: 'still', words, mend: null }]
  }
  const sign = reversed ? -1 : 1
  const against = turned.filter(({ way, before, after }) => Math.sign(after - before) * sign !== way)
  const found: HeadFinding[] = []
  if (against.length > turned.length / 2)
    found.push({
      ...{ axis, kind: 'reversed' as const },
      words: `${title} counts the other way than its profile says: driven ${plus}, its position went ${WAYS[axis][1]}.`,
      mend: { axis, reversed: !reversed },
    })
  const factor = stepsSeen(seen)! / unitsPerDeg
  if (factor > PLAUSIBLE || factor < 1 / PLAUSIBLE) {
    const steps = scaleNear(stepsOfBoth(all)!)
    found.push({
      ...{ axis, kind: 'scale' as const },
      words: `${title} turned ${factor.toFixed(1)} times as far as its profile makes of it. It may count ${steps} steps in a degree instead of ${unitsPerDeg}.`,
      mend: { axis, unitsPerDeg: steps },
    })
  }
  if (found.length === 0)
    found.push({
      axis,
      kind: 'fine',
      words: `${title} turns the right way, by a plausible scale.`,
      mend: null,
    })
  return found
}

export function judgeHead(profile: HeadProfile, seen: readonly NudgeSeen[]): HeadCheck {
  return {
    findings: [...judgeAxis(profile, 'pan', seen), ...judgeAxis(profile, 'tilt', seen)],
    delayMs: median(seen.flatMap((n) => (n.firstMs === null ? [] : [n.firstMs]))),
    renewMs: median(seen.flatMap((n) => n.betweenMs)),
  }
}

/** The profile with its axes mended. */
export function mended(profile: HeadProfile, mends: readonly AxisMend[]): HeadProfile {
  const whole = { ...profile, pan: { ...profile.pan }, tilt: { ...profile.tilt } }
  for (const { axis, ...change } of mends) Object.assign(whole[axis], change)
  return whole
}
