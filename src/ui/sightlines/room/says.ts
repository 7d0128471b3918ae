/** What the room's computation came to, in words. */
import { middleOff } from '../../../core/room/doubt'
import { LEAST_SHARED } from '../../../core/room/room'
import type { CameraView } from '../../../server/api'
import type { RoomSeen } from './roomSeen'

type Named = Pick<CameraView, 'id' | 'number'>

/** A touch so far from where all others have its point was probably of something else. */
const WRONG_DEG = 1.5

export function worstOf({ found }: Pick<RoomSeen, 'found'>) {
  const worst = found?.off.reduce<(typeof found.off)[number] | null>(
    (most, one) => (one.deg > (most?.deg ?? 0) ? one : most),
    null,
  )
  return worst && worst.deg >= WRONG_DEG ? worst : null
}

export function roomSays(room: RoomSeen, cameras: readonly Named[]): string {
  const { solved, found } = room
  if (found && !solved)
    return '△ These touches do not tell yet where the cameras stand. Touch points that are further apart and at other heights, and see that each is the same thing in every camera.'
  if (!solved)
    return `Nobody knows yet where the cameras stand. Touch the same ${LEAST_SHARED} points or more in two cameras.`
  const numbers = (ids: readonly string[]) =>
    cameras
      .filter(({ id }) => ids.includes(id))
      .map(({ number }) => number)
      .join(', ')
  const placed = numbers(solved.cameras.map(({ cameraId }) => cameraId))
  const fit = ` Touches fit within ${Math.max(0.1, middleOff(solved)).toFixed(1)}°.`
  const left = solved.left.flatMap(({ cameraId, shares }) => {
    const camera = cameras.find(({ id }) => id === cameraId)
    return camera
      ? [` Camera ${camera.number} shares ${shares} points with them: ${LEAST_SHARED} are needed.`]
      : []
  })
  const size = solved.measured ? '' : ' Sizes are unknown until one length is given, on the plan.'
  return `Placed: cameras ${placed}.${fit}${left.join('')}${size}`
}
