/** A shift of the picture at one preset, as the turn of the camera that explains it. */
import { type Bump, turnedPlace } from '../../core/bump/bump'
import { turnBetween } from '../../core/bump/turnBetween'
import type { Mount } from '../../core/cameras/connection'
import { turnedPose } from '../../core/cameras/mount'
import { aimAt } from '../../core/optics/aim'
import type { Lens } from '../../core/optics/lens'
import { pointOf, toRoom, type View } from '../../core/optics/sphere'

/** Of the picture there, degrees right and up; and how the whole camera was turned. */
export interface Shift {
  panDeg: number
  tiltDeg: number
  bump: Bump
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
  const [panDeg, tiltDeg] = [to.panDeg - view.panDeg, to.tiltDeg - view.tiltDeg]
  return { panDeg, tiltDeg, bump: turnBetween(view, to) }
}

/** Where what a preset has in its middle stands while the shift is not mended, -1..1; null: out of sight. */
export function shiftedPlace(
  { bump }: Pick<Shift, 'bump'>,
  pose: At,
  lens: Lens,
  mount: Mount,
): { u: number; v: number } | null {
  const view = viewAt(pose, lens, mount)
  const to = turnedPlace(view, bump)
  return pointOf(view, toRoom([0, 0, 1], to.panDeg, to.tiltDeg))
}

export function shiftWords({ panDeg, tiltDeg }: Pick<Shift, 'panDeg' | 'tiltDeg'>): string {
  const words = [
    `${Math.abs(panDeg).toFixed(1)}° ${panDeg < 0 ? 'left' : 'right'}`,
    `${Math.abs(tiltDeg).toFixed(1)}° ${tiltDeg < 0 ? 'down' : 'up'}`,
  ]
  return words.join(', ')
}
