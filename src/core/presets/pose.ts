/** Where a camera looks, and when two such poses are the same. Angles in degrees, zoom in the lens's own units. */
import * as v from 'valibot'

/** Pan and tilt as a head itself counts, whatever its profile makes of it. */
export const Encoder = v.object({ pan: v.number(), tilt: v.number() })
export type Encoder = v.InferOutput<typeof Encoder>

/** Each axis is known by itself: null is what the camera did not report. */
export const PresetPose = v.object({
  panDeg: v.nullable(v.number()),
  tiltDeg: v.nullable(v.number()),
  zoom: v.nullable(v.number()),
  focusAuto: v.nullable(v.boolean()),
  /** Focus position in the lens's own units. */
  focus: v.nullable(v.number()),
  /** Poses that were stored by older versions have none. */
  encoder: v.optional(v.nullable(Encoder), null),
})
export type PresetPose = v.InferOutput<typeof PresetPose>

/** Where it points, and how far it is zoomed in. */
export interface Aimed {
  panDeg: number
  tiltDeg: number
  zoom: number
}

/** The pose where all that aims the camera is known; else null. */
export function aimed<P extends { panDeg: number | null; tiltDeg: number | null; zoom: number | null }>(
  pose: P | null,
): (P & Aimed) | null {
  if (!pose || pose.panDeg === null || pose.tiltDeg === null || pose.zoom === null) return null
  return pose as P & Aimed
}

/** What of a pose is not known, as the operator calls it. */
export function unknownOf({
  panDeg,
  tiltDeg,
  zoom,
}: Pick<PresetPose, 'panDeg' | 'tiltDeg' | 'zoom'>): string[] {
  return [
    ...(panDeg === null ? ['pan'] : []),
    ...(tiltDeg === null ? ['tilt'] : []),
    ...(zoom === null ? ['zoom'] : []),
  ]
}

/** What the camera reports, with what follows from it. */
export const LivePose = v.object({
  ...PresetPose.entries,
  /** Null if the zoom is not known. */
  hfovDeg: v.nullable(v.number()),
  power: v.boolean(),
  moving: v.boolean(),
  /** The camera holds an older picture while it travels: what is seen is not now. */
  held: v.boolean(),
  /** It moves, or has just moved, and was read too long ago to be relied on. */
  late: v.boolean(),
  /** When it was true, ms since 1970 on the server's clock. */
  atMs: v.number(),
})
export type LivePose = v.InferOutput<typeof LivePose>

export type Axes = Pick<PresetPose, 'panDeg' | 'tiltDeg' | 'zoom'>

const apart = (a: number | null, b: number | null): number => (a === null || b === null ? 0 : Math.abs(a - b))

/** The larger of the pan and tilt differences, degrees; an axis that is not known counts as the same. */
export function offByDeg(a: Axes, b: Axes): number {
  return Math.max(apart(a.panDeg, b.panDeg), apart(a.tiltDeg, b.tiltDeg))
}

/** How far off counts as being there. */
export interface Tolerance {
  deg: number
  /** In the lens's own units. */
  zoom: number
}

/** As far as both are known; never where nothing is. */
export function isHere(pose: Axes, preset: Axes, { deg, zoom }: Tolerance): boolean {
  const known =
    (pose.panDeg !== null && preset.panDeg !== null) || (pose.zoom !== null && preset.zoom !== null)
  return known && offByDeg(pose, preset) <= deg && apart(pose.zoom, preset.zoom) <= zoom
}
