import fc from 'fast-check'
import { LEASH_EVERY_MS, LEASH_S, LeashLead, leashPoint } from './leash'

const ends = { min: -100, max: 100 }

test('the point is never further ahead than the leash, never beyond the limits, and on the side of the hand', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -100, max: 100, noNaN: true }),
      fc.double({ min: -90, max: 90, noNaN: true }),
      (at, speed) => {
        const point = leashPoint(at, speed, ends)
        expect(Math.abs(point - at)).toBeLessThanOrEqual(Math.abs(speed) * LEASH_S + 1e-9)
        expect(point).toBeGreaterThanOrEqual(ends.min)
        expect(point).toBeLessThanOrEqual(ends.max)
        expect((point - at) * speed).toBeGreaterThanOrEqual(0)
      },
    ),
  )
  // The whole promise: 0.8 s ahead at most.
  expect(LEASH_S).toBeLessThanOrEqual(0.8)
})

test('an axis beyond its limits is not pulled back by a stick that rests', () => {
  expect(leashPoint(120, 0, ends)).toBe(120)
  expect(leashPoint(120, 30, ends)).toBe(120)
  expect(leashPoint(120, -30, ends)).toBe(120 - 30 * LEASH_S)
})

test('a lens that runs to each point at its own speed covers the distance of the hand', () => {
  const lead = new LeashLead()
  const own = 4000
  let at = 1000
  const speed = 700
  for (let ms = 0; ms < 6000; ms += LEASH_EVERY_MS) {
    const point = lead.next(at, speed, { min: 0, max: 16_384 }, ms)
    const most = (own * LEASH_EVERY_MS) / 1000
    at += Math.max(-most, Math.min(most, point - at))
  }
  expect(Math.abs(at - 1000 - speed * 6)).toBeLessThan(speed * 0.2)
  // Heard no more, it stops at the last point.
  expect(lead.next(at, speed, { min: 0, max: 16_384 }, 6000) - at).toBeLessThanOrEqual(speed * LEASH_S)
})
