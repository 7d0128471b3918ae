/** What the Desk knows of one camera, without what changes many times a second: that is each part's own to follow. */
import { useMemo } from 'react'
import type { Capabilities } from '../../core/facts/capabilities'
import { type Health, isUsable } from '../../core/facts/health'
import { arrivalOf, type HeadProfile } from '../../core/heads/profile'
import { createLens, type Lens } from '../../core/optics/lens'
import { type Sight, sightOf } from '../../core/optics/sight'
import { DIGITAL_ZOOM } from '../../core/picture/settings'
import type { LivePose, Tolerance } from '../../core/presets/pose'
import { NO_LIMITS } from '../../core/stick/speeds'
import type { CameraView } from '../../server/api'
import { useConnected, useFact } from '../live/hooks'
import { useFactValue } from '../live/useFactValue'
import { useHead } from '../live/useHead'

export interface DeskCamera {
  view: CameraView
  profile: HeadProfile
  lens: Lens
  health: Health | null
  able: Capabilities | null
  /** May it be driven now? */
  enabled: boolean
  /** How far off counts as being there. */
  arrival: Tolerance
  /** As the operator sees it. */
  sight: Sight
}

export function useCamera(view: CameraView): DeskCamera {
  const connected = useConnected()
  const health = useFact('health', view.id)
  const able = useFact('able', view.id)
  const profile = useHead(view)
  const lens = useMemo(() => createLens(profile.lens), [profile])
  const arrival = useMemo(() => arrivalOf(profile), [profile])
  const digital = useFactValue('settings', view.id, (values) => values?.[DIGITAL_ZOOM] === true)
  const hung = JSON.stringify([view.mount, view.limits])
  // biome-ignore lint/correctness/useExhaustiveDependencies: the text says how it hangs and what limits it
  const sight = useMemo(
    () => sightOf({ profile, lens, mount: view.mount, limits: view.limits ?? NO_LIMITS, digital }),
    [profile, lens, hung, digital],
  )
  return {
    view,
    profile,
    lens,
    health,
    able,
    enabled: view.enabled && connected === true && health !== null && isUsable(health.state),
    arrival,
    sight,
  }
}

/** Often enough to look steady, ms. */
const POSE_EVERY_MS = 70

/** Where a camera stands; null if it is not known. */
export const usePose = (camera: string): LivePose | null =>
  useFactValue('pose', camera, (pose) => pose ?? null, POSE_EVERY_MS)
