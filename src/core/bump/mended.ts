/** Everything of a camera's that a bump has moved, as it is to be now. Angles in degrees. */
import { type HeadProfile, turnedBy } from '../heads/profile'
import { nearTurn, type PanTilt } from '../optics/aim'
import type { Sight } from '../optics/sight'
import type { PresetPose } from '../presets/pose'
import type { Limits } from '../stick/speeds'
import { onSphere } from '../survey/plan'
import { type Bump, turnedPlace } from './bump'

const RAD = Math.PI / 180

/** Where something now is that a camera saw there: by the shorter way round. */
export function mendedPlace(at: PanTilt, bump: Bump): PanTilt {
  const now = turnedPlace(at, bump)
  return { panDeg: nearTurn(now.panDeg, at.panDeg), tiltDeg: now.tiltDeg }
}

/** Looks where it looked; as large as it was, as far as the lens goes. A pose that is not known stays unknown. */
export function mendedPose<P extends PresetPose>(
  pose: P,
  bump: Bump,
  profile: HeadProfile,
  { turned, lens }: Pick<Sight, 'turned' | 'lens'>,
  lensToo: boolean,
): P {
  const { panDeg, tiltDeg, zoom } = pose
  if (panDeg === null || tiltDeg === null) return pose
  const head = turned(mendedPlace(turned({ panDeg, tiltDeg }), bump))
  const at = turnedBy(profile, pose, { panDeg: head.panDeg - panDeg, tiltDeg: head.tiltDeg - tiltDeg })
  if (!lensToo || zoom === null) return at
  const wide = Math.tan((lens.hfovDeg(zoom) * RAD) / 2) * bump.larger
  return { ...at, zoom: lens.zoomForHfov((2 * Math.atan(wide)) / RAD) }
}

/** Each edge where it now is in the middle of the range; an edge that was not set stays so. */
export function mendedLimits(
  limits: Limits,
  bump: Bump,
  { turned, seen }: Pick<Sight, 'turned' | 'seen'>,
): Limits {
  // Of a head that its profile does not describe the ends are not known.
  const { pan, tilt } = onSphere({ pan: seen.pan, tilt: seen.tilt })
  const middle = turned({
    panDeg: (pan.minDeg + pan.maxDeg) / 2,
    tiltDeg: (tilt.minDeg + tilt.maxDeg) / 2,
  })
  const moved = (at: Partial<PanTilt>) => turned(mendedPlace(turned({ ...middle, ...at }), bump))
  const panOf = (deg: number | null) => (deg === null ? null : moved({ panDeg: deg }).panDeg)
  const tiltOf = (deg: number | null) => (deg === null ? null : moved({ tiltDeg: deg }).tiltDeg)
  return {
    panMinDeg: panOf(limits.panMinDeg),
    panMaxDeg: panOf(limits.panMaxDeg),
    tiltMinDeg: tiltOf(limits.tiltMinDeg),
    tiltMaxDeg: tiltOf(limits.tiltMaxDeg),
  }
}
