import fc from 'fast-check'
import { contour, padPlace, padToStick } from './pad'
import { DEFAULT_FEEL, deflectionFor, shapeAxis, stickSpeeds, zoomScale } from './shape'

const unit = fc.double({ min: -1, max: 1, noNaN: true })
const scale = fc.double({ min: 0.02, max: 1, noNaN: true })
const speedOf = (s: { panDegPerSec: number; tiltDegPerSec: number }) =>
  Math.hypot(s.panDegPerSec, s.tiltDegPerSec)

test('the stick: exactly zero in the dead zone, never beyond top speed, true to its direction', () => {
  fc.assert(
    fc.property(unit, unit, scale, (x, y, k) => {
      const out = stickSpeeds({ x, y }, k, DEFAULT_FEEL)
      if (Math.hypot(x, y) <= DEFAULT_FEEL.deadZone) expect(speedOf(out)).toBe(0)
      expect(speedOf(out)).toBeLessThanOrEqual(DEFAULT_FEEL.topDegPerSec * k + 1e-9)
      expect(out.panDegPerSec * y).toBeCloseTo(out.tiltDegPerSec * x, 9)
      const mirrored = stickSpeeds({ x: -x, y: -y }, k, DEFAULT_FEEL)
      expect(mirrored.panDegPerSec).toBeCloseTo(-out.panDegPerSec, 12)
    }),
  )
  expect(stickSpeeds({ x: 1, y: 0 }, 1, DEFAULT_FEEL).panDegPerSec).toBeCloseTo(DEFAULT_FEEL.topDegPerSec, 9)
  expect(stickSpeeds({ x: Number.NaN, y: 0 }, 1, DEFAULT_FEEL)).toEqual({ panDegPerSec: 0, tiltDegPerSec: 0 })
})

test('farther is never slower, and does not jump', () => {
  let before = 0
  for (let r = 0; r <= 1; r += 0.001) {
    const speed = stickSpeeds({ x: r, y: 0 }, 1, DEFAULT_FEEL).panDegPerSec
    expect(speed).toBeGreaterThanOrEqual(before)
    expect(speed - before).toBeLessThan(0.25)
    before = speed
  }
})

test('a contour line lies where its speed is', () => {
  fc.assert(
    fc.property(fc.double({ min: 0.05, max: 56, noNaN: true }), scale, (speed, k) => {
      const radius = deflectionFor(speed, k, DEFAULT_FEEL)
      if (radius === null) return expect(speed).toBeGreaterThan(DEFAULT_FEEL.topDegPerSec * k)
      for (const [x, y] of contour(radius, 12)) {
        expect(speedOf(stickSpeeds(padToStick(x, y), k, DEFAULT_FEEL))).toBeCloseTo(speed, 6)
      }
    }),
  )
})

test('the pad: the corner is full, a slip beyond the rim stays full', () => {
  expect(Math.hypot(...Object.values(padToStick(1, 1)))).toBeCloseTo(1, 9)
  expect(Math.hypot(...Object.values(padToStick(5, -3)))).toBeCloseTo(1, 9)
  expect(padToStick(0, 0)).toEqual({ x: 0, y: 0 })
  expect(padPlace(3, 0)).toEqual({ x: 1, y: 0 })
})

test('one-axis controls are odd, zero at rest, one at full', () => {
  fc.assert(
    fc.property(unit, (x) =>
      expect(shapeAxis(-x, DEFAULT_FEEL)).toBeCloseTo(-shapeAxis(x, DEFAULT_FEEL), 12),
    ),
  )
  expect(shapeAxis(0.03, DEFAULT_FEEL)).toBe(0)
  expect(shapeAxis(1, DEFAULT_FEEL)).toBe(1)
})

test('the picture crosses the screen as fast at any zoom', () => {
  const full = (hfov: number) => DEFAULT_FEEL.topDegPerSec * zoomScale(hfov, 60, DEFAULT_FEEL.zoomFloor)
  const width = (hfov: number) => Math.tan((hfov * Math.PI) / 360)
  for (const hfov of [60, 30, 10, 3.2]) expect(full(hfov) / width(hfov)).toBeCloseTo(full(60) / width(60), 9)
})
