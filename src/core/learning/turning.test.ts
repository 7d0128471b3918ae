/** Heads and lenses drawn from seeds, seen through made-up points: a camera that only turns must find them again. */
import { seeded } from '../seeded'
import { type Guess, homography, type Look, learnTurning, type Pair } from './turning'

const RAD = Math.PI / 180
type M = readonly (readonly [number, number, number])[]
const rotation = (panDeg: number, tiltDeg: number): M => {
  const [sp, cp] = [Math.sin(panDeg * RAD), Math.cos(panDeg * RAD)]
  const [st, ct] = [Math.sin(tiltDeg * RAD), Math.cos(tiltDeg * RAD)]
  // Columns: the camera's right, up and forward in the room.
  return [
    [cp, -sp * st, sp * ct],
    [0, ct, st],
    [-sp, -cp * st, cp * ct],
  ]
}

interface Truth {
  panDegPerStep: number
  tiltDegPerStep: number
  tiltAtZeroDeg: number
  focals: number[]
  k1: number
  axis: [number, number]
}

function seenIn(truth: Truth, look: Look, ray: readonly number[]): [number, number] | null {
  const m = rotation(look.pan * truth.panDegPerStep, look.tilt * truth.tiltDegPerStep + truth.tiltAtZeroDeg)
  const [x, y, z] = [0, 1, 2].map((k) => m.reduce((sum, row, i) => sum + row[k]! * ray[i]!, 0)) as [
    number,
    number,
    number,
  ]
  if (z <= 0.05) return null
  const [u, v] = [x / z, y / z]
  const k = truth.focals[look.zoom]! * (1 + truth.k1 * (u * u + v * v))
  const at: [number, number] = [u * k + truth.axis[0], v * k + truth.axis[1]]
  return Math.abs(at[0]) < 1 && Math.abs(at[1]) < 0.5625 ? at : null
}

const ZOOMS = 4

function world(seed: number, { wrong = 0.25 } = {}) {
  const random = seeded(seed)
  const between = (a: number, b: number) => a + (b - a) * random()
  const either = () => (random() < 0.5 ? 1 : -1)
  const wide = 1 / Math.tan((between(50, 72) * RAD) / 2)
  const ratio = between(8, 25)
  const truth: Truth = {
    panDegPerStep: either() / between(14, 110),
    tiltDegPerStep: either() / between(14, 110),
    tiltAtZeroDeg: between(-3, 3),
    focals: Array.from({ length: ZOOMS }, (_, i) => wide * ratio ** ((i / (ZOOMS - 1)) ** between(0.9, 1.1))),
    k1: between(-0.1, 0.02),
    axis: [between(-0.01, 0.01), between(-0.01, 0.01)],
  }
  truth.focals.sort((a, b) => a - b)
  const looks: Look[] = []
  const take = (panDeg: number, tiltDeg: number, zoom: number) => {
    looks.push({
      pan: Math.round(panDeg / truth.panDegPerStep),
      tilt: Math.round((tiltDeg - truth.tiltAtZeroDeg) / truth.tiltDegPerStep),
      zoom,
    })
    return looks.length - 1
  }
  const couples: [number, number][] = []
  const rows = [-25, -8].map((tilt) => [-40, -20, 0, 20, 40].map((pan) => take(pan, tilt, 0)))
  for (const row of rows) for (let i = 1; i < 5; i++) couples.push([row[i - 1]!, row[i]!])
  rows[0]!.forEach((one, i) => {
    couples.push([one, rows[1]![i]!])
  })
  const straight: number[] = []
  for (let zoom = 0; zoom < ZOOMS; zoom++) {
    const one = take(5, -15, zoom)
    couples.push([one, take(5 + 0.6 / truth.focals[zoom]! / RAD, -15, zoom)])
    for (const back of [1, 2]) if (zoom >= back) couples.push([straight[zoom - back]!, one])
    straight.push(one)
  }
  couples.push([rows[1]![2]!, straight[0]!])
  const noise = () => ((random() + random() + random() - 1.5) * 0.5) / 320
  const pairs = couples.map(([a, b]): Pair => {
    const points: Pair['points'][number][] = []
    for (let tries = 0; tries < 20_000 && points.length < 28; tries++) {
      const A = looks[a]!
      const reach = 1 / truth.focals[A.zoom]!
      const m = rotation(A.pan * truth.panDegPerStep, A.tilt * truth.tiltDegPerStep + truth.tiltAtZeroDeg)
      const local = [between(-reach, reach), between(-reach, reach) * 0.6, 1]
      const ray = m.map((row) => row.reduce((sum, c, k) => sum + c * local[k]!, 0))
      const [p, q] = [seenIn(truth, A, ray), seenIn(truth, looks[b]!, ray)]
      if (!p || !q) continue
      // Somebody who has moved between the two.
      const moved = random() < wrong ? [between(-0.2, 0.2), between(-0.1, 0.1)] : [0, 0]
      points.push([p[0] + noise(), p[1] + noise(), q[0] + noise() + moved[0]!, q[1] + noise() + moved[1]!])
    }
    return { a, b, points }
  })
  const guess: Guess = {
    panDegPerStep: 1 / 14.4,
    tiltDegPerStep: 1 / 14.4,
    tiltAtZeroDeg: 0,
    focals: Array.from({ length: ZOOMS }, (_, i) => 1.73 * 20 ** (i / (ZOOMS - 1))),
    pointSigma: 0.3 / 320,
  }
  return { truth, looks, pairs, guess }
}

test('steps, tilt, lens and axis are found again within half a percent and their own uncertainty, though people move', () => {
  let [inside, all] = [0, 0]
  for (let seed = 1; seed <= 8; seed++) {
    const { truth, looks, pairs, guess } = world(seed)
    const found = learnTurning(looks, pairs, guess)!
    const check = (figure: { value: number; sigma: number }, is: number) => {
      all += 1
      if (Math.abs(figure.value - is) < 2 * figure.sigma) inside += 1
    }
    expect(Math.abs(found.panDegPerStep.value / truth.panDegPerStep - 1)).toBeLessThan(0.005)
    expect(Math.abs(found.tiltDegPerStep.value / truth.tiltDegPerStep - 1)).toBeLessThan(0.005)
    check(found.panDegPerStep, truth.panDegPerStep)
    check(found.tiltDegPerStep, truth.tiltDegPerStep)
    check(found.tiltAtZeroDeg, truth.tiltAtZeroDeg)
    truth.focals.forEach((focal, i) => {
      expect(Math.abs(found.focals[i]!.value / focal - 1)).toBeLessThan(0.01)
      check(found.focals[i]!, focal)
    })
    check(found.axisWide[0], truth.axis[0])
    check(found.axisWide[1], truth.axis[1])
    // Where the bend shows most, in the corner, it is right to a third of a pixel of 640.
    const r = Math.hypot(1, 0.5625) / truth.focals[0]!
    const off = (found.bend[0].value - truth.k1) * r ** 2 + found.bend[1].value * r ** 4
    expect(Math.abs(off * Math.hypot(1, 0.5625) * 320)).toBeLessThan(2)
  }
  expect(inside / all).toBeGreaterThan(0.95)
}, 180_000)

test('how one picture lies in another is what its points say', () => {
  const { truth, looks } = world(3)
  const straight = { ...truth, k1: 0, axis: [0, 0] as [number, number] }
  const [a, b] = [looks[1]!, looks[2]!]
  const h = homography(straight, a, b)
  const m = rotation(a.pan * truth.panDegPerStep, a.tilt * truth.tiltDegPerStep + truth.tiltAtZeroDeg)
  const at = [0.4, -0.2]
  const local = [at[0]! / truth.focals[0]!, at[1]! / truth.focals[0]!, 1]
  const ray = m.map((row) => row.reduce((sum, c, k) => sum + c * local[k]!, 0))
  const w = h[6]! * at[0]! + h[7]! * at[1]! + h[8]!
  const [x, y] = seenIn(straight, b, ray)!
  expect((h[0]! * at[0]! + h[1]! * at[1]! + h[2]!) / w).toBeCloseTo(x, 9)
  expect((h[3]! * at[0]! + h[4]! * at[1]! + h[5]!) / w).toBeCloseTo(y, 9)
})

test('nothing is learnt of nothing, nor of pictures in which all that was matched is chance', () => {
  const { looks, pairs, guess } = world(2)
  expect(learnTurning(looks, [], guess)).toBeNull()
  expect(
    learnTurning(
      looks,
      pairs.map((pair) => ({ ...pair, points: pair.points.slice(0, 5) })),
      guess,
    ),
  ).toBeNull()
  const random = seeded(9)
  const chance = pairs.map(({ a, b, points }) => ({
    ...{ a, b },
    points: points.map(() => [0, 0, 0, 0].map(() => 2 * random() - 1) as [number, number, number, number]),
  }))
  const found = learnTurning(looks, chance, guess)
  // If anything comes out it is as unsure as it is wrong.
  if (found) expect(found.rms).toBeGreaterThan(3)
})
