/** Who sits here and what they may: what they may not is not offered. */
import useSWR from 'swr'
import type { Right } from '../../core/people/rights'
import type { Me } from '../../core/people/views'
import { readMe } from '../api/people'

/** Undefined while it is not known. */
export const useMe = () =>
  useSWR<Me, Error>('me', readMe, {
    keepPreviousData: true,
    revalidateOnFocus: false,
    errorRetryInterval: 2000,
  })

/** Before it is known, and while the server is away, as the server will have it: it decides. */
export function useMay(right: Right): boolean {
  const { data } = useMe()
  return data?.rights.includes(right) ?? true
}

/** Nothing is hidden from them. */
export function useEverywhere(): boolean {
  const { data } = useMe()
  if (!data) return true
  const { cameras, sections, cues, desk } = data.reach
  return cameras === null && sections === null && cues === null && desk === null
}
