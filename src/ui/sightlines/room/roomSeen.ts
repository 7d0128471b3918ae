import { isDoubtful } from '../../../core/room/doubt'
import type { RoomSolved, RoomView } from '../../../core/room/room'

export interface RoomSeen extends RoomView {
  /** What was computed, to be believed or not; `solved` is null where it is not. */
  found: RoomSolved | null
}

/** Nothing is drawn, offered or turned by what the touches do not really tell. */
export const seenOf = (room: RoomView): RoomSeen => ({
  ...room,
  found: room.solved,
  solved: room.solved && !isDoubtful(room.solved) ? room.solved : null,
})
