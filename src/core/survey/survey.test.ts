/**
 * A made-up surrounding, photographed by a camera that is written out here with matrices of its own: what the
 * survey makes of the pictures is compared with the surrounding itself.
 */
import fc from 'fast-check'
import { seeded } from '../seeded'
import { frameOn, mapFor, toPanTilt, toPx, viewOfBox } from './map'
import { planSurvey, type Reach } from './plan'
import { Raster, type Shot } from './raster'
import { fitted, measureSeams, seamErrors } from './seams'

// A test looks up globals slowly, and this is called millions of times.
const { asin, atan2, cos, hypot, sin, tan } = Math
const rad = (deg: number) => (deg * Math.PI) / 180

/** By longitude and latitude; structure of several sizes, nowhere the same. */
function surrounding(lon: number, lat: number): number {
  const x = cos(lat) * sin(lon)
  const y = sin(lat)
  const z = cos(lat) * cos(lon)
  const waves = sin(9 * x + 4 * y) + sin(13 * y - 7 * z + 1) + sin(23 * z + 11 * x) + sin(31 * x - 19 * y + 2)
  const board = sin(14 * x + 11 * y) * cos(17 * z + 13 * y - 6 * x * y) > 0 ? 30 : -30
  return 120 + 16 * waves + board
}

/** Direction of a pixel: columns of the camera's own axes, without the code under test. */
function directionIn(panDeg: number, tiltDeg: number, u: number, v: number, hfovDeg: number, aspect: number) {
  const [p, t] = [rad(panDeg), rad(tiltDeg)]
  const forward = [sin(p) * cos(t), sin(t), cos(p) * cos(t)]
  const right = [cos(p), 0, -sin(p)]
  const up = [-sin(p) * sin(t), cos(t), -cos(p) * sin(t)]
  const w = tan(rad(hfovDeg) / 2)
  const d = forward.map((f, i) => f + u * w * right[i]! + ((v * w) / aspect) * up[i]!)
  const n = hypot(...d)
  return { lon: atan2(d[0]!, d[2]!), lat: asin(d[1]! / n) }
}

const SIZE = { width: 384, height: 216 }
const FOV = { hfovDeg: 60, vfovDeg: (2 * Math.atan(Math.tan(rad(30)) * (9 / 16)) * 180) / Math.PI }

function photograph(panDeg: number, tiltDeg: number, bright: number): Uint8ClampedArray {
  const { width, height } = SIZE
  const pixels = new Uint8ClampedArray(4 * width * height)
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const [u, v] = [(2 * (i + 0.5)) / width - 1, 1 - (2 * (j + 0.5)) / height]
      const { lon, lat } = directionIn(panDeg, tiltDeg, u, v, FOV.hfovDeg, 16 / 9)
      const luma = bright * surrounding(lon, lat)
      pixels.set([luma, luma, luma, 255], 4 * (j * width + i))
    }
  return pixels
}

const REACH: Reach = { pan: { minDeg: -45, maxDeg: 45 }, tilt: { minDeg: -15, maxDeg: 25 } }

/** @param off how wrong the head reports where it looks, degrees */
function survey(off: number, seed: number): { shots: Shot[]; truth: { panDeg: number; tiltDeg: number }[] } {
  const random = seeded(seed)
  const wrong = () => (random() * 2 - 1) * off
  const truth = planSurvey(REACH, FOV).map(({ panDeg, tiltDeg }) => ({
    panDeg: panDeg + wrong(),
    tiltDeg: tiltDeg + wrong(),
  }))
  const shots = planSurvey(REACH, FOV).map((said, i) => ({
    ...SIZE,
    pixels: photograph(truth[i]!.panDeg, truth[i]!.tiltDeg, off > 0 ? 0.85 + 0.3 * random() : 1),
    view: { ...said, ...FOV },
    gain: 1,
  }))
  return { shots, truth }
}

test('the plan shows every direction within reach, each next to another that overlaps', () => {
  const reach = fc.record({
    pan: fc.tuple(fc.integer({ min: -170, max: 0 }), fc.integer({ min: 1, max: 340 })),
    tilt: fc.tuple(fc.integer({ min: -90, max: 0 }), fc.integer({ min: 1, max: 90 })),
    hfovDeg: fc.integer({ min: 20, max: 75 }),
  })
  fc.assert(
    fc.property(reach, fc.integer(), ({ pan, tilt, hfovDeg }, seed) => {
      const within: Reach = {
        pan: { minDeg: pan[0], maxDeg: Math.min(170, pan[0] + pan[1]) },
        tilt: { minDeg: tilt[0], maxDeg: Math.min(90, tilt[0] + tilt[1]) },
      }
      const vfovDeg = (2 * Math.atan(Math.tan(rad(hfovDeg / 2)) * (9 / 16)) * 180) / Math.PI
      const poses = planSurvey(within, { hfovDeg, vfovDeg })
      const random = seeded(seed)
      for (let k = 0; k < 20; k++) {
        const lon = rad(within.pan.minDeg + random() * (within.pan.maxDeg - within.pan.minDeg))
        const lat = rad(within.tilt.minDeg + random() * (within.tilt.maxDeg - within.tilt.minDeg))
        const d = [Math.sin(lon) * Math.cos(lat), Math.sin(lat), Math.cos(lon) * Math.cos(lat)]
        const shown = poses.some((pose) => {
          const [p, t] = [rad(pose.panDeg), rad(pose.tiltDeg)]
          const x = Math.cos(p) * d[0]! - Math.sin(p) * d[2]!
          const ahead = Math.sin(p) * d[0]! + Math.cos(p) * d[2]!
          const [y, z] = [
            Math.cos(t) * d[1]! - Math.sin(t) * ahead,
            Math.sin(t) * d[1]! + Math.cos(t) * ahead,
          ]
          const w = Math.tan(rad(hfovDeg / 2))
          return z > 0 && Math.abs(x / z) <= w && Math.abs(y / z) <= (w * 9) / 16
        })
        expect(shown).toBe(true)
      }
    }),
    { numRuns: 100 },
  )
})

test('what is laid on the map is what is there, within a pixel of where it is', () => {
  const { shots } = survey(0, 1)
  const map = mapFor(REACH, FOV, SIZE.width)
  const raster = new Raster(shots)
  const area = {
    x: Math.round(map.width / 2) - 60,
    y: Math.round(map.height / 2) - 40,
    width: 120,
    height: 80,
  }
  const pixels = raster.onMap(map, area)
  let [sum, count] = [0, 0]
  for (let j = 0; j < area.height; j += 3)
    for (let i = 0; i < area.width; i += 3) {
      const { panDeg, tiltDeg } = toPanTilt(map, { x: area.x + i + 0.5, y: area.y + j + 0.5 })
      sum += Math.abs(pixels[4 * (j * area.width + i)]! - surrounding(rad(panDeg), rad(tiltDeg)))
      count += 1
    }
  expect(sum / count).toBeLessThan(6)
})

test.each([7, 8])(
  'seed %i: a head that reports half a degree wrong, under light that changes: the seams find where it looked, and fit',
  (seed) => {
    const { shots, truth } = survey(0.5, seed)
    const map = mapFor(REACH, FOV, SIZE.width)
    const before = measureSeams(shots)
    expect(before.length).toBeGreaterThan(shots.length)
    const once = fitted(shots, before)
    const mended = fitted(
      once,
      measureSeams(once),
      shots.map(({ view }) => view),
    )
    const off = (list: readonly Shot[]) => {
      const apart = list.map((shot, i) => ({
        pan: (shot.view.panDeg - truth[i]!.panDeg) * Math.cos(rad(truth[i]!.tiltDeg)),
        tilt: shot.view.tiltDeg - truth[i]!.tiltDeg,
      }))
      // The whole may be turned: what counts is how they lie to each other.
      const mean = (of: (one: (typeof apart)[number]) => number) =>
        apart.reduce((sum, one) => sum + of(one), 0) / apart.length
      const [mp, mt] = [mean((x) => x.pan), mean((x) => x.tilt)]
      return Math.sqrt(mean((x) => (x.pan - mp) ** 2 + (x.tilt - mt) ** 2))
    }
    expect(off(mended)).toBeLessThan(0.6 * off(shots))
    const { medianPx, worstPx } = seamErrors(measureSeams(mended), map.pxPerDeg)
    expect(medianPx!).toBeLessThan(1)
    expect(worstPx!).toBeLessThan(4)
    expect(seamErrors(before, map.pxPerDeg).medianPx!).toBeGreaterThan(2)
  },
)

test('frames on the map: their edges are where the lens sees them, also across the seam and near the zenith', () => {
  const map = mapFor(REACH, FOV, SIZE.width)
  fc.assert(
    fc.property(
      fc.double({ min: -100, max: 100, noNaN: true }),
      fc.double({ min: -30, max: 70, noNaN: true }),
      fc.double({ min: 2, max: 65, noNaN: true }),
      (panDeg, tiltDeg, hfovDeg) => {
        const vfovDeg = (2 * Math.atan(Math.tan(rad(hfovDeg / 2)) * (9 / 16)) * 180) / Math.PI
        const points = frameOn(map, { panDeg, tiltDeg, hfovDeg, vfovDeg })
        for (const [i, point] of points.entries()) {
          const side = Math.floor(i / 12)
          const s = (i % 12) / 12
          const [u, v] = [
            [-1 + 2 * s, 1],
            [1, 1 - 2 * s],
            [1 - 2 * s, -1],
            [-1, -1 + 2 * s],
          ][side]!
          const { lon, lat } = directionIn(panDeg, tiltDeg, u!, v!, hfovDeg, 16 / 9)
          const at = toPanTilt(map, point)
          expect(Math.abs(Math.sin((rad(at.panDeg) - lon) / 2))).toBeLessThan(1e-6)
          expect(rad(at.tiltDeg)).toBeCloseTo(lat, 6)
        }
        const jump = points.some((p, i) => i > 0 && Math.abs(p.x - points[i - 1]!.x) > 179 * map.pxPerDeg)
        if (tiltDeg + vfovDeg / 2 < 85) expect(jump).toBe(false)
      },
    ),
  )
})

test('a box on the map is the view that just holds it', () => {
  const map = mapFor(REACH, FOV, SIZE.width)
  const [a, b] = [toPx(map, { panDeg: 10, tiltDeg: 5 }), toPx(map, { panDeg: 30, tiltDeg: -5 })]
  const view = viewOfBox(map, a, b, 16 / 9)
  expect(view.panDeg).toBeCloseTo(20, 6)
  expect(view.tiltDeg).toBeCloseTo(0, 6)
  expect(view.hfovDeg).toBeGreaterThan(19.9)
  expect(view.vfovDeg).toBeGreaterThan(9.9)
})
