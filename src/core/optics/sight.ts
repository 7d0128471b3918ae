/**
 * A camera as its operator sees it: head and lens with the limits that were set and the way it hangs. Poses
 * are kept as the head has them; everything on the screen, and everything a hand does, goes through here.
 */
import type { Mount } from '../cameras/connection'
import { turnedPose, turnedProfile } from '../cameras/mount'
import type { HeadProfile } from '../heads/profile'
import { type Bounds, boundsOf, type Limits } from '../stick/speeds'
import type { Lens } from './lens'
import type { View } from './sphere'

export interface Sight {
  readonly lens: Lens
  readonly mount: Mount
  /** Where it may be driven, as the head has it. */
  readonly bounds: Bounds
  /** The head with the ends that the operator sees: limits as its ends, right where the picture has right. */
  readonly seen: HeadProfile
  /** From the head to the operator, and the other way round: turning twice changes nothing. */
  turned<P extends { panDeg: number; tiltDeg: number }>(pose: P): P
  /** What is in the picture when the head stands at a pose. */
  view(pose: { panDeg: number; tiltDeg: number; zoom: number }): View
}

export interface SightOf {
  profile: HeadProfile
  lens: Lens
  mount: Mount
  limits: Limits
  /** Its zoom enlarges digitally beyond the tele end. */
  digital: boolean
}

export function sightOf({ profile, lens, mount, limits, digital }: SightOf): Sight {
  const bounds = boundsOf(profile, limits, digital)
  const limited: HeadProfile = {
    ...profile,
    pan: { ...profile.pan, minDeg: bounds.pan.min, maxDeg: bounds.pan.max },
    tilt: { ...profile.tilt, minDeg: bounds.tilt.min, maxDeg: bounds.tilt.max },
  }
  return {
    lens,
    mount,
    bounds,
    seen: turnedProfile(limited, mount),
    turned: (pose) => turnedPose(pose, mount),
    view({ panDeg, tiltDeg, zoom }) {
      const at = turnedPose({ panDeg, tiltDeg }, mount)
      const { bend } = profile.lens
      return { ...at, hfovDeg: lens.hfovDeg(zoom), vfovDeg: lens.vfovDeg(zoom), ...(bend ? { bend } : {}) }
    },
  }
}
