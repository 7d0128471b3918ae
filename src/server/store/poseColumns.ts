/** A pose and its columns. All of them are null where the camera does not report its position at all. */
import type { PresetPose } from '../../core/presets/pose'
import type { presetVersion } from './schema'

type Row = Pick<
  typeof presetVersion.$inferSelect,
  'panDeg' | 'tiltDeg' | 'zoom' | 'focusAuto' | 'focus' | 'encoder'
>

export function poseOf({ panDeg, tiltDeg, zoom, focusAuto, focus, encoder }: Row): PresetPose | null {
  if (panDeg === null && tiltDeg === null && zoom === null) return null
  return { panDeg, tiltDeg, zoom, focusAuto, focus, encoder }
}

export function poseColumns(pose: PresetPose | null): Row {
  if (!pose) return { panDeg: null, tiltDeg: null, zoom: null, focusAuto: null, focus: null, encoder: null }
  const { panDeg, tiltDeg, zoom, focusAuto, focus, encoder } = pose
  return { panDeg, tiltDeg, zoom, focusAuto, focus, encoder }
}
