/**
 * From a ramped push to speeds, for a camera as it stands: scaled by zoom so that the picture crosses the
 * screen as fast at any focal length, zoom even to the eye, soft at the limits.
 */
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

export const SPEEDS_AT_REST: Speeds = { panDegPerSec: 0, tiltDegPerSec: 0, zoomPerSec: 0, focus: 0 }

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
}

/** Change of log focal length per second at full push: wide to tele of a 20x lens in about three seconds. */
export const ZOOM_TOP_PER_SEC = 1.05
/** Of what the head could brake. */
const GENTLE = 0.3
const ZOOM_BRAKE_PER_SEC2 = 12_000
const LAG_S = 0.09

/** d log f / d zoom, per lens unit. */
export function zoomSlope(lens: Lens, zoom: number): number {
  const step = (lens.tele - lens.wide) / 400
  const [a, b] = [Math.max(lens.wide, zoom - step), Math.min(lens.tele, zoom + step)]
  return Math.log(lens.focalMm(b) / lens.focalMm(a)) / (b - a)
}

/** Where an axis may be driven: within the head's own range, and within the limits that were set. */
export function boundsOf(
  profile: HeadProfile,
  limits: {
    panMinDeg: number | null
    panMaxDeg: number | null
    tiltMinDeg: number | null
    tiltMaxDeg: number | null
  } | null,
): Bounds {
  return {
    pan: {
      min: Math.max(profile.pan.minDeg, limits?.panMinDeg ?? Number.NEGATIVE_INFINITY),
      max: Math.min(profile.pan.maxDeg, limits?.panMaxDeg ?? Number.POSITIVE_INFINITY),
    },
    tilt: {
      min: Math.max(profile.tilt.minDeg, limits?.tiltMinDeg ?? Number.NEGATIVE_INFINITY),
      max: Math.min(profile.tilt.maxDeg, limits?.tiltMaxDeg ?? Number.POSITIVE_INFINITY),
    },
  }
}

/** @param at where it stands; null where it is not known: then nothing is scaled, and no limit kept */
export function speedsFor(
  push: Push,
  profile: HeadProfile,
  lens: Lens,
  at: Standing | null,
  bounds: Bounds,
): Speeds {
  const wide = lens.hfovDeg(lens.wide)
  const scale = zoomScale(at ? lens.hfovDeg(at.zoom) : wide, wide, DEFAULT_FEEL.zoomFloor)
  const top = DEFAULT_FEEL.topDegPerSec * scale
  const speeds: Speeds = {
    panDegPerSec: push.pan * Math.min(top, topSpeed(profile.pan)),
    tiltDegPerSec: push.tilt * Math.min(top, topSpeed(profile.tilt)),
    zoomPerSec: (push.zoom * ZOOM_TOP_PER_SEC) / zoomSlope(lens, at?.zoom ?? lens.wide),
    focus: push.focus,
  }
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
  const { pan, tilt } = profile
  const zoomEnds = { min: lens.wide, max: lens.tele }
  // Beyond its tele end a lens zooms digitally; from there only the way back is known.
  const zoom =
    at.zoom > lens.tele
      ? speeds.zoomPerSec
      : softStop(speeds.zoomPerSec, at.zoom, zoomEnds, ZOOM_BRAKE_PER_SEC2, LAG_S)
  return {
    ...speeds,
    panDegPerSec: softStop(speeds.panDegPerSec, at.panDeg, bounds.pan, GENTLE * pan.accelDegPerSec2, LAG_S),
    tiltDegPerSec: softStop(
      speeds.tiltDegPerSec,
      at.tiltDeg,
      bounds.tilt,
      GENTLE * tilt.accelDegPerSec2,
      LAG_S,
    ),
    zoomPerSec: zoom,
  }
}
