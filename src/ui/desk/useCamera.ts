/** All that the Desk knows of one camera. */
import { useMemo } from 'react'
import type { HeadProfile } from '../../core/heads/profile'
import { headProfile } from '../../core/heads/registry'
import type { Health } from '../../core/live/messages'
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
  travel: Travel | null
  /** May it be driven now? */
  enabled: boolean
  zoomRange: number
}

export function useCamera(view: CameraView): DeskCamera {
  const connected = useTopic('connected')
  const pose = useTopic(`pose/${view.id}`) ?? null
  const health = useTopic(`health/${view.id}`) ?? null
  const travel = useTopic(`travel/${view.id}`) ?? null
  const { profile, lens } = useMemo(() => {
    const found = headProfile(view.headProfile)
    return { profile: found, lens: createLens(found.lens) }
  }, [view.headProfile])
  const answers = health?.state === 'ready' || health?.state === 'slow'
  return {
    view,
    profile,
    lens,
    pose,
    health,
    travel,
    enabled: connected === true && answers,
    zoomRange: lens.tele - lens.wide,
  }
}
