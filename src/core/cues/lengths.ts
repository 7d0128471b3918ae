/** How long a camera takes for what a step asks of it, and how it will look on the screen. */
import { topSpeed } from '../heads/profile'
import { hfovAt, longestSmoothSeconds, screenSpeed } from '../motion/follow/limits'
import { hillOf, previewOf } from '../motion/follow/preview'
import { travelSeconds } from '../motion/travel'
import { type Pace, QUICK, secondsOf } from '../presets/pace'
import type { CueCamera, Place } from './world'

export interface MoveLength {
  seconds: number
  /** What was asked; null: as fast as it can. */
  asked: number | null
  /** The shortest that can be, s. */
  leastSeconds: number
  /** In more it cannot be smooth, s; null: in any time. */
  longestSmooth: number | null
  /** Speed over the screen at even steps of its time, picture widths per second. */
  hill: readonly number[]
}

const SAMPLES = 24
/** Below this it stands there already. */
const NO_WAY_DEG = 0.02

/** As quick as the head itself goes, s. */
export function quickSeconds({ profile }: CueCamera, from: Place, to: Place): number {
  const { pan, tilt, zoomTravelPerSec } = profile
  return Math.max(
    travelSeconds(to.panDeg - from.panDeg, topSpeed(pan), pan.accelDegPerSec2),
    travelSeconds(to.tiltDeg - from.tiltDeg, topSpeed(tilt), tilt.accelDegPerSec2),
    Math.abs(to.zoom - from.zoom) / zoomTravelPerSec,
  )
}

/** @param from null: it is not known where it stands; then only what was asked is known */
export function recallLength(
  camera: CueCamera,
  from: Place | null,
  to: Place,
  pace: Pace,
  atLeast: number | null = null,
): MoveLength {
  const { profile, lens } = camera
  const zoomLog = from ? Math.log(lens.focalMm(to.zoom) / lens.focalMm(from.zoom)) : 0
  const own = secondsOf(pace, from, to, zoomLog)
  const asked = atLeast === null ? own : Math.max(own ?? 0, atLeast)
  if (!from) return { seconds: asked ?? 0, asked, leastSeconds: 0, longestSmooth: null, hill: [] }
  const still =
    Math.abs(to.panDeg - from.panDeg) < NO_WAY_DEG &&
    Math.abs(to.tiltDeg - from.tiltDeg) < NO_WAY_DEG &&
    Math.abs(zoomLog) < 1e-3
  if (still) return { seconds: 0, asked, leastSeconds: 0, longestSmooth: null, hill: [] }
  const quick = quickSeconds(camera, from, to)
  const plan = previewOf(profile, lens, from, to, asked ?? quick)
  const { trajectory } = plan
  return {
    seconds: asked === null ? quick : trajectory.seconds,
    asked,
    leastSeconds: plan.leastSeconds,
    longestSmooth:
      asked === null ? null : longestSmoothSeconds(trajectory, profile, lens, [from.zoom, to.zoom]),
    hill: hillOf(plan, profile, SAMPLES),
  }
}

export const USUAL_PACE = (preset: { pace: Pace | null }, camera: CueCamera): Pace =>
  preset.pace ?? camera.pace ?? QUICK

/** The speed of a recorded path over the screen. @param points with seconds, degrees, and lens units */
export function pathHill(
  { profile, lens }: CueCamera,
  points: readonly (Place & { s: number })[],
  samples = SAMPLES,
): number[] {
  const end = points.at(-1)?.s ?? 0
  const log = (zoom: number) => Math.log(lens.focalMm(zoom))
  const step = end / samples
  return Array.from({ length: samples + 1 }, (_, i) => {
    const [a, b] = [placeAt(points, (i - 0.5) * step), placeAt(points, (i + 0.5) * step)]
    const zoom = (log(a.zoom) + log(b.zoom)) / 2
    const per = step > 0 ? 1 / step : 0
    const axis = (x: number, y: number) => ({
      position: (x + y) / 2,
      velocity: (y - x) * per,
      acceleration: 0,
    })
    const state = {
      pan: axis(a.panDeg, b.panDeg),
      tilt: axis(a.tiltDeg, b.tiltDeg),
      zoom: axis(log(a.zoom), log(b.zoom)),
      focus: axis(0, 0),
    }
    return screenSpeed(state, hfovAt(profile, zoom))
  })
}

/** Where a path is at a time, straight between its points. */
export function placeAt(points: readonly (Place & { s: number })[], s: number): Place {
  const next = points.findIndex((p) => p.s >= s)
  if (next <= 0) return points[next === 0 ? 0 : points.length - 1]!
  const [a, b] = [points[next - 1]!, points[next]!]
  const share = (s - a.s) / (b.s - a.s)
  const mix = (x: number, y: number) => x + share * (y - x)
  return {
    panDeg: mix(a.panDeg, b.panDeg),
    tiltDeg: mix(a.tiltDeg, b.tiltDeg),
    zoom: mix(a.zoom, b.zoom),
  }
}
