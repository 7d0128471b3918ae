/** Is what was computed of a room to be believed? */
import { lengthOf, minus } from './placed'
import type { RoomSolved } from './room'

/** Of the room's size: a camera whose place is less sure than this could stand anywhere. */
const MOST_UNSURE = 0.15
/**
 * So many touches must fit within this, degrees: a few of them always fit some room, whatever was touched; one point
 * of six that was touched wrongly is found out.
 */
const [MOST, MOST_OFF_DEG] = [0.8, 2]

/** How well this share of the touches fits, degrees. */
function offOf({ off }: RoomSolved, share: number): number {
  const all = off.map(({ deg }) => deg).sort((a, b) => a - b)
  return all[Math.floor(share * all.length)] ?? 0
}

export const middleOff = (solved: RoomSolved): number => offOf(solved, 0.5)

/** Too few touches, too near to each other, or of different things in each camera. */
export function isDoubtful(solved: RoomSolved): boolean {
  const { cameras, points } = solved
  const places = [...cameras, ...points].map(({ at }) => at)
  const size = Math.max(...places.flatMap((a, i) => places.slice(i + 1).map((b) => lengthOf(minus(a, b)))))
  // Not a number is not sure either.
  const sure = cameras.every(({ sigma }) => sigma === null || sigma < MOST_UNSURE * size)
  return !sure || !(offOf(solved, MOST) < MOST_OFF_DEG)
}
