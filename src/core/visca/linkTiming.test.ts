import fc from 'fast-check'
import { LinkStats } from './linkStats'
import { Pacer } from './pacer'

test('resend times follow the round trip, within their bounds, and grow with each try', () => {
  const stats = new LinkStats()
  expect(stats.resendAfterMs(1)).toBe(250)
  for (let i = 0; i < 50; i++) stats.answered(120 + (i % 2) * 10, false)
  expect(stats.roundTripMs).toBeGreaterThan(118)
  expect(stats.roundTripMs).toBeLessThan(132)
  expect(stats.resendAfterMs(1)).toBeGreaterThan(130)
  expect(stats.resendAfterMs(1)).toBeLessThan(200)
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: 0, max: 5000, noNaN: true })),
      fc.integer({ min: 1, max: 20 }),
      (trips, sends) => {
        const s = new LinkStats()
        for (const trip of trips) s.answered(trip, false)
        expect(s.resendAfterMs(sends)).toBeGreaterThanOrEqual(60)
        expect(s.resendAfterMs(sends)).toBeLessThanOrEqual(500)
        expect(s.resendAfterMs(sends + 1)).toBeGreaterThanOrEqual(s.resendAfterMs(sends))
      },
    ),
  )
})

test('the answer to a resent packet says nothing about the round trip', () => {
  const stats = new LinkStats()
  stats.answered(20, false)
  stats.answered(900, true)
  expect(stats.roundTripMs).toBe(20)
})

test('loss is smoothed towards what is seen', () => {
  const stats = new LinkStats()
  for (let i = 0; i < 400; i++) {
    if (i % 5 === 0) stats.lost()
    else stats.answered(10, false)
  }
  expect(stats.loss).toBeGreaterThan(0.12)
  expect(stats.loss).toBeLessThan(0.3)
})

test('the pacer: never more than its burst ahead of its mean rate, and ready when it says', () => {
  const gaps = fc.array(fc.double({ min: 0, max: 60, noNaN: true }), { minLength: 20, maxLength: 200 })
  fc.assert(
    fc.property(gaps, (list) => {
      const pacer = new Pacer(20, 3)
      let now = 0
      let taken = 0
      for (const gap of list) {
        now += gap
        if (pacer.take(now)) taken += 1
        expect(taken).toBeLessThanOrEqual(3 + now / 20 + 1e-6)
        const ready = pacer.readyAtMs(now)
        expect(ready - now).toBeLessThanOrEqual(20 + 1e-6)
      }
      expect(pacer.take(pacer.readyAtMs(now) + 1e-6)).toBe(true)
    }),
  )
})
