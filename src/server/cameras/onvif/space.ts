/** Between the desk's units and the ranges that an ONVIF device tells. */
import { type HeadProfile, topSpeed } from '../../../core/heads/profile'
import type { Position, PtzNode, PtzStatus, Velocity } from '../../../core/onvif/messages'
import type { Speeds } from '../../../core/stick/speeds'
import type { Goal } from '../body'

interface Ends {
  min: number
  max: number
}
const scale = (x: number, a: Ends, b: Ends) => b.min + ((x - a.min) / (a.max - a.min)) * (b.max - b.min)
const within = (x: number, { min, max }: Ends) => Math.min(max, Math.max(min, x))
const SHARE: Ends = { min: -1, max: 1 }
const UNIT: Ends = { min: 0, max: 1 }

export class Space {
  private readonly zoomEnds: Ends
  /** The device counts its focus from far to near. */
  private readonly focusEnds: Ends

  constructor(private readonly profile: HeadProfile) {
    const curve = profile.lens.zoomCurve
    this.zoomEnds = { min: curve[0]![0], max: curve[curve.length - 1]![0] }
    this.focusEnds = { min: profile.focus.far, max: profile.focus.near }
  }

  position(node: PtzNode, goal: Goal): Position {
    const to: Position = {}
    if (goal.panDeg !== undefined && goal.tiltDeg !== undefined) {
      to.pan = within(this.fromDeg(node, 'pan', goal.panDeg), node.pan)
      to.tilt = within(this.fromDeg(node, 'tilt', goal.tiltDeg), node.tilt)
    }
    if (goal.zoom !== undefined) to.zoom = within(scale(goal.zoom, this.zoomEnds, node.zoom), node.zoom)
    return to
  }

  /** @param told how the device told it; null where it cannot be read */
  toDeg(node: PtzNode, axis: 'pan' | 'tilt', x: number | null, told: PtzStatus['told']): number | null {
    if (x === null || told === 'strange') return null
    return node.degrees || told === 'degrees' ? x : scale(x, node[axis], this.axisEnds(axis))
  }

  toZoom(node: PtzNode, x: number): number {
    return scale(x, node.zoom, this.zoomEnds)
  }

  /** Shares of the top speeds, in thousandths: finer than any head. */
  velocity({ panDegPerSec, tiltDegPerSec, zoomPerSec }: Speeds): Velocity {
    const { pan, tilt, zoomSpeedsPerSec } = this.profile
    const share = (speed: number, top: number) => Math.round(within(speed / top, SHARE) * 1000) / 1000
    return {
      pan: share(panDegPerSec, topSpeed(pan)),
      tilt: share(tiltDegPerSec, topSpeed(tilt)),
      zoom: share(zoomPerSec, zoomSpeedsPerSec[zoomSpeedsPerSec.length - 1]!),
    }
  }

  fromFocus(focus: number): number {
    return scale(focus, this.focusEnds, UNIT)
  }

  toFocus(at: number): number {
    return Math.round(scale(at, UNIT, this.focusEnds))
  }

  private fromDeg(node: PtzNode, axis: 'pan' | 'tilt', deg: number): number {
    return node.degrees ? deg : scale(deg, this.axisEnds(axis), node[axis])
  }

  private axisEnds(axis: 'pan' | 'tilt'): Ends {
    const { minDeg, maxDeg } = this.profile[axis]
    return { min: minDeg, max: maxDeg }
  }
}
