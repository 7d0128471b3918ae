import fc from 'fast-check'
import * as v from 'valibot'
import { HEAD_PROFILES, headProfile } from '../heads/registry'
import { hfovAt, limitsOf } from '../motion/follow/limits'
import { planMove } from '../motion/plan/planMove'
import { resting } from '../motion/plan/types'
import { createLens } from '../optics/lens'
import { seeded } from '../seeded'
import { Curve, curveAt, shapeOne, shapeStick } from './curve'
import { DITHER_AT_REST, dither, speedOfStep } from './dither'
import { ramp } from './ramp'
import { softStop } from './softStop'
import { boundsOf, NO_LIMITS, speedsFor, zoomSlope } from './speeds'

const unit = fc.double({ min: -1, max: 1, noNaN: true })
const TICK_MS = 20

/** Runs a wanted speed for a while; the mean speed, and the steps that were told. */
function run(wanted: number, table: readonly number[], accel: number, ms: number, fromMs = 0) {
  let state = DITHER_AT_REST
  let distance = 0
  const steps: number[] = []
  for (let t = TICK_MS; t <= fromMs + ms; t += TICK_MS) {
    state = dither(state, wanted, table, accel, t)
    if (t > fromMs) {
      steps.push(state.step)
      distance += (speedOfStep(state.step, table) * TICK_MS) / 1000
    }
  }
  return { mean: distance / (ms / 1000), steps }
}

test('10,000 speeds on the heads of every profile: the mean over a second is the wanted one within 1 %', () => {
  const random = seeded(21)
  const axes = HEAD_PROFILES.flatMap((p) => [
    { table: p.pan.speedsDegPerSec, accel: p.pan.accelDegPerSec2 },
    { table: p.tilt.speedsDegPerSec, accel: p.tilt.accelDegPerSec2 },
  ])
  let worst = 0
  for (let i = 0; i < 10_000; i++) {
    const { table, accel } = axes[i % axes.length]!
    const [slow, fast] = [table[0]!, table[table.length - 1]!]
    const wanted = (random() < 0.5 ? -1 : 1) * slow * (fast / slow) ** random()
    const { mean, steps } = run(wanted, table, accel, 1000)
    worst = Math.max(worst, Math.abs(mean / wanted - 1))
    // In any later second no more is missing than one alternation: with 50 packets no better is possible.
    const later = run(wanted, table, accel, 1000, 740).mean
    const upper = table.findIndex((s) => s >= Math.abs(wanted))
    const gap = table[upper]! - (table[upper - 1] ?? table[upper]!)
    if (Math.abs(later - wanted) > Math.max(0.01 * Math.abs(wanted), 0.021 * gap))
      throw new Error('later off')
    if (steps.some((step) => Math.sign(step) !== Math.sign(wanted))) throw new Error('across zero')
    if (new Set(steps).size > 2) throw new Error('more than two steps')
  }
  expect(worst).toBeLessThan(0.01)
})

test('too slow for the head is slowest or nothing; a coarse step is not left before the head can follow', () => {
  const { speedsDegPerSec: table, accelDegPerSec2: accel } = headProfile('marsh-20x').pan
  expect(run(table[0]! * 0.49, table, accel, 400).steps.every((s) => s === 0)).toBe(true)
  expect(run(table[0]! * 0.7, table, accel, 400).steps.every((s) => s === 1)).toBe(true)
  expect(run(0, table, accel, 400).steps.every((s) => s === 0)).toBe(true)
  const { steps } = run(92, table, accel, 2000)
  const lengths = steps
    .join('')
    .match(/(\d\d)\1*/g)!
    .map((s) => s.length / 2)
  // The gap of the two fastest steps needs 62 ms; the first and the last run may be cut off.
  expect(Math.min(...lengths.slice(1, -1))).toBeGreaterThanOrEqual(2)
})

test('a release is exactly zero at once; a push takes hold at once and rises without a jump', () => {
  fc.assert(
    fc.property(unit, unit, fc.double({ min: 0, max: 0.1, noNaN: true }), (before, target, dt) => {
      const now = ramp(before, target, dt)
      if (target === 0) return expect(now).toBe(0)
      expect(Math.sign(now)).toBe(Math.sign(target))
      expect(Math.abs(now)).toBeLessThanOrEqual(Math.abs(target))
      if (Math.sign(before) === Math.sign(target) && Math.abs(before) < Math.abs(target))
        expect(Math.abs(now) - Math.abs(before)).toBeLessThanOrEqual(dt / 0.22 + 1e-9)
      expect(ramp(-before, -target, dt)).toBeCloseTo(-now, 12)
    }),
  )
  let at = 0
  for (let i = 0; i < 15; i++) at = ramp(at, 1, 0.02)
  expect(at).toBe(1)
})

const curve = fc.oneof(
  fc.record({ kind: fc.constant('blend' as const), softness: fc.double({ min: 0, max: 1, noNaN: true }) }),
  fc
    .uniqueArray(fc.integer({ min: 1, max: 99 }), { minLength: 1, maxLength: 5 })
    .chain((xs) =>
      fc.tuple(
        fc.constant(xs.sort((a, b) => a - b)),
        fc.uniqueArray(fc.integer({ min: 1, max: 99 }), { minLength: xs.length, maxLength: xs.length }),
      ),
    )
    .map(([xs, ys]) => {
      ys.sort((a, b) => a - b)
      return { kind: 'drawn' as const, points: xs.map((x, i): [number, number] => [x / 100, ys[i]! / 100]) }
    }),
)

test('every curve is monotone and continuous, symmetric, exactly zero in the dead zone and full at full', () => {
  fc.assert(
    fc.property(curve, fc.double({ min: 0, max: 0.5, noNaN: true }), unit, unit, (c, dead, x, y) => {
      expect(v.is(Curve, c)).toBe(true)
      const respondTo = curveAt(c)
      let before = 0
      for (let i = 0; i <= 100; i++) {
        const now = respondTo(i / 100)
        expect(now).toBeGreaterThanOrEqual(before - 1e-12)
        before = now
      }
      expect(respondTo(0)).toBe(0)
      expect(respondTo(1)).toBeCloseTo(1, 12)
      const out = shapeStick(x, y, dead, respondTo)
      const mirrored = shapeStick(-x, -y, dead, respondTo)
      expect(mirrored.x).toBeCloseTo(-out.x, 12)
      expect(mirrored.y).toBeCloseTo(-out.y, 12)
      if (Math.hypot(x, y) <= dead) expect(out).toEqual({ x: 0, y: 0 })
      expect(out.x * y).toBeCloseTo(out.y * x, 9)
      expect(shapeOne(-x, dead, respondTo)).toBeCloseTo(-shapeOne(x, dead, respondTo), 12)
      expect(shapeOne(1, dead, respondTo)).toBeCloseTo(1, 12)
    }),
  )
  expect(shapeStick(Number.NaN, 0, 0.1, (x) => x)).toEqual({ x: 0, y: 0 })
})

test('no limit is bumped into: a head that obeys late comes to rest at it', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 1, max: 100, noNaN: true }),
      fc.double({ min: 5, max: 200, noNaN: true }),
      (top, brake) => {
        const limits = { min: -50, max: 50 }
        let at = 0
        const told: number[] = []
        for (let t = 0; t < 3000; t++) {
          told.push(softStop(top, at, limits, brake, 0.11))
          // What was told 80 ms ago runs now.
          at += (told[Math.max(0, told.length - 5)] ?? 0) * 0.02
        }
        expect(at).toBeLessThanOrEqual(50 + 1e-6)
        expect(at).toBeGreaterThan(Math.min(49, 0.9 * top * 60))
      },
    ),
    { numRuns: 100 },
  )
  // Away from a limit it was driven beyond, at full speed.
  expect(softStop(-10, 60, { min: -50, max: 50 }, 20, 0.1)).toBe(-10)
  expect(softStop(10, 60, { min: -50, max: 50 }, 20, 0.1)).toBe(0)
})

test('the picture crosses the screen, and zooms, as fast at any focal length', () => {
  for (const profile of HEAD_PROFILES) {
    const lens = createLens(profile.lens)
    const bounds = boundsOf(profile, NO_LIMITS, false)
    const rates = [0.1, 0.3, 0.5, 0.7, 0.9].map((share) => {
      const zoom = lens.wide + share * (lens.tele - lens.wide)
      const at = { panDeg: 0, tiltDeg: 0, zoom }
      const speeds = speedsFor({ pan: 1, tilt: 0, zoom: 0.5, focus: 0 }, profile, lens, at, bounds)
      const width = 2 * Math.tan((lens.hfovDeg(zoom) * Math.PI) / 360)
      const later = lens.focalMm(zoom + speeds.zoomPerSec * 0.01) / lens.focalMm(zoom)
      return { pan: (speeds.panDegPerSec * Math.PI) / 180 / width, zoom: Math.log(later) / 0.01 }
    })
    for (const key of ['pan', 'zoom'] as const) {
      const values = rates.map((r) => r[key])
      expect(Math.max(...values) / Math.min(...values)).toBeLessThan(1.15)
    }
  }
})

test('a camera that zooms further than its profile knows has a slope there too, and a plan from there ends', () => {
  const head = fc.constantFrom(...HEAD_PROFILES)
  fc.assert(
    fc.property(head, fc.double({ min: -0.5, max: 2, noNaN: true }), (profile, share) => {
      const lens = createLens(profile.lens)
      const zoom = lens.wide + (lens.tele - lens.wide) * share
      expect(zoomSlope(lens, zoom)).toBeGreaterThan(0)
      expect(zoomSlope(lens, zoom)).toBeLessThan(1)
      const middle = (lens.wide + lens.tele) / 2
      const log = (at: number) => resting(Math.log(lens.focalMm(at)))
      const { trajectory } = planMove({
        from: { pan: resting(0), tilt: resting(0), zoom: log(zoom), focus: resting(0) },
        to: { pan: 5, tilt: 1, zoom: log(middle).position, focus: 0 },
        seconds: 4,
        limits: limitsOf(profile, lens, zoom, middle),
        hfovDeg: (at) => hfovAt(profile, at),
      })
      expect(trajectory.seconds).toBeLessThan(60)
      expect(Number.isFinite(trajectory.at(1).pan.velocity)).toBe(true)
    }),
  )
})
