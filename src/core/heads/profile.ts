/**
 * A head profile: data that describes a head and its lens. Ranges in degrees, speeds in degrees per
 * second as measured for each speed step (index 0 is step 1), zoom speeds in zoom units per second.
 */
import * as v from 'valibot'
import { HeadExtras } from './extras'

const Axis = v.object({
  minDeg: v.number(),
  maxDeg: v.number(),
  /** The head's own position steps in one degree. */
  unitsPerDeg: v.pipe(v.number(), v.gtValue(0)),
  speedsDegPerSec: v.pipe(v.array(v.pipe(v.number(), v.gtValue(0))), v.minLength(1)),
  accelDegPerSec2: v.pipe(v.number(), v.gtValue(0)),
})

export const HeadProfile = v.object({
  id: v.string(),
  name: v.string(),
  pan: Axis,
  tilt: Axis,
  lens: v.object({
    sensorWidthMm: v.number(),
    aspect: v.number(),
    zoomCurve: v.array(v.tuple([v.number(), v.number()])),
    /** Beyond the tele end it enlarges digitally, up to this position and by this factor. */
    digital: v.optional(v.object({ to: v.number(), factor: v.pipe(v.number(), v.gtValue(1)) })),
  }),
  /** For the variable drive steps 0..7. */
  zoomSpeedsPerSec: v.pipe(v.array(v.number()), v.length(8)),
  /** How fast an absolute zoom runs. */
  zoomTravelPerSec: v.number(),
  focus: v.object({ near: v.number(), far: v.number() }),
  /** From an order to the motion that follows it, s. */
  delaySeconds: v.optional(v.pipe(v.number(), v.minValue(0)), 0.03),
  /** How fast the zoom motor gains speed, and how gently it is to be braked before an end: units per s². */
  zoomAccelPerSec2: v.optional(v.pipe(v.number(), v.gtValue(0)), 60_000),
  zoomBrakePerSec2: v.optional(v.pipe(v.number(), v.gtValue(0)), 12_000),
  memories: v.number(),
  /** It can hold its picture while it travels. */
  freezes: v.optional(v.boolean(), false),
  /** It takes a new target while it still moves to another, without stopping between. */
  retargets: v.optional(v.boolean(), false),
  extras: v.optional(HeadExtras),
})

export type HeadProfile = v.InferOutput<typeof HeadProfile>
export type AxisProfile = HeadProfile['pan']

/** Degrees to the head's own steps. */
export function degToUnits(axis: AxisProfile, deg: number): number {
  return Math.round(Math.min(axis.maxDeg, Math.max(axis.minDeg, deg)) * axis.unitsPerDeg)
}

/** The head's own steps to degrees. */
export function unitsToDeg(axis: AxisProfile, units: number): number {
  return units / axis.unitsPerDeg
}

/** Top speed of an axis, degrees per second. */
export function topSpeed(axis: AxisProfile): number {
  return axis.speedsDegPerSec[axis.speedsDegPerSec.length - 1]!
}
