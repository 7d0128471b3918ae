/** Dead zone, response curve, and how speed is scaled by zoom. Source: docs/optics.md, section Stick. */

export interface Feel {
  /** Radius of the dead zone, 0..1, as a share of full deflection. */
  deadZone: number
  /** Speed at full deflection and at the wide end, in degrees per second. */
  topDegPerSec: number
  /** The scale by zoom never falls below this share. */
  zoomFloor: number
}

export const DEFAULT_FEEL: Feel = { deadZone: 0.06, topDegPerSec: 56, zoomFloor: 0.02 }

const clamp = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value))

/** Deflection 0..1 beyond the dead zone, rescaled so that its edge is zero and full stays 1. */
export function beyondDeadZone(radius: number, deadZone: number): number {
  return clamp((radius - deadZone) / (1 - deadZone), 0, 1)
}

/** The response curve: 0..1 to 0..1, rising, 0 at 0 and 1 at 1. */
export function respond(x: number, softness: number): number {
  return (1 - softness) * x + softness * x * x * x
}

/** Share of the wide-end speed at which the picture's middle crosses the screen as fast at this zoom. */
export function zoomScale(hfovDeg: number, wideHfovDeg: number, floor: number): number {
  const half = (deg: number) => Math.tan((deg * Math.PI) / 360)
  return clamp(half(hfovDeg) / half(wideHfovDeg), floor, 1)
}
