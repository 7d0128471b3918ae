/** Rooms drawn from seeds, with matrices; what is touched in them gives them back. */
import * as v from 'valibot'
import { seeded } from '../seeded'
import {
  deg,
  gaussOf,
  type M,
  panned,
  product,
  rad,
  rolled,
  tilted,
  times,
  transposed,
  type V,
} from '../testing/turns'
import { isDoubtful } from './doubt'
import { seenFrom } from './placed'
import { type RoomMarks, RoomSolved } from './room'
import { solveRoom } from './solveRoom'
import { inSight, onPlan } from './surface'

const away = (a: V, b: V) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])

interface Standing {
  id: string
  at: V
  axes: M
}

function look({ id, at: from, axes }: Standing, at: V) {
  const own = times(transposed(axes), [at[0] - from[0], at[1] - from[1], at[2] - from[2]])
  return {
    cameraId: id,
    panDeg: deg(Math.atan2(own[0], own[2])),
    tiltDeg: deg(Math.atan2(own[1], Math.hypot(own[0], own[2]))),
  }
}

/** Each point touched in each camera, a little beside. */
function touched(
  cameras: readonly Standing[],
  points: readonly V[],
  noise: number,
  gauss: () => number,
): RoomMarks {
  return {
    points: points.map((at, i) => ({
      ...{ id: `p${i}`, name: '' },
      marks: cameras.map((camera) => {
        const { panDeg, tiltDeg, cameraId } = look(camera, at)
        return { cameraId, panDeg: panDeg + noise * gauss(), tiltDeg: tiltDeg + noise * gauss() }
      }),
    })),
    length: {
      from: { kind: 'point', id: 'p0' },
      to: { kind: 'point', id: 'p1' },
      metres: away(points[0]!, points[1]!),
      upright: false,
    },
  }
}

/** Cameras along a wall, looking anywhere and not quite level; points on a stage and on benches. */
function hall(seed: number, cameras: number, points: number) {
  const random = seeded(seed)
  const between = (a: number, b: number) => a + (b - a) * random()
  const gauss = gaussOf(random)
  const standing: Standing[] = Array.from({ length: cameras }, (_, i) => ({
    id: `c${i}`,
    at: [-9 + (18 * i) / (cameras - 1) + between(-1, 1), between(2, 4.5), between(-7, -3) + i],
    axes: product(
      panned(rad(between(-180, 180))),
      product(tilted(rad(0.4 * gauss())), rolled(rad(0.4 * gauss()))),
    ),
  }))
  const places = Array.from(
    { length: points },
    (_, i): V => [between(-8, 8), between(0.3, 2.5), (i % 2 ? 4 : 0) + between(-1, 4)],
  )
  return { standing, places, between, gauss }
}

/** Distances between cameras: whatever way the room is drawn, they are the same. */
function worstBetween(standing: readonly Standing[], { cameras }: RoomSolved): number {
  const at = new Map(cameras.map((one) => [one.cameraId, one.at as V]))
  const off = standing.flatMap((a, i) =>
    standing.slice(i + 1).map((b) => Math.abs(away(at.get(a.id)!, at.get(b.id)!) - away(a.at, b.at))),
  )
  return Math.max(...off)
}

test('without a slip of the thumb the room is what it is', () => {
  for (let seed = 1; seed <= 12; seed++) {
    const { standing, places, gauss } = hall(seed, 2 + (seed % 3), 7)
    const solved = solveRoom(touched(standing, places, 0, gauss))!
    expect(solved.measured).toBe(true)
    expect(solved.left).toEqual([])
    expect(isDoubtful(solved)).toBe(false)
    // How level they stand is expected from experience: what touches tell of it comes first, but not alone.
    expect(worstBetween(standing, solved)).toBeLessThan(0.4)
    expect(Math.max(...solved.off.map((one) => one.deg))).toBeLessThan(0.05)
    for (const camera of solved.cameras)
      for (const [k, place] of places.entries()) {
        const own = look(standing.find(({ id }) => id === camera.cameraId)!, place)
        const seen = seenFrom(camera, solved.points.find(({ pointId }) => pointId === `p${k}`)!.at)
        expect(Math.abs(Math.sin(rad(seen.panDeg - own.panDeg)))).toBeLessThan(0.001)
        expect(Math.abs(seen.tiltDeg - own.tiltDeg)).toBeLessThan(0.05)
      }
  }
})

/** A barn of 16 by 24 m. */
const BARN: readonly [V, number][] = [
  [[0, 3.4, 7], 0],
  [[-8.2, 3, 10.2], 40],
  [[-7.9, 3.3, 13], 18],
  [[3.2, 4.3, 12.6], 27],
  [[2.4, 3.1, 10.6], -12],
]
const SIX: readonly V[] = [
  [-4.4, 1.8, 15.6],
  [4.4, 1.8, 15.6],
  [-3.7, 0.8, 12.4],
  [3.7, 0.8, 12.4],
  [-6.2, 2.6, 17.3],
  [0, 4.2, 21.6],
]

// Three pixels of a map with 25 px in a degree, and of one with 10.
test.each([
  [3, 0.12],
  [5, 0.3],
])(
  '%i cameras of a barn by six points, touched %f degrees beside: within 2 % of its size',
  (count, noise) => {
    const standing = BARN.slice(0, count).map(([at, yaw], i) => ({ id: `c${i}`, at, axes: panned(rad(yaw)) }))
    for (let seed = 1; seed <= 12; seed++) {
      const solved = solveRoom(touched(standing, SIX, noise, gaussOf(seeded(seed))))!
      expect(worstBetween(standing, solved)).toBeLessThan(0.02 * Math.hypot(16, 24))
    }
  },
)

test('one point touched wrongly stands out, and spoils nothing', () => {
  const standing = BARN.slice(0, 3).map(([at, yaw], i) => ({ id: `c${i}`, at, axes: panned(rad(yaw)) }))
  for (let seed = 1; seed <= 6; seed++) {
    const marks = touched(standing, [...SIX, [1, 1.2, 13], [-2, 0.5, 14]], 0.05, gaussOf(seeded(seed)))
    const wrong = marks.points[2 + (seed % 5)]!
    wrong.marks[seed % 3]!.panDeg += 25
    const solved = solveRoom(marks)!
    const worst = solved.off.reduce((a, b) => (b.deg > a.deg ? b : a))
    expect(worst.pointId).toBe(wrong.id)
    expect(worst.deg).toBeGreaterThan(2)
    expect(isDoubtful(solved)).toBe(false)
    expect(worstBetween(standing, solved)).toBeLessThan(0.05 * Math.hypot(16, 24))
  }
})

test('too few touches place nobody; who shares too little is named; without a length it has no metres', () => {
  const { standing, places, gauss } = hall(3, 3, 7)
  const marks = touched(standing, places, 0, gauss)
  expect(solveRoom({ points: [], length: null })).toBeNull()
  expect(solveRoom({ ...marks, points: marks.points.slice(0, 3) })).toBeNull()
  const few = marks.points.map((point, i) => ({
    ...point,
    marks: i < 3 ? point.marks : point.marks.filter(({ cameraId }) => cameraId !== 'c2'),
  }))
  const solved = solveRoom({ points: few, length: null })!
  expect(solved.left).toEqual([{ cameraId: 'c2', shares: 3 }])
  expect(solved.measured).toBe(false)
  expect(away(solved.cameras[0]!.at, solved.cameras[1]!.at)).toBeCloseTo(1, 2)
})

test('a place between the points is found in every camera, from a touch in one of them or on the plan', () => {
  const offs: number[] = []
  for (let seed = 1; seed <= 6; seed++) {
    const { standing, between, gauss } = hall(seed, 3, 0)
    const floor = (x: number, z: number): V => [x, 0.4 + 0.12 * z + 0.02 * x, z]
    const places = [-7, 0, 7].flatMap((x) =>
      [0, 4, 8].map((z) => floor(x + between(-1, 1), z + between(-1, 1))),
    )
    const solved = solveRoom(touched(standing, places, 0.1, gauss))!
    const camera = (id: string) => solved.cameras.find(({ cameraId }) => cameraId === id)!
    for (let i = 0; i < 20; i++) {
      const place = floor(between(-6, 6), between(1, 7))
      const found = inSight(solved, camera('c0'), look(standing[0]!, place))!
      const onFloor = onPlan(solved, found[0], found[2])
      expect(away(found as V, onFloor as V)).toBeLessThan(0.1)
      for (const other of standing.slice(1)) {
        const seen = seenFrom(camera(other.id), found)
        const own = look(other, place)
        const off = Math.hypot(
          deg(Math.asin(Math.sin(rad(seen.panDeg - own.panDeg)))) * Math.cos(rad(own.tiltDeg)),
          seen.tiltDeg - own.tiltDeg,
        )
        offs.push(off)
      }
    }
  }
  offs.sort((a, b) => a - b)
  expect(offs[Math.floor(offs.length * 0.95)]).toBeLessThan(1)
})

test.each<[string, (point: number, camera: number) => [number, number]]>([
  ['all are one place', () => [10, 5]],
  ['all lie along the horizon', (i, k) => [10 * i + 20 * k, 0]],
  ['both cameras stand at one place', (i) => [12 * i, 5 - 3 * i]],
  [
    'each is something else in each camera',
    (i, k) => [180 * Math.sin(7 * i + 13 * k), 80 * Math.sin(3 * i + 5 * k)],
  ],
  ['all are straight above', (i) => [40 * i, 90]],
])('touches that tell nothing are not believed: %s', (_, touch) => {
  const solved = solveRoom({
    points: Array.from({ length: 7 }, (_, i) => ({
      ...{ id: `p${i}`, name: '' },
      marks: [0, 1].map((k) => {
        const [panDeg, tiltDeg] = touch(i, k)
        return { cameraId: `c${k}`, panDeg, tiltDeg }
      }),
    })),
    length: null,
  })
  expect(solved === null || isDoubtful(solved)).toBe(true)
  // It goes through a file and back.
  expect(v.is(v.nullable(RoomSolved), JSON.parse(JSON.stringify(solved)))).toBe(true)
})
