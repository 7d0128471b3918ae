/** The turn of a mount as one preset alone can tell it: about the upright, and about the level across the view. */
import { nearTurn, type PanTilt } from '../optics/aim'
import { panTiltOf, toRoom, type Vec3 } from '../optics/sphere'
import { toOwn } from '../room/placed'
import type { Bump } from './bump'

const RAD = Math.PI / 180

/**
 * What was seen in the one direction is seen in the other; that the picture has turned as well, one place cannot tell.
 * Angles in degrees as the operator has them.
 */
export function turnBetween(was: PanTilt, now: PanTilt): Bump {
  const turned = (v: Vec3) => toRoom(toRoom(v, -was.panDeg, 0), now.panDeg, now.tiltDeg - was.tiltDeg)
  const forward = panTiltOf(turned([0, 0, 1]))
  const up = toOwn(turned([0, 1, 0]), { headingDeg: forward.panDeg, pitchDeg: forward.tiltDeg, rollDeg: 0 })
  return {
    panDeg: nearTurn(forward.panDeg, 0),
    tiltDeg: forward.tiltDeg,
    rollDeg: Math.atan2(-up[0], up[1]) / RAD,
    larger: 1,
  }
}
