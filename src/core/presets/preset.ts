/**
 * What a preset consists of, each field once: the database's rows, the API, the venue file and the history
 * take them from here.
 */
import * as v from 'valibot'
import { Light } from '../cameras/light'
import { PresetBoard } from './board'
import { ALL_PARTS, Pace, Parts } from './pace'
import { PresetPose } from './pose'

export const PresetName = v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60))
export const PresetNumber = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(9999))
/** The camera's own memory that holds a preset too, from 1. */
export const MemoryNumber = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(128))

/** What can change without storing again. */
export const PRESET_SAID = {
  name: PresetName,
  /** The heading that it stands under; '' for none. */
  section: PresetBoard.section,
  mark: PresetBoard.mark,
  /** Null: as its camera's default is. */
  pace: v.nullable(Pace),
  parts: Parts,
  /** The look that is recalled with it, at its camera alone. */
  look: v.nullable(v.pipe(v.string(), v.uuid())),
}

/** What each store keeps, and the history shows. */
export const PRESET_STORED = {
  /** Null if the camera does not report its position: it is in the camera's own memory alone. */
  pose: v.nullable(PresetPose),
  /** Exposure and white balance, if they were asked for. */
  light: v.nullable(Light),
}

export const PresetView = v.object({
  id: v.string(),
  cameraId: v.string(),
  number: v.number(),
  order: v.number(),
  ...PRESET_SAID,
  version: v.number(),
  ...PRESET_STORED,
  memory: v.nullable(v.number()),
  /** Place on the board of pinned presets; null if it is not pinned. */
  pinned: v.nullable(v.number()),
  pictureId: v.nullable(v.string()),
  /** The picture was cut out of a survey; the camera has not been there since. */
  surveyed: v.boolean(),
  /** ISO 8601. */
  storedAt: v.string(),
})
export type PresetView = v.InferOutput<typeof PresetView>

export const VersionView = v.object({
  version: v.number(),
  ...PRESET_STORED,
  pictureId: v.nullable(v.string()),
  storedAt: v.string(),
})
export type VersionView = v.InferOutput<typeof VersionView>

/** What may be changed without storing again. */
export const PresetChange = v.partial(v.object({ ...PRESET_SAID, pinned: v.boolean() }))
export type PresetChange = v.InferOutput<typeof PresetChange>

/** The defaults of a new preset. */
export const USUAL_SAID = { section: '', mark: '', pace: null, parts: ALL_PARTS, look: null }
