/**
 * A camera that hangs upside down, or is seen in a mirror. Poses are kept as the head has them; what the
 * operator sees and does is turned here, so that right is always right in the picture.
 */
import type { AxisProfile, HeadProfile } from '../heads/profile'
import type { Mount } from './connection'

/** 1 or -1: how the picture's right lies to the head's. */
export const panSign = ({ upsideDown, mirrored }: Mount): 1 | -1 => (upsideDown !== mirrored ? -1 : 1)
/** 1 or -1: how the picture's up lies to the head's. */
export const tiltSign = ({ upsideDown }: Mount): 1 | -1 => (upsideDown ? -1 : 1)

const flip = (x: number, sign: 1 | -1) => (x === 0 ? 0 : x * sign)

/** A hand's pan and tilt as the head is to be told, and the other way round. */
export function turnedStick<T extends { pan: number; tilt: number }>(stick: T, mount: Mount): T {
  return { ...stick, pan: flip(stick.pan, panSign(mount)), tilt: flip(stick.tilt, tiltSign(mount)) }
}

/** A pose of the head as the operator sees it, and the other way round. */
export function turnedPose<T extends { panDeg: number; tiltDeg: number }>(pose: T, mount: Mount): T {
  return { ...pose, panDeg: flip(pose.panDeg, panSign(mount)), tiltDeg: flip(pose.tiltDeg, tiltSign(mount)) }
}

function turnedAxis(axis: AxisProfile, sign: 1 | -1): AxisProfile {
  return sign === 1 ? axis : { ...axis, minDeg: -axis.maxDeg, maxDeg: -axis.minDeg }
}

/** The ranges of a head as the operator sees them. */
export function turnedProfile(profile: HeadProfile, mount: Mount): HeadProfile {
  return {
    ...profile,
    pan: turnedAxis(profile.pan, panSign(mount)),
    tilt: turnedAxis(profile.tilt, tiltSign(mount)),
  }
}
