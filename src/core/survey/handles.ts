/** A preset's frame changed by hand on the map: moved by its middle, resized by its corner. Angles in degrees. */
import type { PanTilt } from '../optics/aim'
import { nearTurn } from '../optics/aim'
import type { Sight } from '../optics/sight'
import { pointOf, toRoom } from '../optics/sphere'

export interface Framing extends PanTilt {
  hfovDeg: number
}

const RAD = Math.PI / 180
const within = (x: number, low: number, high: number) => Math.min(high, Math.max(low, x))

/** As far as the head turns. */
export function movedTo(framing: Framing, to: PanTilt, { seen }: Pick<Sight, 'seen'>): Framing {
  const { pan, tilt } = seen
  return {
    ...framing,
    panDeg: within(nearTurn(to.panDeg, framing.panDeg), pan.minDeg, pan.maxDeg),
    tiltDeg: within(to.tiltDeg, tilt.minDeg, tilt.maxDeg),
  }
}

/** Made larger by a factor, as far as the lens goes. */
export const sizedBy = (framing: Framing, factor: number, { lens }: Pick<Sight, 'lens'>): Framing => ({
  ...framing,
  hfovDeg: within(framing.hfovDeg * factor, lens.hfovDeg(lens.tele), lens.hfovDeg(lens.wide)),
})

/** So large that its corner lies as far out as this place, as far as the lens goes. @param aspect width over height */
export function sizedTo(
  framing: Framing,
  corner: PanTilt,
  aspect: number,
  { lens }: Pick<Sight, 'lens'>,
): Framing {
  // In a picture of 90 degrees a point stands at its tangent.
  const unit = { ...framing, hfovDeg: 90, vfovDeg: 90 }
  const at = pointOf(unit, toRoom([0, 0, 1], corner.panDeg, corner.tiltDeg))
  if (!at) return framing
  const half = Math.max(Math.abs(at.u), Math.abs(at.v) * aspect)
  return sizedBy({ ...framing, hfovDeg: (2 * Math.atan(half)) / RAD }, 1, { lens })
}
