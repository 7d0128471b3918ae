/** Where a camera looks, and when two such poses are the same. Angles in degrees, zoom in the lens's own units. */
import * as v from 'valibot'

export const PresetPose = v.object({
  panDeg: v.number(),
  tiltDeg: v.number(),
  zoom: v.number(),
  focusAuto: v.boolean(),
  /** Focus position in the lens's own units; null if the camera did not report it. */
  focus: v.nullable(v.number()),
})
export type PresetPose = v.InferOutput<typeof PresetPose>

/** What the camera reports, with what follows from it. */
export const LivePose = v.object({
  ...PresetPose.entries,
  hfovDeg: v.number(),
  power: v.boolean(),
  moving: v.boolean(),
  /** The camera holds an older picture while it travels: what is seen is not now. */
  held: v.boolean(),
  /** When it was true, ms since 1970 on the server's clock. */
  atMs: v.number(),
})
export type LivePose = v.InferOutput<typeof LivePose>

/** Within these a camera counts as standing at a preset. */
export const HERE = { deg: 0.1, zoomShare: 0.004 }

/** The larger of the pan and tilt differences, degrees. */
export function offByDeg(
  a: { panDeg: number; tiltDeg: number },
  b: { panDeg: number; tiltDeg: number },
): number {
  return Math.max(Math.abs(a.panDeg - b.panDeg), Math.abs(a.tiltDeg - b.tiltDeg))
}

/** @param zoomRange the span of the zoom units, for the tolerance */
export function isHere(
  pose: { panDeg: number; tiltDeg: number; zoom: number },
  preset: { panDeg: number; tiltDeg: number; zoom: number },
  zoomRange: number,
): boolean {
  return offByDeg(pose, preset) <= HERE.deg && Math.abs(pose.zoom - preset.zoom) <= HERE.zoomShare * zoomRange
}
