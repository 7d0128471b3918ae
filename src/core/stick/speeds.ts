/**
 * From a ramped push to speeds, for a camera as it stands: scaled by zoom so that the picture crosses the
 * screen as fast at any focal length, zoom even to the eye, soft at the limits.
 */
import * as v from 'valibot'
import type { HeadProfile } from '../heads/profile'
import { topSpeed } from '../heads/profile'
import type { Lens } from '../optics/lens'
import { DEFAULT_FEEL, zoomScale } from './shape'
import { softStop } from './softStop'

/** Shares of the top speeds, -1..1; right, up, tele and far positive. */
export interface Push {
  pan: number
  tilt: number
  zoom: number
  focus: number
}

/** What a driver is to make of it: degrees per second, lens units per second; focus stays a share. */
export interface Speeds {
  panDegPerSec: number
  tiltDegPerSec: number
  zoomPerSec: number
  focus: number
}

export const PUSH_AT_REST: Push = { pan: 0, tilt: 0, zoom: 0, focus: 0 }
export const pushRests = ({ pan, tilt, zoom, focus }: Push): boolean =>
  pan === 0 && tilt === 0 && zoom === 0 && focus === 0

export const SPEEDS_AT_REST: Speeds = { panDegPerSec: 0, tiltDegPerSec: 0, zoomPerSec: 0, focus: 0 }

export const speedsRest = ({ panDegPerSec, tiltDegPerSec, zoomPerSec, focus }: Speeds): boolean =>
  panDegPerSec === 0 && tiltDegPerSec === 0 && zoomPerSec === 0 && focus === 0

/** The range in which an axis may be driven, degrees. */
export interface Range {
  min: number
  max: number
}

export interface Standing {
  panDeg: number
  tiltDeg: number
  zoom: number
}

export interface Bounds {
  pan: Range
  tilt: Range
  /** As far as the zoom goes: beyond the lens's tele end where it enlarges digitally. */
  zoomMax: number
}

/** Change of log focal length per second at full push: wide to tele of a 20x lens in about three seconds. */
export const ZOOM_TOP_PER_SEC = 1.05
/** Share of the head's own braking. */
const GENTLE = 0.3
/** Age of a reading when the head acts on it, beyond the head's own delay, s. */
const READING_AGE_S = 0.06

/** d log f / d zoom, per lens unit; always above 0, for a camera may zoom further than its profile says. */
export function zoomSlope(lens: Lens, zoom: number): number {
  const step = (lens.tele - lens.wide) / 400
  const at = Math.max(lens.wide, zoom)
  const a = Math.max(lens.wide, at - step)
  const b = at > lens.tele ? at : Math.min(lens.tele, at + step)
  const slope = Math.log(lens.focalMm(b) / lens.focalMm(a)) / (b - a)
  return slope > 0 ? slope : zoomSlope(lens, lens.tele)
}

/** Limits that the operator has set, degrees of the head; null if there is none. */
export const Limits = v.object({
  panMinDeg: v.nullable(v.number()),
  panMaxDeg: v.nullable(v.number()),
  tiltMinDeg: v.nullable(v.number()),
  tiltMaxDeg: v.nullable(v.number()),
})
export type Limits = v.InferOutput<typeof Limits>
export const NO_LIMITS: Limits = { panMinDeg: null, panMaxDeg: null, tiltMinDeg: null, tiltMaxDeg: null }

/** Where a camera may be driven: within the head's own range, and within the limits that were set. */
export function boundsOf(profile: HeadProfile, limits: Limits, digital: boolean): Bounds {
  const { pan, tilt, lens } = profile
  const tele = lens.zoomCurve[lens.zoomCurve.length - 1]![0]
  return {
    pan: {
      min: Math.max(pan.minDeg, limits.panMinDeg ?? pan.minDeg),
      max: Math.min(pan.maxDeg, limits.panMaxDeg ?? pan.maxDeg),
    },
    tilt: {
      min: Math.max(tilt.minDeg, limits.tiltMinDeg ?? tilt.minDeg),
      max: Math.min(tilt.maxDeg, limits.tiltMaxDeg ?? tilt.maxDeg),
    },
    zoomMax: digital ? (lens.digital?.to ?? tele) : tele,
  }
}

/** @param at where it stands; null if it is not known: then nothing is scaled */
export function pushSpeeds(push: Push, profile: HeadProfile, lens: Lens, at: Standing | null): Speeds {
  const wide = lens.hfovDeg(lens.wide)
  const scale = zoomScale(at ? lens.hfovDeg(at.zoom) : wide, wide, DEFAULT_FEEL.zoomFloor)
  const top = DEFAULT_FEEL.topDegPerSec * scale
  return {
    panDegPerSec: push.pan * Math.min(top, topSpeed(profile.pan)),
    tiltDegPerSec: push.tilt * Math.min(top, topSpeed(profile.tilt)),
    zoomPerSec: push.zoom === 0 ? 0 : (push.zoom * ZOOM_TOP_PER_SEC) / zoomSlope(lens, at?.zoom ?? lens.wide),
    focus: push.focus,
  }
}

/** @param at where it stands; null if it is not known: then no limit is kept either */
export function speedsFor(
  push: Push,
  profile: HeadProfile,
  lens: Lens,
  at: Standing | null,
  bounds: Bounds,
): Speeds {
  const speeds = pushSpeeds(push, profile, lens, at)
  return at ? withinBounds(speeds, profile, lens, at, bounds) : speeds
}

/** The same speeds, soft at the limits. */
export function withinBounds(
  speeds: Speeds,
  profile: HeadProfile,
  lens: Lens,
  at: Standing,
  bounds: Bounds,
): Speeds {
  const { pan, tilt, zoomBrakePerSec2 } = profile
  const lagS = profile.delaySeconds + READING_AGE_S
  const zoomEnds = { min: lens.wide, max: bounds.zoomMax }
  return {
    ...speeds,
    panDegPerSec: softStop(speeds.panDegPerSec, at.panDeg, bounds.pan, GENTLE * pan.accelDegPerSec2, lagS),
    tiltDegPerSec: softStop(
      speeds.tiltDegPerSec,
      at.tiltDeg,
      bounds.tilt,
      GENTLE * tilt.accelDegPerSec2,
      lagS,
    ),
    zoomPerSec: softStop(speeds.zoomPerSec, at.zoom, zoomEnds, zoomBrakePerSec2, lagS),
  }
}

/** Tolerance for rounding, degrees. */
const SLACK_DEG = 0.05

const inRange = (at: number | null, { min, max }: Range): boolean =>
  at === null || (at >= min - SLACK_DEG && at <= max + SLACK_DEG)

/** An axis that is not known is not judged. */
export const isWithin = (
  { pan, tilt }: Bounds,
  at: { panDeg: number | null; tiltDeg: number | null },
): boolean => inRange(at.panDeg, pan) && inRange(at.tiltDeg, tilt)
