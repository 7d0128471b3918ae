/** A zoom lens: from the zoom position to the field of view and back. Source: docs/optics.md. */
import { monotoneCurve } from './curve'

const RAD = Math.PI / 180

export interface LensSpec {
  /** Sensor width in mm. */
  sensorWidthMm: number
  /** Picture width over height. */
  aspect: number
  /** Measured pairs [zoom position, focal length in mm], both rising. */
  zoomCurve: readonly (readonly [number, number])[]
  /** Beyond the tele end it enlarges digitally, up to this position and by this factor. */
  digital?: { to: number; factor: number }
}

export interface Lens {
  /** Zoom positions at the wide and the tele end of the optical range. */
  readonly wide: number
  readonly tele: number
  focalMm(zoom: number): number
  /** Horizontal and vertical field of view in degrees. */
  hfovDeg(zoom: number): number
  vfovDeg(zoom: number): number
  /** 1 at the wide end. */
  magnification(zoom: number): number
  /** How much of that is enlarged digitally; 1 within the optical range. */
  digital(zoom: number): number
  /** The zoom position whose horizontal field of view is nearest to the one asked. */
  zoomForHfov(hfovDeg: number): number
  /** The zoom position of a magnification against wide. */
  zoomForMagnification(magnification: number): number
}

/** Vertical field of view of a rectilinear lens, degrees. */
export function vfovOf(hfovDeg: number, aspect: number): number {
  return (2 * Math.atan(Math.tan((hfovDeg * RAD) / 2) / aspect)) / RAD
}

export function createLens(spec: LensSpec): Lens {
  // Interpolated in log f: closest to real zoom optics, and even to the eye.
  const curve = monotoneCurve(spec.zoomCurve.map(([z, f]) => [z, Math.log(f)] as const))
  const wide = spec.zoomCurve[0]![0]
  const tele = spec.zoomCurve[spec.zoomCurve.length - 1]![0]
  const half = spec.sensorWidthMm / 2
  const digital = (zoom: number) => {
    if (!spec.digital || zoom <= tele) return 1
    const share = Math.min(1, (zoom - tele) / (spec.digital.to - tele))
    return spec.digital.factor ** share
  }
  const focalMm = (zoom: number) => Math.exp(curve.at(zoom)) * digital(zoom)
  const hfovDeg = (zoom: number) => (2 * Math.atan(half / focalMm(zoom))) / RAD
  return {
    wide,
    tele,
    focalMm,
    hfovDeg,
    vfovDeg: (zoom) => vfovOf(hfovDeg(zoom), spec.aspect),
    magnification: (zoom) => focalMm(zoom) / focalMm(wide),
    digital,
    zoomForHfov: (deg) => curve.inverse(Math.log(half / Math.tan((deg * RAD) / 2))),
    zoomForMagnification: (m) => curve.inverse(Math.log(m * focalMm(wide))),
  }
}
