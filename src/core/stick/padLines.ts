/**
 * The contour lines of the drive pad: where a finger gets one speed in degrees per second, whatever the
 * direction. They are drawn from the very chain that drives (pad, dead zone and curve, the person's speeds,
 * the zoom, the head's own top speeds), run backwards.
 */
import type { Feel } from '../controls/controls'
import type { HeadProfile } from '../heads/profile'
import type { Lens } from '../optics/lens'
import { feltPush, type HandPace } from './hand'
import { padPoint } from './pad'
import { PUSH_AT_REST, pushSpeeds } from './speeds'

export interface PadChain {
  profile: HeadProfile
  lens: Lens
  /** Where the lens stands, lens units; null if it is not known. */
  zoom: number | null
  feel: Feel
  pace: HandPace
  /** Radius of the dead zone, 0..1. */
  deadZone: number
  /** 0..1 beyond the dead zone to a share of full push. */
  respondTo(x: number): number
}

/** Per axis: degrees per second at full push, and what the person's speeds make of a hand's push. */
interface Axis {
  topDegPerSec: number
  factor: number
}

/** Small enough that nothing is cut off at full. */
const A_LITTLE = 1e-3

/** Both axes as the chain has them. */
function axesOf({ profile, lens, zoom, feel, pace }: PadChain): { pan: Axis; tilt: Axis } {
  const at = zoom === null ? null : { panDeg: 0, tiltDeg: 0, zoom }
  const full = pushSpeeds({ ...PUSH_AT_REST, pan: 1, tilt: 1 }, profile, lens, at)
  const little = feltPush({ ...PUSH_AT_REST, pan: A_LITTLE, tilt: A_LITTLE }, feel, pace)
  return {
    pan: { topDegPerSec: full.panDegPerSec, factor: little.pan / A_LITTLE },
    tilt: { topDegPerSec: full.tiltDegPerSec, factor: little.tilt / A_LITTLE },
  }
}

const runs = ({ topDegPerSec, factor }: Axis, push: number) => topDegPerSec * Math.min(1, push * factor)

/** Degrees per second at full push upwards or downwards, where the pad has room for a figure. */
export function fullTilt(chain: PadChain): number {
  return runs(axesOf(chain).tilt, 1)
}

export interface PadPlace {
  x: number
  y: number
  /** As the pad measures it, 0..1. */
  radius: number
}

/** Halvings of the radius: finer than a pixel of any pad. */
const HALVINGS = 22

function placeFor(
  speedDegPerSec: number,
  angle: number,
  axes: ReturnType<typeof axesOf>,
  { deadZone, respondTo }: PadChain,
): PadPlace | null {
  const [c, s] = [Math.abs(Math.cos(angle)), Math.abs(Math.sin(angle))]
  const speedAt = (beyond: number) => {
    const push = respondTo(beyond)
    return Math.hypot(runs(axes.pan, push * c), runs(axes.tilt, push * s))
  }
  if (speedAt(1) < speedDegPerSec) return null
  let [low, high] = [0, 1]
  for (let i = 0; i < HALVINGS; i++) {
    const mid = (low + high) / 2
    if (speedAt(mid) < speedDegPerSec) low = mid
    else high = mid
  }
  const radius = deadZone + ((low + high) / 2) * (1 - deadZone)
  return { ...padPoint(angle, radius), radius }
}

/** The place of a speed straight below the middle; null if the camera cannot tilt so fast. */
export const placeBelow = (speedDegPerSec: number, chain: PadChain): PadPlace | null =>
  placeFor(speedDegPerSec, -Math.PI / 2, axesOf(chain), chain)

/** The line of one speed, as runs of places: it is cut where one axis cannot run so fast. */
export function padLine(speedDegPerSec: number, chain: PadChain, points = 72): PadPlace[][] {
  const axes = axesOf(chain)
  const places = Array.from({ length: points }, (_, i) =>
    placeFor(speedDegPerSec, (i / points) * 2 * Math.PI, axes, chain),
  )
  const gap = places.indexOf(null)
  if (gap < 0) return [[...(places as PadPlace[]), places[0]!]]
  const parts: PadPlace[][] = []
  let run: PadPlace[] = []
  for (let i = 1; i <= points; i++) {
    const place = places[(gap + i) % points]!
    if (place) run.push(place)
    else if (run.length > 0) {
      parts.push(run)
      run = []
    }
  }
  return parts
}
