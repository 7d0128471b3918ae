/** Takes a preset's picture again, where its camera stands at it. */
import { isHere } from '../../core/presets/pose'
import type { PresetView } from '../../core/presets/preset'
import type { Member } from '../fleet'
import type { Database } from '../store/database'
import { amendPreset } from '../store/versions'
import { POSE_TIMEOUT_MS } from './takeShot'

/** @returns what prevents it, in a sentence; null when it is done */
export async function retake(
  db: Database,
  { camera, pictures }: Member,
  preset: PresetView,
): Promise<string | null> {
  // Where no pose is known, the operator has seen to it that the camera stands there.
  if (preset.pose) {
    const pose = await camera.restingPose(POSE_TIMEOUT_MS)
    if (!pose) return 'The camera is still moving, or does not answer. Let it come to rest, then try again.'
    if (!isHere(pose, preset.pose, camera.arrival))
      return 'The camera does not stand at this preset. Recall it first.'
  }
  const jpeg = await pictures.fresh()
  if (!jpeg) return 'The camera sent no picture. The former one is kept.'
  return (await amendPreset(db, preset.id, { jpeg })) ? null : 'This preset no longer exists.'
}
