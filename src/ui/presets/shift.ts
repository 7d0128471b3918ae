/** A shift of the picture as the turn of the head that takes it back. */
import type { Mount } from '../../core/cameras/connection'
import { turnedPose } from '../../core/cameras/mount'
import { aimAt } from '../../core/optics/aim'
import type { Lens } from '../../core/optics/lens'
import { pointOf, toRoom, type View } from '../../core/optics/sphere'

/** As the head has it, degrees. */
export interface Shift {
  panDeg: number
  tiltDeg: number
}

interface At {
  panDeg: number
  tiltDeg: number
  zoom: number
}

function viewAt(pose: At, lens: Lens, mount: Mount): View {
  const seen = turnedPose({ panDeg: pose.panDeg, tiltDeg: pose.tiltDeg }, mount)
  return { ...seen, hfovDeg: lens.hfovDeg(pose.zoom), vfovDeg: lens.vfovDeg(pose.zoom) }
}

/** @param at where what was stored in the middle stands now, -1..1 */
export function shiftOf(at: { u: number; v: number }, pose: At, lens: Lens, mount: Mount): Shift {
  const view = viewAt(pose, lens, mount)
  const to = aimAt(view, at.u, at.v)
  return turnedPose({ panDeg: to.panDeg - view.panDeg, tiltDeg: to.tiltDeg - view.tiltDeg }, mount)
}

/** Where what a preset has in its middle stands while the shift is not mended, -1..1; null: out of sight. */
export function shiftedPlace(
  shift: Shift,
  pose: At,
  lens: Lens,
  mount: Mount,
): { u: number; v: number } | null {
  const view = viewAt(pose, lens, mount)
  const turn = turnedPose(shift, mount)
  return pointOf(view, toRoom([0, 0, 1], view.panDeg + turn.panDeg, view.tiltDeg + turn.tiltDeg))
}

export function shiftWords({ panDeg, tiltDeg }: Shift): string {
  const words = [
    `${Math.abs(panDeg).toFixed(1)}° ${panDeg < 0 ? 'left' : 'right'}`,
    `${Math.abs(tiltDeg).toFixed(1)}° ${tiltDeg < 0 ? 'down' : 'up'}`,
  ]
  return words.join(', ')
}
