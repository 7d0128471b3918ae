/**
 * From a stick or a finger to speeds. Deflections are -1..1, right and up positive. The chain is:
 * radial dead zone, response curve, top speed, scaled by zoom. Source: docs/optics.md, section Stick.
 */

export interface Feel {
  /** Radius of the dead zone, 0..1, as a share of full deflection. */
  deadZone: number
  /** 0 a straight response, 1 a pure cubic one. */
  softness: number
  /** Speed at full deflection and at the wide end, in degrees per second. */
  topDegPerSec: number
  /** The scale by zoom never falls below this share. */
  zoomFloor: number
}

export const DEFAULT_FEEL: Feel = { deadZone: 0.06, softness: 0.65, topDegPerSec: 56, zoomFloor: 0.02 }

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

/**
 * Pan and tilt speed in degrees per second for a deflection. The length of the deflection counts, so
 * that diagonals are neither faster nor slower; exactly zero within the dead zone.
 */
export function stickSpeeds(
  stick: { x: number; y: number },
  scale: number,
  feel: Feel,
): { panDegPerSec: number; tiltDegPerSec: number } {
  const radius = Math.hypot(stick.x, stick.y)
  const inner = beyondDeadZone(Math.min(1, radius), feel.deadZone)
  if (inner === 0 || !Number.isFinite(radius)) return { panDegPerSec: 0, tiltDegPerSec: 0 }
  const speed = respond(inner, feel.softness) * feel.topDegPerSec * scale
  return { panDegPerSec: (speed * stick.x) / radius, tiltDegPerSec: (speed * stick.y) / radius }
}

/** The deflection 0..1 that gives a speed (the reverse of the chain above); null beyond full. */
export function deflectionFor(speedDegPerSec: number, scale: number, feel: Feel): number | null {
  const wanted = speedDegPerSec / (feel.topDegPerSec * scale)
  if (wanted > 1 || wanted < 0) return null
  let low = 0
  let high = 1
  for (let i = 0; i < 50; i++) {
    const mid = (low + high) / 2
    if (respond(mid, feel.softness) < wanted) low = mid
    else high = mid
  }
  return feel.deadZone + ((low + high) / 2) * (1 - feel.deadZone)
}

/** A one-axis control (zoom, focus) through the same dead zone and curve, -1..1 to -1..1. */
export function shapeAxis(x: number, feel: Feel): number {
  if (!Number.isFinite(x)) return 0
  return Math.sign(x) * respond(beyondDeadZone(Math.min(1, Math.abs(x)), feel.deadZone), feel.softness)
}
