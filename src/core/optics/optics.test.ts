import fc from 'fast-check'
import { headProfile } from '../heads/registry'
import { monotoneCurve } from './curve'
import { createLens, vfovOf } from './lens'
import { scaleFigures, scaleWindow } from './scale'
import { angleBetweenDeg, panTiltOf, pointOf, rayAt, toCamera, toRoom, type View } from './sphere'

const lens = createLens(headProfile('marsh-20x').lens)
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })

test('the curve rises with its points, goes through them, and turns back exactly', () => {
  const gaps = fc.array(fc.tuple(number(0.01, 10), number(0.01, 10)), { minLength: 1, maxLength: 9 })
  fc.assert(
    fc.property(gaps, number(0, 1), number(0, 1), (steps, a, b) => {
      const points: [number, number][] = [[0, 0]]
      for (const [dx, dy] of steps) {
        const [x, y] = points[points.length - 1]!
        points.push([x + dx, y + dy])
      }
      const curve = monotoneCurve(points)
      for (const [x, y] of points) expect(curve.at(x)).toBeCloseTo(y, 9)
      const end = points[points.length - 1]![0]
      const [low, high] = [Math.min(a, b) * end, Math.max(a, b) * end]
      expect(curve.at(low)).toBeLessThanOrEqual(curve.at(high) + 1e-12)
      expect(curve.at(curve.inverse(curve.at(low)))).toBeCloseTo(curve.at(low), 9)
    }),
  )
  expect(() => monotoneCurve([[0, 1]])).toThrow(RangeError)
  expect(() =>
    monotoneCurve([
      [0, 1],
      [1, 3],
      [2, 2],
    ]),
  ).toThrow(RangeError)
})

test('the 20x lens: 60 to 3.2 degrees, and back from field of view and magnification', () => {
  expect(lens.hfovDeg(lens.wide)).toBeCloseTo(60, 2)
  expect(lens.hfovDeg(lens.tele)).toBeCloseTo(3.2, 2)
  expect(vfovOf(60, 16 / 9)).toBeCloseTo(35.98, 2)
  fc.assert(
    fc.property(number(lens.wide, lens.tele), (zoom) => {
      expect(Math.abs(lens.zoomForHfov(lens.hfovDeg(zoom)) - zoom)).toBeLessThan(1e-6)
      expect(Math.abs(lens.zoomForMagnification(lens.magnification(zoom)) - zoom)).toBeLessThan(1e-6)
    }),
  )
})

const view: fc.Arbitrary<View> = fc.record({
  panDeg: number(-180, 180),
  tiltDeg: number(-89, 89),
  hfovDeg: number(2, 100),
  vfovDeg: number(1.2, 70),
})

test('out to the room and back within 1e-9, for 100,000 poses', () => {
  fc.assert(
    fc.property(view, number(-1, 1), number(-1, 1), (pose, u, v) => {
      const back = pointOf(pose, rayAt(pose, u, v))
      return back !== null && Math.abs(back.u - u) < 1e-9 && Math.abs(back.v - v) < 1e-9
    }),
    { numRuns: 100_000 },
  )
})

test('directions: straight ahead is the pose itself; right is right and up is up', () => {
  expect(panTiltOf(rayAt({ panDeg: 30, tiltDeg: -10, hfovDeg: 60, vfovDeg: 36 }, 0, 0))).toEqual({
    panDeg: expect.closeTo(30, 9),
    tiltDeg: expect.closeTo(-10, 9),
  })
  const level: View = { panDeg: 0, tiltDeg: 0, hfovDeg: 60, vfovDeg: 36 }
  expect(panTiltOf(rayAt(level, 1, 0)).panDeg).toBeCloseTo(30, 9)
  expect(panTiltOf(rayAt(level, 0, 1)).tiltDeg).toBeCloseTo(18, 9)
  // Near the zenith a small step on the screen is a large pan.
  expect(panTiltOf(rayAt({ ...level, tiltDeg: 80 }, 0.3, 0)).panDeg).toBeGreaterThan(40)
  expect(pointOf(level, [0, 0, -1])).toBeNull()
  expect(toCamera(toRoom([0.2, 0.3, 0.9], 77, -33), 77, -33)[1]).toBeCloseTo(0.3, 12)
  expect(angleBetweenDeg({ panDeg: 0, tiltDeg: 0 }, { panDeg: 90, tiltDeg: 0 })).toBeCloseTo(90, 9)
})

test('a scale holds its marks and keeps within its range', () => {
  const range = { from: -170, to: 170 }
  fc.assert(
    fc.property(fc.array(number(-170, 170), { minLength: 1, maxLength: 20 }), (marks) => {
      const shown = scaleWindow(range, marks, { margin: 8, least: 60, step: 10 })
      expect(shown.from).toBeGreaterThanOrEqual(-175)
      expect(shown.to).toBeLessThanOrEqual(175)
      for (const m of marks) expect(m >= shown.from && m <= shown.to).toBe(true)
      expect(scaleFigures(shown, 6).length).toBeGreaterThanOrEqual(3)
    }),
  )
})
