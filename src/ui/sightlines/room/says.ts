/** What the room's computation came to, in words. */
import { LEAST_SHARED, type RoomView } from '../../../core/room/room'
import type { CameraView } from '../../../server/api'

type Named = Pick<CameraView, 'id' | 'number'>

/** A touch so far from where all others have its point was probably of something else. */
const WRONG_DEG = 1.5

export function worstOf({ solved }: Pick<RoomView, 'solved'>) {
  const worst = solved?.off.reduce<(typeof solved.off)[number] | null>(
    (most, one) => (one.deg > (most?.deg ?? 0) ? one : most),
    null,
  )
  return worst && worst.deg >= WRONG_DEG ? worst : null
}

export function middleOff({ solved }: Pick<RoomView, 'solved'>): number | null {
  const all = solved?.off.map(({ deg }) => deg).sort((a, b) => a - b) ?? []
  return all.length > 0 ? all[all.length >> 1]! : null
}

export function roomSays(room: RoomView, cameras: readonly Named[]): string {
  const { solved } = room
  if (!solved)
    return `Nobody knows yet where the cameras stand. Touch the same ${LEAST_SHARED} points or more in two cameras.`
  const numbers = (ids: readonly string[]) =>
    cameras
      .filter(({ id }) => ids.includes(id))
      .map(({ number }) => number)
      .join(', ')
  const placed = numbers(solved.cameras.map(({ cameraId }) => cameraId))
  const off = middleOff(room)
  const fit = off === null ? '' : ` Touches fit within ${Math.max(0.1, off).toFixed(1)}°.`
  const left = solved.left.flatMap(({ cameraId, shares }) => {
    const camera = cameras.find(({ id }) => id === cameraId)
    return camera
      ? [` Camera ${camera.number} shares ${shares} points with them: ${LEAST_SHARED} are needed.`]
      : []
  })
  const size = solved.measured ? '' : ' Sizes are unknown until one length is given, on the plan.'
  return `Placed: cameras ${placed}.${fit}${left.join('')}${size}`
}
