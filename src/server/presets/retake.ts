/** Takes a preset's picture anew, where its camera stands at it. */
import { isHere } from '../../core/presets/pose'
import type { Member } from '../fleet'
import type { PresetView } from '../store/catalogue'
import type { Database } from '../store/database'
import { amendPreset } from '../store/presets'

const POSE_TIMEOUT_MS = 2500

/** @returns what hinders it, in a sentence; null when it is done */
export async function retake(
  db: Database,
  { camera, pictures }: Member,
  preset: PresetView,
): Promise<string | null> {
  const pose = await camera.restingPose(POSE_TIMEOUT_MS)
  if (!pose) return 'The camera is still moving, or does not answer. Let it come to rest, then try again.'
  const curve = camera.profile.lens.zoomCurve
  const range = curve[curve.length - 1]![0] - curve[0]![0]
  if (!isHere(pose, preset.pose, range)) return 'The camera does not stand at this preset. Recall it first.'
  const jpeg = await pictures.fresh()
  if (!jpeg) return 'The camera sent no picture. The former one is kept.'
  await amendPreset(db, preset.id, { jpeg })
  return null
}
