/** Live facts and stored data for components. */
import { useCallback, useEffect, useSyncExternalStore } from 'react'
import useSWR, { mutate as mutateOther } from 'swr'
import { type FactKind, type FactValue, SERVER } from '../../core/facts/facts'
import type { DeskView } from '../../server/api'
import { readDesk } from '../api/client'
import { live } from './live'

/** A fact as it is known now; null if it is not. */
export function useFact<K extends FactKind>(kind: K, about: string): FactValue<K> | null {
  const subscribe = useCallback(
    (listener: () => void) => live().facts.subscribe(kind, about, listener),
    [kind, about],
  )
  return useSyncExternalStore(subscribe, () => live().fact(kind, about))
}

const onConnection = (listener: () => void) => live().onConnection(listener)

/** Is the page connected to the server? Null before the first answer. */
export const useConnected = (): boolean | null => useSyncExternalStore(onConnection, () => live().connected)

/** How far away the desk is, in tenths of a second, where that is too far for a hand; null where it is near. */
export const useFar = (): number | null =>
  useSyncExternalStore(onConnection, () =>
    live().far ? Math.round((live().roundTripMs ?? 0) / 100) / 10 : null,
  )

/** Does the guardian watch over what moves? Null while it is not known. */
export const useGuarded = (): boolean | null => useFact('guarded', SERVER)

/** The open event; read again whenever the server says that it changed. */
export function useDesk() {
  const result = useSWR<DeskView, Error>('desk', readDesk, {
    errorRetryInterval: 2000,
    revalidateOnFocus: false,
    keepPreviousData: true,
  })
  const { mutate } = result
  useEffect(() => {
    live().onChanged = () => {
      void mutate()
      // What somebody may can have changed with it.
      void mutateOther('me')
      // So can surveys and the room, which a venue file brings.
      void mutateOther((key) => typeof key === 'string' && /^(surveys$|seat grids$|room )/.test(key))
    }
  }, [mutate])
  return result
}
