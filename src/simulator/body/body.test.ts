import fc from 'fast-check'
import { headProfile } from '../../core/heads/registry'
import { Axis } from './axis'
import { focusFor } from './focus'
import { Head } from './head'

const limits = { min: -170, max: 170, accel: 260, step: 1 / 80 }

test('an axis comes to rest on its goal, within its speed and acceleration', () => {
  const at = fc.double({ min: -169, max: 169, noNaN: true })
  fc.assert(
    fc.property(at, at, fc.double({ min: 4, max: 100, noNaN: true }), (from, to, speed) => {
      const axis = new Axis(Math.round(from * 80) / 80, limits)
      axis.goTo(to, speed)
      let before = 0
      let worst = 0
      let fastest = 0
      for (let i = 0; i < 400_000 && axis.moving; i++) {
        axis.advance(0.004)
        fastest = Math.max(fastest, Math.abs(axis.velocity))
        worst = Math.max(worst, Math.abs(axis.velocity - before))
        before = axis.velocity
      }
      expect(fastest).toBeLessThanOrEqual(speed + 1e-6)
      // One step's worth of acceleration, and up to two more where it settles.
      expect(worst).toBeLessThanOrEqual(260 * 0.004 * 3.1)
      expect(Math.abs(axis.position - to)).toBeLessThanOrEqual(1 / 160 + 1e-9)
    }),
    { numRuns: 60 },
  )
})

test('driven against its end an axis brakes and stops there', () => {
  const axis = new Axis(160, limits)
  axis.drive(100)
  axis.advance(3)
  expect(axis.position).toBeCloseTo(170, 1)
  expect(Math.abs(axis.velocity)).toBeLessThan(1)
  axis.drive(0)
  axis.advance(1)
  expect(axis.moving).toBe(false)
})

test('autofocus needs time, ends sharp, and leaves manual focus alone', () => {
  let distance = 4
  const head = new Head(headProfile('marsh-20x'), { panDeg: 0, tiltDeg: 0, zoom: 0 }, () => distance, 0)
  head.advance(3000)
  expect(Math.abs(head.focus.position - focusFor(4))).toBeLessThan(60)
  distance = 12
  head.advance(3200)
  expect(Math.abs(head.focus.position - focusFor(12))).toBeGreaterThan(500)
  head.advance(5000)
  expect(Math.abs(head.focus.position - focusFor(12))).toBeLessThan(60)
  head.focus.setAuto(false)
  distance = 2
  head.advance(8000)
  expect(Math.abs(head.focus.position - focusFor(12))).toBeLessThan(60)
})

test('memories bring the head back; an empty one is refused', () => {
  const head = new Head(headProfile('marsh-20x'), { panDeg: 20, tiltDeg: -10, zoom: 5000 }, () => 8, 0)
  head.remember(7)
  head.pan.goTo(-40, 100)
  head.advance(4000)
  expect(head.recall(8)).toBe(false)
  expect(head.recall(7)).toBe(true)
  head.advance(9000)
  expect(head.pan.position).toBeCloseTo(20, 2)
  expect(head.moving).toBe(false)
})
