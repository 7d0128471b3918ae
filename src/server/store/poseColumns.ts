/** A pose and its columns: all of them, or none where the camera does not report its position. */
import type { PresetPose } from '../../core/presets/pose'
import type { presetVersion } from './schema'

type Row = Pick<typeof presetVersion.$inferSelect, 'panDeg' | 'tiltDeg' | 'zoom' | 'focusAuto' | 'focus'>

export function poseOf({ panDeg, tiltDeg, zoom, focusAuto, focus }: Row): PresetPose | null {
  if (panDeg === null || tiltDeg === null || zoom === null || focusAuto === null) return null
  return { panDeg, tiltDeg, zoom, focusAuto, focus }
}

export function poseColumns(pose: PresetPose | null): Row {
  if (!pose) return { panDeg: null, tiltDeg: null, zoom: null, focusAuto: null, focus: null }
  const { panDeg, tiltDeg, zoom, focusAuto, focus } = pose
  return { panDeg, tiltDeg, zoom, focusAuto, focus }
}
