/** Which cameras can show a place of the room, from where and how large. Angles in degrees. */

import type { PanTilt } from '../optics/aim'
import { nearTurn } from '../optics/aim'
import type { Sight } from '../optics/sight'
import type { Vec3 } from '../optics/sphere'
import { seenFrom } from './placed'
import type { PlacedCamera } from './room'

export interface Showing extends PanTilt {
  cameraId: string
  /** In the room's units. */
  away: number
  /** Is it within its limits? */
  within: boolean
  /** From where the place is seen, clockwise from above, against the reference; 0 beside it, 180 across. */
  asideDeg: number
  /** How far from above it is seen; negative from below. */
  aboveDeg: number
  /** How wide the picture can be there at the narrowest and at the widest, in the room's units. */
  narrowest: number
  widest: number
}

export const ORDERS = ['angle', 'size'] as const
export type Order = (typeof ORDERS)[number]

const RAD = Math.PI / 180
const bearing = (from: Vec3, to: Vec3) => Math.atan2(to[0] - from[0], to[2] - from[2]) / RAD
const wrapped = (deg: number) => ((((deg + 180) % 360) + 360) % 360) - 180
const width = (away: number, hfovDeg: number) => 2 * away * Math.tan((hfovDeg * RAD) / 2)

/**
 * @param reference the camera whose line of sight angles are told against; null: the first one's
 * @returns those that reach it first; then by angle or by size
 */
export function whoShows(
  place: Vec3,
  cameras: readonly { placed: PlacedCamera; sight: Pick<Sight, 'seen' | 'lens'> }[],
  reference: string | null,
  by: Order,
): Showing[] {
  const from = (cameras.find(({ placed }) => placed.cameraId === reference) ?? cameras[0])?.placed.at
  const all = cameras.map(({ placed, sight }) => {
    const { panDeg, tiltDeg, away } = seenFrom(placed, place)
    const { pan, tilt } = sight.seen
    const near = nearTurn(panDeg, (pan.minDeg + pan.maxDeg) / 2)
    const { lens } = sight
    return {
      ...{ cameraId: placed.cameraId, panDeg: near, tiltDeg, away },
      within: near >= pan.minDeg && near <= pan.maxDeg && tiltDeg >= tilt.minDeg && tiltDeg <= tilt.maxDeg,
      asideDeg: from ? wrapped(bearing(place, placed.at) - bearing(place, from)) : 0,
      aboveDeg: Math.asin(Math.min(1, Math.max(-1, (placed.at[1] - place[1]) / Math.max(1e-9, away)))) / RAD,
      narrowest: width(away, lens.hfovDeg(lens.tele)),
      widest: width(away, lens.hfovDeg(lens.wide)),
    }
  })
  const rank = ({ asideDeg, narrowest }: Showing) => (by === 'angle' ? Math.abs(asideDeg) : narrowest)
  return all.sort((a, b) => Number(b.within) - Number(a.within) || rank(a) - rank(b))
}

/** The angle of view that shows the place as wide as asked, as far as the lens goes. */
export function hfovFor({ away }: Showing, wide: number, { lens }: Pick<Sight, 'lens'>): number {
  const wanted = (2 * Math.atan(wide / 2 / away)) / RAD
  return Math.min(lens.hfovDeg(lens.wide), Math.max(lens.hfovDeg(lens.tele), wanted))
}
