/** What the fields of orders have in common. */
import * as v from 'valibot'
import { Pace } from '../presets/pace'

export const Id = v.pipe(v.string(), v.maxLength(64))
/** A share of full deflection, or a place in the picture: -1..1, right and up positive. */
export const Deflection = v.pipe(v.number(), v.minValue(-1), v.maxValue(1))
export const Point = { u: Deflection, v: Deflection }
/**
 * How a move travels: `pace` null is the usual one, or as fast as the camera can. `atLeastSeconds`: it takes no less
 * than this, whatever its pace.
 */
export const Travelling = {
  pace: v.optional(v.nullable(Pace), null),
  atLeastSeconds: v.optional(v.nullable(v.pipe(v.number(), v.minValue(0.5), v.maxValue(60))), null),
}
/** A move that travels as is usual. */
export const AS_USUAL = { pace: null, atLeastSeconds: null } as const
/** A drive step of a head, 0 at rest. */
export const DriveStep = v.pipe(v.number(), v.integer(), v.minValue(-64), v.maxValue(64))
/** How long it is driven: no longer than a sweep from end to end takes. */
export const RunSeconds = v.pipe(v.number(), v.minValue(0.1), v.maxValue(40))
export const Level = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(9))
export const PictureWidths = v.pipe(v.number(), v.minValue(-0.5), v.maxValue(0.5))
export const MemoryNumber = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(128))
