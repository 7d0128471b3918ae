/** A survey as it is kept, and as the pages see it. */
import * as v from 'valibot'
import { SurveyMap } from './map'

/** Side of the pieces in which its picture is kept, px. */
export const TILE = 512

export const SurveyAbout = v.object({
  map: SurveyMap,
  /** How often it was halved, and once more: level 0 is the whole. */
  levels: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(12)),
  /** How many pictures it is made of. */
  pictures: v.number(),
  /** How far neighbouring pictures are off each other, px of the map; null where nothing could be compared. */
  seams: v.object({ medianPx: v.nullable(v.number()), worstPx: v.nullable(v.number()) }),
})
export type SurveyAbout = v.InferOutput<typeof SurveyAbout>

const Deg = v.pipe(v.number(), v.minValue(-720), v.maxValue(720))
const Angle = v.pipe(v.number(), v.gtValue(0), v.maxValue(179))

/** How a picture of a survey was taken, as the operator has it. */
export const SurveyShot = v.object({
  view: v.object({
    panDeg: Deg,
    tiltDeg: Deg,
    hfovDeg: Angle,
    vfovDeg: Angle,
    bend: v.optional(v.tuple([v.number(), v.number()])),
    rollDeg: v.optional(Deg),
  }),
  /** Its brightness against the others; 1 is unchanged. */
  gain: v.pipe(v.number(), v.gtValue(0), v.maxValue(1000)),
  /** How often it was renewed since, in part. */
  age: v.pipe(v.number(), v.integer(), v.minValue(0)),
})

/** A piece of a survey's map. */
export const SurveyPiece = v.object({
  level: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(12)),
  column: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(100)),
  row: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(100)),
})

export const SurveyView = v.object({
  id: v.string(),
  cameraId: v.string(),
  /** ISO 8601. */
  takenAt: v.string(),
  ...SurveyAbout.entries,
})
export type SurveyView = v.InferOutput<typeof SurveyView>

export const SURVEY_FORMAT = 'steady-heron/survey'

/**
 * Beside a survey's picture: the direction at pixel (x, y) from the upper left corner is pan `panDeg + x / pxPerDeg`,
 * tilt `tiltDeg - y / pxPerDeg`, degrees, right and up positive.
 */
export const SurveyProjection = v.object({
  format: v.literal(SURVEY_FORMAT),
  version: v.literal(1),
  ...SurveyMap.entries,
  camera: v.nullable(v.object({ number: v.number(), name: v.string() })),
  takenAt: v.string(),
})
