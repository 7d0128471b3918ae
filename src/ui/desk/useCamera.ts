/** All that the Desk knows of one camera. */
import { useMemo } from 'react'
import type { HeadProfile } from '../../core/heads/profile'
import { DEFAULT_HEAD, headProfile, isHeadProfile } from '../../core/heads/registry'
import { type Capabilities, type Health, isUsable } from '../../core/live/messages'
import { createLens, type Lens } from '../../core/optics/lens'
import type { LivePose } from '../../core/presets/pose'
import type { Travel } from '../../core/presets/standing'
import type { CameraView } from '../../server/api'
import { useTopic } from '../live/hooks'

export interface DeskCamera {
  view: CameraView
  profile: HeadProfile
  lens: Lens
  pose: LivePose | null
  health: Health | null
  able: Capabilities | null
  travel: Travel | null
  /** May it be driven now? */
  enabled: boolean
  zoomRange: number
}

export function useCamera(view: CameraView): DeskCamera {
  const connected = useTopic('connected')
  const pose = useTopic(`pose/${view.id}`) ?? null
  const health = useTopic(`health/${view.id}`) ?? null
  const able = useTopic(`able/${view.id}`) ?? null
  const travel = useTopic(`travel/${view.id}`) ?? null
  const { profile, lens } = useMemo(() => {
    const found = headProfile(isHeadProfile(view.headProfile) ? view.headProfile : DEFAULT_HEAD)
    return { profile: found, lens: createLens(found.lens) }
  }, [view.headProfile])
  return {
    view,
    profile,
    lens,
    pose,
    health,
    able,
    travel,
    enabled: view.enabled && connected === true && health !== null && isUsable(health.state),
    zoomRange: lens.tele - lens.wide,
  }
}
