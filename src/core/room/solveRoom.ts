/**
 * Where cameras stand and look, from touches of the same points in each: a start from pairs, then everything at
 * once by robust least squares (a bundle adjustment of directions). Residuals are angles, so that no picture's
 * size matters. Its size comes from one length; without one the first two cameras are one unit apart.
 */
import * as v from 'valibot'
import { type Block, leastOf, unsureness } from '../learning/solve'
import { panTiltOf, type Vec3 } from '../optics/sphere'
import { furtherCamera, meeting, type SecondCamera, secondCameras } from './begin'
import { directionOf, dot, lengthOf, minus, toOwn, toWorld } from './placed'
import {
  LEAST_SHARED,
  Place,
  type PlacedCamera,
  type RoomMarks,
  type RoomPoint,
  RoomSolved,
  type Spot,
} from './room'

const RAD = Math.PI / 180
/** How well a thumb touches the same thing in two pictures, and how level a camera stands, degrees. */
const TOUCH_DEG = 0.2
const LEVEL_DEG = 1
/** Starts that are followed to their end. */
const STARTS = 5
/** One wrong touch among so many can be found out; among more than the most it spoils no start. */
const [ENOUGH_TO_DOUBT, MOST_TO_DOUBT] = [6, 12]
/** Rounds while cameras are still to come. */
const ON_THE_WAY = 6
/** How many of them are followed further. */
const FOLLOWED = 3
const BEHIND = 1000
/** Said of a place that nothing tells: a file has no infinity. */
const UNSURE = 1e6

type Camera = { id: string; at: Vec3; headingDeg: number; pitchDeg: number; rollDeg: number }
interface State {
  cameras: Camera[]
  points: Map<string, Vec3>
}
interface Touch {
  point: string
  camera: string
  own: Vec3
}

const wrapped = (deg: number) => ((((deg + 180) % 360) + 360) % 360) - 180

const touchesOf = (points: readonly RoomPoint[]): Touch[] =>
  points.flatMap(({ id, marks }) =>
    marks.map((mark) => ({ point: id, camera: mark.cameraId, own: directionOf(mark) })),
  )

/** Points that have been touched in both. */
function shared(touches: readonly Touch[], a: string, b: string): { point: string; pair: [Vec3, Vec3] }[] {
  const of = new Map(touches.filter(({ camera }) => camera === b).map(({ point, own }) => [point, own]))
  return touches.flatMap(({ camera, point, own }) => {
    const other = camera === a ? of.get(point) : undefined
    return other ? [{ point, pair: [own, other] as [Vec3, Vec3] }] : []
  })
}

/** All points that at least two of these cameras see. */
function placePoints(touches: readonly Touch[], cameras: readonly Camera[]): Map<string, Vec3> {
  const by = new Map(cameras.map((camera) => [camera.id, camera]))
  const rays = new Map<string, { from: Vec3; way: Vec3 }[]>()
  for (const { point, camera, own } of touches) {
    const at = by.get(camera)
    if (at) rays.set(point, [...(rays.get(point) ?? []), { from: at.at, way: toWorld(own, at) }])
  }
  const out = new Map<string, Vec3>()
  for (const [point, all] of rays) {
    const place = all.length > 1 ? meeting(all) : null
    if (place) out.set(point, place)
  }
  return out
}

/** Two directions across a way, of length 1. */
function across(way: Vec3): [Vec3, Vec3] {
  const { panDeg, tiltDeg } = panTiltOf(way)
  return [directionOf({ panDeg: panDeg + 90, tiltDeg: 0 }), directionOf({ panDeg, tiltDeg: tiltDeg + 90 })]
}

const PER_CAMERA = 6

/** Everything at once, from a start. The first camera stays where it is, the second as far from it. */
function together(touches: readonly Touch[], start: State, rounds?: number) {
  const { cameras } = start
  const names = [...start.points.keys()]
  const placeOfPoint = new Map(names.map((name, i) => [name, cameras.length * PER_CAMERA + 3 * i]))
  const indexOf = new Map(cameras.map(({ id }, i) => [id, i]))
  const p = new Float64Array(cameras.length * PER_CAMERA + 3 * names.length)
  cameras.forEach(({ at, headingDeg, pitchDeg, rollDeg }, i) => {
    p.set([...at, headingDeg * RAD, pitchDeg * RAD, rollDeg * RAD], i * PER_CAMERA)
  })
  for (const name of names) p.set(start.points.get(name)!, placeOfPoint.get(name)!)
  const cameraIn = (q: Float64Array, i: number): Camera => {
    const [x, y, z, heading, pitch, roll] = q.subarray(i * PER_CAMERA)
    return {
      id: cameras[i]!.id,
      at: [x!, y!, z!],
      ...{ headingDeg: heading! / RAD, pitchDeg: pitch! / RAD, rollDeg: roll! / RAD },
    }
  }
  const pointIn = (q: Float64Array, k: number): Vec3 => [q[k]!, q[k + 1]!, q[k + 2]!]
  const blocks: Block[] = touches.flatMap(({ point, camera, own }) => {
    const [i, k] = [indexOf.get(camera), placeOfPoint.get(point)]
    if (i === undefined || k === undefined) return []
    const [right, up] = across(own)
    const ofCamera = i === 0 ? [4, 5] : [0, 1, 2, 3, 4, 5].map((j) => i * PER_CAMERA + j)
    return [
      {
        on: [...ofCamera, k, k + 1, k + 2],
        counts: 1,
        residuals(q) {
          const at = cameraIn(q, i)
          const way = toOwn(minus(pointIn(q, k), at.at), at)
          const ahead = dot(way, own)
          const sigma = TOUCH_DEG * RAD
          return Float64Array.of(
            Math.atan2(dot(way, right), ahead) / sigma,
            Math.atan2(dot(way, up), ahead) / sigma,
          )
        },
      },
    ]
  })
  cameras.forEach((_, i) => {
    const [pitch, roll] = [i * PER_CAMERA + 4, i * PER_CAMERA + 5]
    const level = LEVEL_DEG * RAD
    blocks.push({
      on: [pitch, roll],
      counts: 1,
      prior: true,
      residuals: (q) => Float64Array.of(q[pitch]! / level, q[roll]! / level),
    })
  })
  const apart = (q: Float64Array) => lengthOf(minus(cameraIn(q, 1).at, cameraIn(q, 0).at))
  blocks.push({
    on: [0, 1, 2].map((j) => PER_CAMERA + j),
    counts: 1,
    prior: true,
    residuals: (q) => Float64Array.of((apart(q) - 1) / 1e-3),
  })
  const solved = leastOf(blocks, p, rounds)
  const state: State = {
    cameras: cameras.map((_, i) => cameraIn(solved.p, i)),
    points: new Map(names.map((name) => [name, pointIn(solved.p, placeOfPoint.get(name)!)])),
  }
  /** Of each camera's place. */
  const sigmas = () => {
    const sigma = unsureness(blocks, solved.p)
    return cameras.map((_, i) => Math.hypot(...sigma.subarray(i * PER_CAMERA, i * PER_CAMERA + 3)))
  }
  return { state, sigmas, cost: solved.cost }
}

/** Does every point lie in front of every camera that sees it? */
const inFront = (touches: readonly Touch[], { cameras, points }: State): boolean =>
  touches.every(({ point, camera, own }) => {
    const [at, place] = [cameras.find(({ id }) => id === camera), points.get(point)]
    return !at || !place || dot(toOwn(minus(place, at.at), at), own) > 0
  })

/** Starts that lead to the same end. */
const alike = (a: SecondCamera, b: SecondCamera): boolean =>
  Math.abs(wrapped(a.headingDeg - b.headingDeg)) < 5 && dot(a.at, b.at) > 0.98

/** @returns with a cost that is high where a point lies behind a camera that sees it */
function followed(touches: readonly Touch[], start: State, rounds: number): { state: State; cost: number } {
  const { state, cost } = together(touches, start, rounds)
  return { state, cost: cost + (inFront(touches, state) ? 0 : BEHIND) }
}

const LEVEL = { pitchDeg: 0, rollDeg: 0 }

/** The two that share most, in the best of the ways that their touches allow. */
function firstTwo(touches: readonly Touch[], ids: readonly string[]): State | null {
  const pairs = ids.flatMap((a, i) => ids.slice(i + 1).map((b) => ({ a, b, both: shared(touches, a, b) })))
  const best = pairs.reduce<(typeof pairs)[number] | null>(
    (most, one) => (one.both.length > (most?.both.length ?? 0) ? one : most),
    null,
  )
  if (!best || best.both.length < LEAST_SHARED) return null
  const { a, b, both } = best
  const names = new Set(both.map(({ point }) => point))
  const own = touches.filter(({ camera, point }) => (camera === a || camera === b) && names.has(point))
  const all = both.map(({ pair }) => pair)
  // Each left out once: one that was touched wrongly must not spoil the start.
  const doubted = all.length >= ENOUGH_TO_DOUBT && all.length <= MOST_TO_DOUBT
  const sets = [all, ...(doubted ? all.map((one) => all.filter((p) => p !== one)) : [])]
  const tried: SecondCamera[] = []
  for (const second of sets.flatMap((set) => secondCameras(set, STARTS)))
    if (tried.every((one) => !alike(one, second))) tried.push(second)
  let found: { state: State; cost: number }[] = tried.flatMap((second) => {
    const cameras: Camera[] = [
      { id: a, at: [0, 0, 0], headingDeg: 0, ...LEVEL },
      { id: b, ...second, ...LEVEL },
    ]
    const points = placePoints(own, cameras)
    return points.size < LEAST_SHARED ? [] : [followed(own, { cameras, points }, 3)]
  })
  for (const rounds of [8, 30]) {
    found = found.sort((p, q) => p.cost - q.cost).slice(0, FOLLOWED)
    found = found.map(({ state }) => followed(own, state, rounds))
  }
  return found.sort((p, q) => p.cost - q.cost)[0]?.state ?? null
}

/** Ways that the room is drawn: from the cameras to what they look at is up. */
function turnedUp(state: State): State {
  const mean = (all: readonly Vec3[], k: 0 | 2) => all.reduce((sum, one) => sum + one[k], 0) / all.length
  const [from, to] = [state.cameras.map(({ at }) => at), [...state.points.values()]]
  const up = Math.atan2(mean(to, 0) - mean(from, 0), mean(to, 2) - mean(from, 2)) / RAD
  const turned = (at: Vec3) => toWorld(at, { headingDeg: -up, ...LEVEL })
  return {
    cameras: state.cameras.map((camera) => ({
      ...camera,
      at: turned(camera.at),
      headingDeg: camera.headingDeg - up,
    })),
    points: new Map([...state.points].map(([name, at]) => [name, turned(at)])),
  }
}

const spotIn = ({ cameras, points }: State, { kind, id }: Spot): Vec3 | undefined =>
  kind === 'camera' ? cameras.find((camera) => camera.id === id)?.at : points.get(id)

/** @returns null where nothing fits the touches' directions */
function scaleOf(state: State, { length }: RoomMarks): number | null {
  const [a, b] = length ? [spotIn(state, length.from), spotIn(state, length.to)] : []
  if (!length || !a || !b) return null
  const way = minus(a, b)
  const now = length.upright ? Math.abs(way[1]) : lengthOf(way)
  return now > 1e-6 ? length.metres / now : null
}

/** @returns null while no two cameras share enough points, and where nothing sensible comes of them */
export function solveRoom(marks: RoomMarks): RoomSolved | null {
  const touches = touchesOf(marks.points)
  const ids = [...new Set(touches.map(({ camera }) => camera))]
  let state = firstTwo(touches, ids)
  if (!state) return null
  const sharesOf = (id: string) =>
    touches.filter(({ camera, point }) => camera === id && state!.points.has(point)).length
  const again = (rounds?: number) =>
    together(touches, { cameras: state!.cameras, points: placePoints(touches, state!.cameras) }, rounds)
  for (;;) {
    state = again(ON_THE_WAY).state
    const placed = new Set(state.cameras.map(({ id }) => id))
    const next = ids
      .filter((id) => !placed.has(id) && sharesOf(id) >= LEAST_SHARED)
      .sort((a, b) => sharesOf(b) - sharesOf(a))[0]
    if (next === undefined) break
    const seen = touches.flatMap(({ camera, point, own }) => {
      const place = camera === next ? state!.points.get(point) : undefined
      return place ? [{ own, place }] : []
    })
    const found = furtherCamera(seen)
    if (!found) break
    state = { ...state, cameras: [...state.cameras, { id: next, ...found, ...LEVEL }] }
  }
  const whole = again()
  state = whole.state
  const sigmas = whole.sigmas()
  const drawn = turnedUp(state)
  const scale = scaleOf(drawn, marks)
  const k = scale ?? 1
  const sized = ([x, y, z]: Vec3): [number, number, number] => [x * k, y * k, z * k]
  const cameras: PlacedCamera[] = drawn.cameras.map(({ id, at, headingDeg, pitchDeg, rollDeg }, i) => ({
    ...{ cameraId: id, at: sized(at), headingDeg: wrapped(headingDeg), pitchDeg, rollDeg },
    sigma: i === 0 ? null : Math.min(UNSURE, sigmas[i]! * k),
  }))
  // Rays that are almost parallel meet anywhere.
  const points = [...drawn.points]
    .map(([pointId, at]) => ({ pointId, at: sized(at) }))
    .filter(({ at }) => v.is(Place, at))
  const solved: RoomSolved = {
    ...{ measured: scale !== null, cameras, points },
    off: touches.flatMap(({ point, camera, own }) => {
      const [at, to] = [
        cameras.find(({ cameraId }) => cameraId === camera),
        points.find(({ pointId }) => pointId === point),
      ]
      if (!at || !to) return []
      const way = minus(to.at, at.at)
      const cos = dot(toOwn(way, at), own) / lengthOf(way)
      return [{ pointId: point, cameraId: camera, deg: Math.acos(Math.min(1, Math.max(-1, cos))) / RAD }]
    }),
    left: ids
      .filter((id) => !cameras.some(({ cameraId }) => cameraId === id))
      .map((id) => ({ cameraId: id, shares: sharesOf(id) })),
  }
  return v.is(RoomSolved, solved) ? solved : null
}
