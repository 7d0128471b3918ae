/** Presets of which it is known where they point and how far they are zoomed in. */
import { type Aimed, aimed, type PresetPose } from '../../core/presets/pose'
import type { PresetView } from '../../server/api'

export type Posed = PresetView & { pose: PresetPose & Aimed }

export const posed = (presets: readonly PresetView[]): Posed[] =>
  presets.filter((p): p is Posed => aimed(p.pose) !== null)
