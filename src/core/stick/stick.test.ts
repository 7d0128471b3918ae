import fc from 'fast-check'
import { USUAL_FEEL } from '../controls/controls'
import { HEAD_PROFILES } from '../heads/registry'
import { createLens } from '../optics/lens'
import { curveAt, DEFAULT_CURVE, shapeOne, shapeStick } from './curve'
import { feltPush, type HandPace } from './hand'
import { padPlace, padToStick } from './pad'
import { type PadChain, padLine, placeBelow } from './padLines'
import { DEFAULT_FEEL, zoomScale } from './shape'
import { PUSH_AT_REST, pushSpeeds } from './speeds'

const unit = fc.double({ min: -1, max: 1, noNaN: true })
const share = fc.double({ min: 0.05, max: 1, noNaN: true })
const { deadZone } = DEFAULT_FEEL
const respondTo = curveAt(DEFAULT_CURVE)

test('the stick: exactly zero in the dead zone, never beyond full, true to its direction', () => {
  fc.assert(
    fc.property(unit, unit, (x, y) => {
      const out = shapeStick(x, y, deadZone, respondTo)
      if (Math.hypot(x, y) <= deadZone) expect(out).toEqual({ x: 0, y: 0 })
      expect(Math.hypot(out.x, out.y)).toBeLessThanOrEqual(1 + 1e-9)
      expect(out.x * y).toBeCloseTo(out.y * x, 9)
    }),
  )
  expect(shapeStick(1, 0, deadZone, respondTo).x).toBeCloseTo(1, 9)
  expect(shapeStick(Number.NaN, 0, deadZone, respondTo)).toEqual({ x: 0, y: 0 })
})

test('farther is never slower, and does not jump', () => {
  let before = 0
  for (let r = 0; r <= 1; r += 0.001) {
    const { x } = shapeStick(r, 0, deadZone, respondTo)
    expect(x).toBeGreaterThanOrEqual(before)
    expect(x - before).toBeLessThan(0.005)
    before = x
  }
})

test('a line of the pad lies where its speed is: the chain that drives, run forwards, over all heads', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...HEAD_PROFILES),
      fc.record({ speed: share, pan: share, tilt: share, slow: share }),
      fc.constantFrom<HandPace>('slow', 'usual', 'fast'),
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.double({ min: 0.02, max: 80, noNaN: true }),
      (profile, own, pace, zoomShare, speed) => {
        const lens = createLens(profile.lens)
        const zoom = lens.wide + zoomShare * (lens.tele - lens.wide)
        const feel = { ...USUAL_FEEL, ...own }
        const chain: PadChain = { profile, lens, zoom, feel, pace, deadZone, respondTo }
        const at = { panDeg: 0, tiltDeg: 0, zoom }
        const driven = (x: number, y: number) => {
          const stick = padToStick(x, y)
          const push = shapeStick(stick.x, stick.y, deadZone, respondTo)
          const felt = feltPush({ ...PUSH_AT_REST, pan: push.x, tilt: push.y }, feel, pace)
          const { panDegPerSec, tiltDegPerSec } = pushSpeeds(felt, profile, lens, at)
          return Math.hypot(panDegPerSec, tiltDegPerSec)
        }
        for (const { x, y } of padLine(speed, chain, 16).flat()) {
          expect(Math.abs(driven(x, y) / speed - 1)).toBeLessThan(0.02)
        }
        // Where there is no line straight down, full push does not reach the speed.
        const below = placeBelow(speed, chain)
        if (below) expect(Math.abs(driven(below.x, below.y) / speed - 1)).toBeLessThan(0.02)
        else expect(driven(0, -1)).toBeLessThan(speed)
      },
    ),
    { numRuns: 300 },
  )
})

test('the pad: the corner is full, a slip beyond the rim stays full', () => {
  expect(Math.hypot(...Object.values(padToStick(1, 1)))).toBeCloseTo(1, 9)
  expect(Math.hypot(...Object.values(padToStick(5, -3)))).toBeCloseTo(1, 9)
  expect(padToStick(0, 0)).toEqual({ x: 0, y: 0 })
  expect(padPlace(3, 0)).toEqual({ x: 1, y: 0 })
})

test('one-axis controls are odd, zero at rest, one at full', () => {
  const shape = (x: number) => shapeOne(x, deadZone, respondTo)
  fc.assert(fc.property(unit, (x) => expect(shape(-x)).toBeCloseTo(-shape(x), 12)))
  expect([shape(0.03), shape(1)]).toEqual([0, 1])
})

test('the picture crosses the screen as fast at any zoom', () => {
  const full = (hfov: number) => DEFAULT_FEEL.topDegPerSec * zoomScale(hfov, 60, DEFAULT_FEEL.zoomFloor)
  const width = (hfov: number) => Math.tan((hfov * Math.PI) / 360)
  for (const hfov of [60, 30, 10, 3.2]) expect(full(hfov) / width(hfov)).toBeCloseTo(full(60) / width(60), 9)
})
