/** Where a head is to stand for each seat of a grid, as far as it reaches. */
import { createLens } from '../../core/optics/lens'
import { sightOf } from '../../core/optics/sight'
import type { PresetPose } from '../../core/presets/pose'
import { NO_LIMITS } from '../../core/stick/speeds'
import type { Seat } from '../../core/survey/seatGrid'
import type { Member } from '../fleet'

export function seatPoses(
  { camera, row }: Pick<Member, 'camera' | 'row'>,
  seats: readonly Seat[],
): { poses: { label: string; pose: PresetPose }[]; beyond: number } {
  const { profile } = camera
  const lens = createLens(profile.lens)
  const limits = row.limits ?? NO_LIMITS
  const sight = sightOf({ profile, lens, mount: row.mount, limits, digital: false })
  const { pan, tilt } = sight.seen
  const within = seats.filter(
    ({ panDeg, tiltDeg }) =>
      panDeg >= pan.minDeg && panDeg <= pan.maxDeg && tiltDeg >= tilt.minDeg && tiltDeg <= tilt.maxDeg,
  )
  const poses = within.map(({ label, panDeg, tiltDeg, hfovDeg }) => ({
    label,
    pose: {
      ...sight.turned({ panDeg, tiltDeg }),
      zoom: lens.zoomForHfov(Math.min(hfovDeg, lens.hfovDeg(lens.wide))),
      ...{ focusAuto: null, focus: null, encoder: null },
    },
  }))
  return { poses, beyond: seats.length - within.length }
}
