/** Live values and stored data for components, through SWR. */
import { useEffect } from 'react'
import useSWR from 'swr'
import useSWRSubscription from 'swr/subscription'
import type { DeskView } from '../../server/api'
import { readDesk } from '../api/client'
import { live, type Topics } from './live'

/** The newest value of a topic; undefined before the first. */
export function useTopic<K extends keyof Topics>(topic: K): Topics[K] | undefined {
  const { data } = useSWRSubscription<Topics[K], Error, string>(topic, (key: string, { next }) => {
    const now = live().get(key)
    if (now !== undefined) next(null, now as Topics[K])
    return live().subscribe(key, (value) => next(null, value as Topics[K]))
  })
  return data
}

/** The open event; read again whenever the server says that it changed. */
export function useDesk() {
  const result = useSWR<DeskView, Error>('desk', readDesk, {
    errorRetryInterval: 2000,
    revalidateOnFocus: false,
    keepPreviousData: true,
  })
  const { mutate } = result
  useEffect(() => {
    live().onChanged = () => void mutate()
  }, [mutate])
  return result
}
