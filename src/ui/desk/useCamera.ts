/** What the Desk knows of one camera, without what changes many times a second: that is each part's own to follow. */
import { useMemo } from 'react'
import type { HeadProfile } from '../../core/heads/profile'
import { DEFAULT_HEAD, headProfile, isHeadProfile } from '../../core/heads/registry'
import { type Capabilities, type Health, isUsable } from '../../core/live/messages'
import { createLens, type Lens } from '../../core/optics/lens'
import type { LivePose } from '../../core/presets/pose'
import type { CameraView } from '../../server/api'
import { useTopic } from '../live/hooks'
import { useLiveValue } from '../live/useLiveValue'

export interface DeskCamera {
  view: CameraView
  profile: HeadProfile
  lens: Lens
  health: Health | null
  able: Capabilities | null
  /** May it be driven now? */
  enabled: boolean
  zoomRange: number
}

export function useCamera(view: CameraView): DeskCamera {
  const connected = useTopic('connected')
  const health = useTopic(`health/${view.id}`) ?? null
  const able = useTopic(`able/${view.id}`) ?? null
  const { profile, lens } = useMemo(() => {
    const found = headProfile(isHeadProfile(view.headProfile) ? view.headProfile : DEFAULT_HEAD)
    return { profile: found, lens: createLens(found.lens) }
  }, [view.headProfile])
  return {
    view,
    profile,
    lens,
    health,
    able,
    enabled: view.enabled && connected === true && health !== null && isUsable(health.state),
    zoomRange: lens.tele - lens.wide,
  }
}

/** Often enough to look steady, ms. */
const POSE_EVERY_MS = 70

/** Where a camera stands; null where it is not known. */
export const usePose = (camera: string): LivePose | null =>
  useLiveValue(`pose/${camera}`, (pose) => pose ?? null, POSE_EVERY_MS)
