/** What a store keeps: where the camera stands, its picture and, if asked for, its exposure and white balance. */

import { isBlind } from '../../core/facts/capabilities'
import type { CameraOrder } from '../../core/orders/orders'
import { type PresetPose, unknownOf } from '../../core/presets/pose'
import type { CameraResult, RestingPose } from '../cameras/camera'
import type { Member } from '../fleet'
import type { Shot } from '../store/versions'

export const POSE_TIMEOUT_MS = 2500

export interface ShotWish {
  /** Exposure and white balance too. */
  light: boolean
  /** The camera's own memory that it is to go into as well; null for none. */
  memory: number | null
}

/** Why there is no shot, in a sentence for the operator. */
export class NoShot extends Error {}

export type TakenShot = Shot & { warning: string | null }

const NO_MEMORY =
  'This camera does not report its position, so a preset can only be kept in its own memories. Give the number of one.'

const NOT_WHOLE = (what: string) =>
  `The camera does not report its ${what}, so this preset leaves that as it is. Store it in a memory of the camera too to have all of it.`

export const bare = ({ panDeg, tiltDeg, zoom, focusAuto, focus, encoder }: PresetPose): PresetPose => ({
  panDeg,
  tiltDeg,
  zoom,
  focusAuto,
  focus,
  encoder,
})

async function restingPose({ camera }: Member): Promise<RestingPose> {
  const pose = await camera.restingPose(POSE_TIMEOUT_MS)
  if (pose) return pose
  const { state } = camera.health
  throw new NoShot(
    state === 'ready' || state === 'slow'
      ? 'The camera is still moving. Let it come to rest, then store.'
      : 'The camera does not answer, so there is no pose to store. Check its power and its cable.',
  )
}

/** @throws NoShot */
export async function takeShot(
  member: Member | null | undefined,
  wish: ShotWish,
  perform: (order: CameraOrder) => Promise<CameraResult>,
): Promise<TakenShot> {
  if (!member) throw new NoShot('This camera is switched off in the desk, or no longer in the list.')
  const { camera, pictures } = member
  if (camera.health.state === 'standby')
    throw new NoShot('The camera is in standby. Switch it on, then store.')
  const tells = !isBlind(camera.capabilities)
  if (!tells && wish.memory === null) throw new NoShot(NO_MEMORY)
  const warnings: string[] = []
  const pose = tells ? await restingPose(member) : null
  const unknown = pose ? unknownOf(pose) : []
  if (unknown.length > 0 && wish.memory === null) warnings.push(NOT_WHOLE(unknown.join(' and ')))
  if (pose && !pose.focused) warnings.push('The focus was still searching: look at the picture.')
  if (wish.memory !== null) {
    const kept = await perform({ t: 'memory', camera: member.row.id, action: 'set', number: wish.memory })
    // Without a pose it would be kept nowhere.
    if (!kept.ok && !pose) throw new NoShot(kept.message)
    if (!kept.ok) warnings.push(`It is not in the camera's memory ${wish.memory}: ${kept.message}`)
  }
  const light = wish.light ? await camera.light() : null
  if (wish.light && !light) warnings.push('The camera did not tell its exposure and white balance.')
  const jpeg = await pictures.fresh()
  if (!jpeg) warnings.push('Stored without a picture: the camera sent none. Store again to add one.')
  return {
    pose: pose && bare(pose),
    light,
    jpeg,
    takenAt: new Date(),
    warning: warnings.join(' ') || null,
  }
}
