/** Where cameras stand, from what was touched in them. */
import type { RoomMarks, RoomSolved } from '../../core/room/room'
import { solveRoom } from '../../core/room/solveRoom'

export const roomOf = (marks: RoomMarks): RoomSolved | null => solveRoom(marks)
