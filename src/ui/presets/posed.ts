/** Presets whose pose is known: those of cameras that report their position. */
import type { PresetPose } from '../../core/presets/pose'
import type { PresetView } from '../../server/api'

export type Posed = PresetView & { pose: PresetPose }

export const posed = (presets: readonly PresetView[]): Posed[] =>
  presets.filter((p): p is Posed => p.pose !== null)
