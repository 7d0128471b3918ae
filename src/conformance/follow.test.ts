/**
 * Timed moves of a head whose speeds, delays and reports are its own: they arrive when they were asked to, all axes
 * together, and keep to their plan; the same moves as plain absolute orders do not.
 */
import { headProfile } from '../core/heads/registry'
import { ALL_PARTS } from '../core/presets/pace'
import { fieldRig } from './fieldRig'
import { poseOf } from './follow'
import { type MovesOf, randomMoves, summed } from './followMoves'
import { connects } from './proof'

/** One step of the head's own counting, degrees. */
const STEP_DEG = 1 / 14.4
const OF = { count: 12, longest: 16 }

const CASES: [string, Omit<MovesOf, 'count' | 'seed'>, { onTime: number; off: number }][] = [
  ['framed UDP', { over: 'framed' }, { onTime: 0.9, off: 0.2 }],
  ['framed UDP, 5 % lost', { over: 'framed', loss: 0.05 }, { onTime: 0.7, off: 0.3 }],
  ['framed UDP, 20 % lost', { over: 'framed', loss: 0.2 }, { onTime: 0.25, off: 0.7 }],
  ['raw UDP', { over: 'raw' }, { onTime: 0.9, off: 0.2 }],
  ['raw UDP, 5 % lost', { over: 'raw', loss: 0.05 }, { onTime: 0.4, off: 0.4 }],
  ['TCP', { over: 'tcp' }, { onTime: 0.9, off: 0.2 }],
  ['TCP that stalls', { over: 'tcp', loss: 0.03 }, { onTime: 0.3, off: 0.5 }],
  ['a serial line', { over: 'serial' }, { onTime: 0.8, off: 0.2 }],
  [
    'a ramp that starts anew with every packet',
    { over: 'framed', odd: { head: { restartsRamp: true } } },
    { onTime: 0.7, off: 0.35 },
  ],
]

test.each(CASES)('%s', async (_, of, aims) => {
  const moves = await randomMoves({ ...OF, ...of, seed: 23 })
  for (const move of moves) expect([move.said, move.state]).toEqual(['', 'arrived'])
  const found = summed(moves)
  expect(found.endMostDeg).toBeLessThan(STEP_DEG)
  expect(found.onTime).toBeGreaterThanOrEqual(aims.onTime)
  expect(found.offMedianDeg).toBeLessThan(aims.off)
})

test('the second time is better than the first, since it has learnt what the head does at each speed', async () => {
  const moves = await randomMoves({ over: 'framed', count: 36, seed: 4, longest: 10 })
  const off = (some: typeof moves) => summed(some).offMedianDeg
  expect(off(moves.slice(18))).toBeLessThan(off(moves.slice(0, 6)))
})

test('as plain absolute orders the same moves are far off their plan, and not in time', async () => {
  const of = { ...OF, over: 'framed' as const, seed: 23 }
  const [followed, plain] = [summed(await randomMoves(of)), summed(await randomMoves({ ...of, plain: true }))]
  expect(plain.offMedianDeg).toBeGreaterThan(3 * followed.offMedianDeg)
  expect(plain.lateP95Ms).toBeGreaterThan(3 * followed.lateP95Ms)
})

test.each([1200, 5000])(
  'a link that is lost for %i ms in the middle of a move: it arrives, or stands and that is said',
  async (ms) => {
    const rig = fieldRig({ over: 'framed', seed: 3, profile: headProfile('common-20x'), confirmed: true })
    const { camera, clock, way, truth, notices } = rig
    await connects(rig)
    await clock.run(3000)
    const pose = poseOf(rig, { pan: 60, tilt: 10, zoom: 0.4 })
    const pace = { kind: 'timed', seconds: 8 } as const
    void camera.recall({ id: 'p', pose, light: null, pace, parts: ALL_PARTS, hold: false })
    await clock.run(3000)
    expect(truth().moving).toBe(true)
    way.loss = 1
    await clock.run(ms)
    way.loss = 0
    await clock.run(12_000)
    expect(truth().moving).toBe(false)
    const arrived = Math.abs(truth().pan - 60) < 0.1
    expect(camera.travel?.state === 'arrived').toBe(arrived)
    if (!arrived) expect(notices.join()).toMatch(/is back\..*has been stopped/)
  },
)
