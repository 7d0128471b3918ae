import fc from 'fast-check'
import { seeded } from '../seeded'
import { Intake } from './intake'
import { LinkStats } from './linkStats'
import { Pacer } from './pacer'
import { RawSession } from './rawSession'

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
        expect(s.resendAfterMs(sends)).toBeGreaterThanOrEqual(30)
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

test.each([0.1, 0.36])('a network that loses %d of all packets is not taken for a slow camera', (loss) => {
  let taken = 0
  for (let seed = 1; seed <= 20; seed++) {
    const random = seeded(seed)
    const intake = new Intake(33)
    let widened = false
    for (let i = 0; i < 4000; i++)
      widened = intake.outcome(random() < 0.7 ? 36 : 99, random() >= loss) || widened
    if (widened) taken += 1
  }
  // By chance alone it looks so once in a while.
  expect(taken).toBeLessThan(3)
})

test('a camera that drops what comes too soon is found out, on a network that loses packets too', () => {
  for (let seed = 1; seed <= 20; seed++) {
    const random = seeded(seed)
    const intake = new Intake(33)
    let widened = false
    for (let i = 0; i < 2000 && !widened; i++) {
      const spaced = random() < 0.6 ? intake.gapMs + 3 : 120
      widened = intake.outcome(spaced, random() >= 0.05 && spaced >= 45)
    }
    expect(widened).toBe(true)
    expect(intake.gapMs).toBeGreaterThanOrEqual(45)
  }
})

const PLACE = [0x90, 0x50, 0, 0, 0, 1, 0, 0, 0, 2, 0xff]

/** A session that is ready, its camera's gap, and what it sends. */
function talks(connected: boolean) {
  const session = new RawSession({ gapMs: 33, connected })
  const sent: { atMs: number; hex: string }[] = []
  const run = (fromMs: number, toMs: number, answer?: readonly number[]) => {
    for (let ms = fromMs; ms < toMs; ms++) {
      if (ms >= session.nextAtMs(ms)) session.advance(ms)
      for (const bytes of session.takeDatagrams()) {
        sent.push({ atMs: ms, hex: Buffer.from(bytes).toString('hex') })
        if (answer) session.receive(Uint8Array.from(answer), ms + 2)
      }
    }
  }
  run(0, 10)
  session.receive(Uint8Array.from([0x90, 0x50, 0x02, 0xff]), 10)
  session.ask('ptPosition', 200)
  run(200, 300, PLACE)
  session.takeEvents()
  sent.length = 0
  return { session, sent, run }
}

test('positions are asked before what changes slowly, which waits for a second at most', () => {
  const { session, sent, run } = talks(false)
  for (const kind of ['power', 'focusMode', 'focusPosition'] as const) session.ask(kind, 300)
  for (let ms = 300; ms < 2500; ms += 20) {
    session.ask('ptPosition', ms)
    run(ms, ms + 20, PLACE)
  }
  const of = (hex: string) => sent.filter((s) => s.hex === hex).map(({ atMs }) => atMs)
  const [focus] = of('81090438ff')
  expect(of('81090612ff').filter((ms) => ms < 1300).length).toBeGreaterThan(20)
  expect(focus).toBeGreaterThan(1300)
  expect(focus).toBeLessThan(1500)
})

test.each([
  [true, 1],
  [false, 5],
])('over a connection (%s) an order that is late is not sent again at once', (connected, copies) => {
  const { session, sent, run } = talks(connected)
  session.send({ kind: 'ptHome' }, { urgency: 'queued', lanes: ['panTilt'] }, 300)
  run(300, 520)
  expect(sent.filter(({ hex }) => hex === '81010604ff').length).toBe(copies)
  // Its gap is kept by the copies too.
  for (const [i, { atMs }] of sent.entries())
    if (i > 0) expect(atMs - sent[i - 1]!.atMs).toBeGreaterThanOrEqual(33)
})
