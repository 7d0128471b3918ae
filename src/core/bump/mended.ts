/** Everything of a camera's that a bump has moved, as it is to be now. Angles in degrees. */
import { type HeadProfile, turnedBy } from '../heads/profile'
import { nearTurn } from '../optics/aim'
import type { Sight } from '../optics/sight'
import type { PresetPose } from '../presets/pose'
import type { Mark } from '../room/room'
import type { Limits } from '../stick/speeds'
import { type Bump, turnedPlace } from './bump'

const RAD = Math.PI / 180

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
  const was = turned({ panDeg, tiltDeg })
  const now = turnedPlace(was, bump)
  const head = turned({ panDeg: nearTurn(now.panDeg, was.panDeg), tiltDeg: now.tiltDeg })
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
  const middle = turned({
    panDeg: (seen.pan.minDeg + seen.pan.maxDeg) / 2,
    tiltDeg: (seen.tilt.minDeg + seen.tilt.maxDeg) / 2,
  })
  const moved = (at: { panDeg: number; tiltDeg: number }) => {
    const was = turned(at)
    const now = turnedPlace(was, bump)
    return turned({ panDeg: nearTurn(now.panDeg, was.panDeg), tiltDeg: now.tiltDeg })
  }
  const pan = (deg: number | null) =>
    deg === null ? null : moved({ panDeg: deg, tiltDeg: middle.tiltDeg }).panDeg
  const tilt = (deg: number | null) =>
    deg === null ? null : moved({ panDeg: middle.panDeg, tiltDeg: deg }).tiltDeg
  return {
    panMinDeg: pan(limits.panMinDeg),
    panMaxDeg: pan(limits.panMaxDeg),
    tiltMinDeg: tilt(limits.tiltMinDeg),
    tiltMaxDeg: tilt(limits.tiltMaxDeg),
  }
}

export function mendedMark(mark: Mark, bump: Bump): Mark {
  const now = turnedPlace(mark, bump)
  return { ...mark, panDeg: nearTurn(now.panDeg, mark.panDeg), tiltDeg: now.tiltDeg }
}
