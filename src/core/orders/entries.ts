/** What the fields of orders have in common. */
import * as v from 'valibot'

export const Id = v.pipe(v.string(), v.maxLength(64))
/** A share of full deflection, or a place in the picture: -1..1, right and up positive. */
export const Deflection = v.pipe(v.number(), v.minValue(-1), v.maxValue(1))
export const Point = { u: Deflection, v: Deflection }
/** How long a move is to take, s; null: as fast as the camera can. */
export const Seconds = v.nullable(v.pipe(v.number(), v.minValue(0.5), v.maxValue(60)))
export const Level = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(9))
export const PictureWidths = v.pipe(v.number(), v.minValue(-0.5), v.maxValue(0.5))
export const MemoryNumber = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(128))
