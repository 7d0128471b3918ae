import fc from 'fast-check'
import { headProfile } from '../../heads/registry'
import { seeded } from '../../seeded'
import { SpeedLedger } from './ledger'

const profile = headProfile('common-20x')
const table = profile.pan.speedsDegPerSec

/** What a head with speeds of its own does of what it is told: between two steps it runs at both in turn. */
const trulyOf = (own: readonly number[]) => (told: number) => {
  let low = 0
  while (low < table.length - 1 && table[low + 1]! <= told) low += 1
  const [a, b] = [table[low]!, table[low + 1]]
  const share = b === undefined ? 0 : Math.max(0, (told - a) / (b - a))
  return told < a ? (told * own[0]!) / a : own[low]! * (1 - share) + (own[low + 1] ?? 0) * share
}

test('from runs at mixed speeds it learns what the head does at each step', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
      const random = seeded(seed)
      const [power, by] = [0.9 + 0.2 * random(), 0.7 + 0.5 * random()]
      // Uneven, with steps that are the same as the one before.
      const own = table.map((s) => by * s ** power * (0.93 + 0.14 * random())).sort((a, b) => a - b)
      const truly = trulyOf(own)
      const ledger = new SpeedLedger(profile)
      const speed = () => 1.5 * 40 ** random()
      for (let i = 0; i < 1500; i++) {
        // Speeds that lie near each other, as in a move.
        const from = speed()
        const pieces = [1, 1.1, 1.2].map((by) => ({ speed: from * by, seconds: 0.2 }))
        const expected = pieces.reduce((sum, p) => sum + p.speed * p.seconds, 0)
        const did = pieces.reduce((sum, p) => sum + truly(ledger.toTell('pan', p.speed)) * p.seconds, 0)
        ledger.learn(
          'pan',
          pieces.map((p) => ({ speed: p.speed, share: (p.speed * p.seconds) / expected })),
          did / expected,
        )
      }
      const errors = Array.from({ length: 40 }, () => {
        const wanted = speed()
        return Math.abs(truly(ledger.toTell('pan', wanted)) / wanted - 1)
      }).sort((a, b) => a - b)
      expect(errors[20]).toBeLessThan(0.04)
    }),
    { numRuns: 12 },
  )
})

test('what is no speed at all is not learnt from', () => {
  const ledger = new SpeedLedger(profile)
  for (const ratio of [0, 0.2, 4, Number.NaN, Number.POSITIVE_INFINITY])
    ledger.learn('pan', [{ speed: 10, share: 1 }], ratio)
  expect(ledger.factor('pan', 10)).toBe(1)
  expect(ledger.changed).toBe(false)
})

test('a step that nobody has looked at follows those beside it, the nearer the more; one that is known stays', () => {
  const ledger = new SpeedLedger(profile)
  const at = (i: number) => ledger.factor('pan', table[i]!)
  const middle = table.length >> 1
  const look = (i: number, ratio: number) =>
    ledger.learn('pan', [{ speed: table[i]! * at(i), share: 1 }], ratio)
  look(middle, 0.8)
  expect(at(middle)).toBeCloseTo(0.8, 2)
  const [near, far] = [at(middle + 1), at(table.length - 1)]
  expect(near).toBeLessThan(0.97)
  expect(near).toBeGreaterThan(at(middle))
  expect(far).toBeGreaterThan(near)
  expect(far).toBeLessThanOrEqual(1)
  // Looked at by itself, it is what it was seen to be, whatever its neighbour does from then on.
  for (let i = 0; i < 6; i++) look(middle + 1, 1.1 / at(middle + 1))
  for (let i = 0; i < 6; i++) look(middle, 0.7 / at(middle))
  expect(at(middle + 1)).toBeCloseTo(1.1, 1)
  // And so it is for what was learnt before this server began.
  const again = new SpeedLedger(profile, ledger.learnt)
  again.learn('pan', [{ speed: table[middle]! * 0.7, share: 1 }], 0.8)
  expect(again.factor('pan', table[middle + 1]!)).toBeCloseTo(1.1, 1)
})
