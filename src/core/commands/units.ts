/** Between the values of a command set and ours: degrees, lens units, deflections. */
import type { HeadProfile } from '../heads/profile'
import type { CommandSet } from './commandSet'
import type { Values } from './template'

const along = (x: number, from: number, to: number, out: number, outTo: number) =>
  out + ((x - from) / (to - from)) * (outTo - out)
const between = (x: number, a: number, b: number) => Math.min(Math.max(a, b), Math.max(Math.min(a, b), x))

type AxisName = 'pan' | 'tilt' | 'zoom' | 'focus'

/** The placeholders of a drive on one axis, for a deflection of -1..1. */
export function driveValues(set: CommandSet, axis: AxisName, deflection: number): Values {
  const values: Record<string, number | string> = {}
  const speed = set.speeds[axis]
  if (speed) {
    const end = deflection < 0 ? speed.negative : speed.positive
    const exact = speed.still + Math.abs(deflection) * (end - speed.still)
    // The least push moves, and only no push stands still.
    const least = speed.still + Math.sign(end - speed.still)
    const rounded = Math.round(exact)
    values[`${axis}Speed`] = deflection !== 0 && rounded === speed.still ? least : rounded
    values[`${axis}Step`] = Math.abs(Number(values[`${axis}Speed`]) - speed.still)
  }
  const words = set.words[axis]
  if (words)
    values[`${axis}Word`] = deflection < 0 ? words.negative : deflection > 0 ? words.positive : words.still
  return values
}

export function angleToUnits(set: CommandSet, axis: 'pan' | 'tilt', deg: number): number {
  const r = set.ranges[axis]!
  return Math.round(along(between(deg, r.fromDeg, r.toDeg), r.fromDeg, r.toDeg, r.from, r.to))
}

export function unitsToAngle(set: CommandSet, axis: 'pan' | 'tilt', units: number): number {
  const r = set.ranges[axis]!
  return along(units, r.from, r.to, r.fromDeg, r.toDeg)
}

/** The ends of the lens in its profile's units: wide and tele, or far and near. */
function lensEnds(profile: HeadProfile, axis: 'zoom' | 'focus'): [number, number] {
  if (axis === 'focus') return [profile.focus.far, profile.focus.near]
  const curve = profile.lens.zoomCurve
  return [curve[0]![0], curve[curve.length - 1]![0]]
}

export function lensToUnits(
  set: CommandSet,
  profile: HeadProfile,
  axis: 'zoom' | 'focus',
  value: number,
): number {
  const r = set.ranges[axis]!
  const [a, b] = lensEnds(profile, axis)
  return Math.round(along(between(value, a, b), a, b, r.from, r.to))
}

export function unitsToLens(
  set: CommandSet,
  profile: HeadProfile,
  axis: 'zoom' | 'focus',
  units: number,
): number {
  const r = set.ranges[axis]!
  const [a, b] = lensEnds(profile, axis)
  return along(units, r.from, r.to, a, b)
}
