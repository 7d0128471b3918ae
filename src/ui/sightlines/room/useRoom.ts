/** The room of the open event: read, and changed one change after another, whoever else changes it too. */
import { useEffect, useMemo } from 'react'
import useSWR, { mutate } from 'swr'
import { create } from 'zustand'
import { SERVER } from '../../../core/facts/facts'
import type { RoomKept, RoomView } from '../../../core/room/room'
import { putRoom, readRoom } from '../../api/client'
import { told } from '../../basics/told'
import { useFact } from '../../live/hooks'
import { type RoomSeen, seenOf } from './roomSeen'

/** What of the room is open, over whichever camera is chosen, and which point is touched next. */
export const useRoomMode = create((): { open: 'none' | 'points' | 'plan'; point: string | null } => ({
  open: 'none',
  point: null,
}))
export const openRoom = (open: 'none' | 'points' | 'plan') => useRoomMode.setState({ open })
export const choosePoint = (point: string | null) => useRoomMode.setState({ point })

const keyOf = (event: string) => `room ${event}`

export const keptOf = ({ points, length, pins, placed }: RoomKept): RoomKept => ({
  points,
  length,
  pins,
  placed,
})

/** Each waits for the one before. */
let before: Promise<unknown> = Promise.resolve()

/** @param edit is applied again to what somebody else has made of it meanwhile */
export function changeRoom(event: string, edit: (kept: RoomKept) => RoomKept): Promise<RoomView | null> {
  const work = before.then(() =>
    told(async () => {
      const attempt = async () => {
        const now = await readRoom()
        return putRoom(now.version, edit(keptOf(now)))
      }
      const next = await attempt().catch(attempt)
      await mutate(keyOf(event), next, { revalidate: false })
      return next
    }),
  )
  before = work
  return work
}

export const tookRoom = (event: string, view: RoomView) => mutate(keyOf(event), view, { revalidate: false })

export function useRoom(event: string): RoomSeen | undefined {
  const { data, mutate: again } = useSWR<RoomView>(keyOf(event), readRoom, { revalidateOnFocus: false })
  const changed = useFact('room', SERVER)
  useEffect(() => {
    if (changed?.event === event && data && changed.version > data.version) void again()
  }, [changed, event, data, again])
  return useMemo(() => data && seenOf(data), [data])
}
