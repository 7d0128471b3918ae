/** Puts a preset into its camera's own memory too: the camera stores what it looks at, so it must stand there. */

import type { CameraOrder } from '../../core/orders/orders'
import { isHere } from '../../core/presets/pose'
import type { PresetView } from '../../core/presets/preset'
import type { CameraResult } from '../cameras/camera'
import type { Member } from '../fleet'
import { POSE_TIMEOUT_MS } from './takeShot'

/** @returns what prevents it, in a sentence; null when it is done */
export async function putIntoMemory(
  member: Member | null | undefined,
  preset: PresetView,
  memory: number,
  perform: (order: CameraOrder) => Promise<CameraResult>,
): Promise<string | null> {
  if (!member) return 'This camera is switched off in the desk, or no longer in the list.'
  const { camera } = member
  const { memories } = camera.capabilities
  if (memory > memories)
    return memories === 0
      ? 'This camera has no memories of its own.'
      : `This camera has ${memories} memories.`
  if (preset.pose) {
    // A camera that has just come to rest there is not waited for again.
    const at = camera.pose
    const stands = at && !at.moving && isHere(at, preset.pose, camera.arrival)
    const pose = stands ? at : await camera.restingPose(POSE_TIMEOUT_MS)
    if (!pose || !isHere(pose, preset.pose, camera.arrival))
      return 'The camera does not stand at this preset. Recall it first.'
  }
  const result = await perform({ t: 'memory', camera: preset.cameraId, action: 'set', number: memory })
  return result.ok ? null : result.message
}
