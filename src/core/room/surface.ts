/**
 * What the touched points tell of everything between them. A plan gives no height, and a touch in one camera's
 * picture gives no distance: both follow from a plane through the nearest points.
 */
import type { PanTilt } from '../optics/aim'
import type { Vec3 } from '../optics/sphere'
import { along, directionOf, dot, minus, toOwn, wayOf } from './placed'
import type { PlacedCamera, RoomSolved } from './room'

interface Sample {
  x: number
  y: number
  value: number
}

/** How much slopes are doubted, so that a few points in a row do not make a cliff. */
const STIFF = 0.002

/**
 * At 0, 0, by the plane through samples that counts the near ones most.
 * @param reach samples that are nearer than this count alike
 */
function levelAt(samples: readonly Sample[], reach: number): number {
  const weighed = samples.map((one) => ({
    ...one,
    w: 1 / ((one.x ** 2 + one.y ** 2) / reach ** 2 + 0.05) ** 2,
  }))
  const sum = (of: (one: (typeof weighed)[number]) => number) =>
    weighed.reduce((s, one) => s + one.w * of(one), 0)
  const all = sum(() => 1)
  const mean = { x: sum(({ x }) => x) / all, y: sum(({ y }) => y) / all, v: sum(({ value }) => value) / all }
  const stiff = STIFF * reach ** 2 * 0.05
  const xx = sum(({ x }) => (x - mean.x) ** 2) / all + stiff
  const yy = sum(({ y }) => (y - mean.y) ** 2) / all + stiff
  const xy = sum(({ x, y }) => (x - mean.x) * (y - mean.y)) / all
  const xv = sum(({ x, value }) => (x - mean.x) * (value - mean.v)) / all
  const yv = sum(({ y, value }) => (y - mean.y) * (value - mean.v)) / all
  const det = xx * yy - xy * xy
  const slope = { x: (xv * yy - yv * xy) / det, y: (yv * xx - xv * xy) / det }
  const value = mean.v - slope.x * mean.x - slope.y * mean.y
  // Never far beyond what was touched.
  const values = samples.map((one) => one.value)
  const [low, high] = [Math.min(...values), Math.max(...values)]
  const beyond = (high - low) / 2
  return Math.min(high + beyond, Math.max(low - beyond, value))
}

/** Half of the room's width: nearness is told by it. */
function extentOf(points: RoomSolved['points']): number {
  const [xs, zs] = [points.map(({ at }) => at[0]), points.map(({ at }) => at[2])]
  return Math.max(1e-6, Math.max(...xs) - Math.min(...xs), Math.max(...zs) - Math.min(...zs)) / 2
}

/** The place of a room above a spot of its plan. */
export function onPlan({ points }: RoomSolved, x: number, z: number): Vec3 {
  const samples = points.map(({ at }) => ({ x: at[0] - x, y: at[2] - z, value: at[1] }))
  return [x, levelAt(samples, extentOf(points)), z]
}

/** Directions nearer than this count alike. */
const NEAR = 0.25

/** The place that a camera sees in a direction of its own. Null where nothing was touched in front of it. */
export function inSight({ points }: RoomSolved, camera: PlacedCamera, at: PanTilt): Vec3 | null {
  const ahead = directionOf(at)
  const right = directionOf({ panDeg: at.panDeg + 90, tiltDeg: 0 })
  const up = directionOf({ panDeg: at.panDeg, tiltDeg: at.tiltDeg + 90 })
  const samples = points.flatMap(({ at: place }) => {
    const own = toOwn(minus(place, camera.at), camera)
    const z = dot(own, ahead)
    // One over the distance along the look: of a plane it is even across the picture.
    return z > 1e-6 ? [{ x: dot(own, right) / z, y: dot(own, up) / z, value: 1 / z }] : []
  })
  if (samples.length === 0) return null
  return along(camera.at, wayOf(camera, at), 1 / levelAt(samples, NEAR))
}
