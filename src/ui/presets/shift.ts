/** A shift of the picture as the turn of the head that takes it back. */
import type { Mount } from '../../core/cameras/connection'
import { turnedPose } from '../../core/cameras/mount'
import { aimAt } from '../../core/optics/aim'
import type { Lens } from '../../core/optics/lens'

/** As the head has it, degrees. */
export interface Shift {
  panDeg: number
  tiltDeg: number
}

/** @param at where what was stored in the middle stands now, -1..1 */
export function shiftOf(
  at: { u: number; v: number },
  pose: { panDeg: number; tiltDeg: number; zoom: number },
  lens: Lens,
  mount: Mount,
): Shift {
  const seen = turnedPose({ panDeg: pose.panDeg, tiltDeg: pose.tiltDeg }, mount)
  const view = { ...seen, hfovDeg: lens.hfovDeg(pose.zoom), vfovDeg: lens.vfovDeg(pose.zoom) }
  const to = aimAt(view, at.u, at.v)
  return turnedPose({ panDeg: to.panDeg - seen.panDeg, tiltDeg: to.tiltDeg - seen.tiltDeg }, mount)
}

export function shiftWords({ panDeg, tiltDeg }: Shift): string {
  const words = [
    `${Math.abs(panDeg).toFixed(1)}° ${panDeg < 0 ? 'left' : 'right'}`,
    `${Math.abs(tiltDeg).toFixed(1)}° ${tiltDeg < 0 ? 'down' : 'up'}`,
  ]
  return words.join(', ')
}
