/** The head profiles of the open venue, and the one of a camera. */
import { useMemo } from 'react'
import useSWR from 'swr'
import { type HeadProfile, opened } from '../../core/heads/profile'
import { profileOf } from '../../core/heads/registry'
import type { CameraView, DeskView } from '../../server/api'
import { readDesk } from '../api/client'

const NONE: readonly HeadProfile[] = []

/** The venue's own. */
export const useOwnProfiles = (): readonly HeadProfile[] =>
  useSWR<DeskView, Error>('desk', readDesk, { revalidateIfStale: false, revalidateOnFocus: false }).data
    ?.headProfiles ?? NONE

/** Without ends while it is not known to describe the head. */
export function useHead({
  headProfile,
  headConfirmed,
}: Pick<CameraView, 'headProfile' | 'headConfirmed'>): HeadProfile {
  const own = useOwnProfiles()
  return useMemo(() => {
    const found = profileOf(headProfile, own)
    return headConfirmed ? found : opened(found)
  }, [headProfile, headConfirmed, own])
}
