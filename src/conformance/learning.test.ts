/** Independent cameras that learn their own heads with a profile that is not theirs, in virtual time, by their pictures. */
import { compared, learns, truthOf } from './learning'

const offOf = (list: ReturnType<typeof compared>, what: RegExp) =>
  Math.max(...list.filter((one) => what.test(one.what)).map(({ off }) => Math.abs(off)))

test.each([1, 2, 3, 4])(
  'head %i by its reports alone: ends, speeds, delay, ramp',
  async (seed) => {
    const truth = truthOf(seed)
    const { learnt, ended, troubles, seconds } = await learns(truth, seed, ['ends', 'drives'])
    expect([ended, troubles]).toEqual([[], []])
    expect(seconds).toBeLessThan(180)
    const found = compared(truth, learnt!)
    expect(offOf(found, /step/)).toBeLessThan(0.04)
    expect(offOf(found, /delay/)).toBeLessThan(0.015)
    expect(learnt!.restartsRamp).toBe(truth.restartsRamp)
    const ends = truth.panEnds.map((deg) => Math.round(deg * truth.panSteps)).sort((a, b) => a - b)
    learnt!.pan.ends!.forEach((end, i) => {
      expect(Math.abs(end! - ends[i]!)).toBeLessThanOrEqual(3)
    })
  },
  60_000,
)

test('a head and its lens by its pictures: directions, steps, angles over the whole zoom, and they are used', async () => {
  const truth = truthOf(6)
  const { learnt, ended, after, seconds } = await learns(truth, 6, ['ends', 'lens', 'zoom'])
  expect(ended).toEqual([])
  expect(seconds).toBeLessThan(180)
  const found = compared(truth, learnt!)
  expect(found.filter(({ what }) => /fov/.test(what)).length).toBeGreaterThan(5)
  expect(offOf(found, /^pan$|^tilt$/)).toBeLessThan(0.005)
  expect(offOf(found, /fov/)).toBeLessThan(0.01)
  expect(after!.pan.reversed).toBe(truth.panSteps < 0)
  expect(after!.tilt.reversed).toBe(truth.tiltSteps < 0)
}, 300_000)

test('its lens alone, while nobody knows its ends', async () => {
  const truth = truthOf(7)
  const { learnt, troubles } = await learns(truth, 7, ['lens'])
  expect(troubles).toEqual([])
  const found = compared(truth, learnt!)
  expect(offOf(found, /^pan$|^tilt$/)).toBeLessThan(0.01)
  expect(offOf(found, /fov/)).toBeLessThan(0.01)
}, 120_000)

test('before a wall there is too little to see, and that is said', async () => {
  const blank = { ...truthOf(6), dark: true }
  const { learnt, troubles } = await learns(blank, 6, ['lens'])
  expect(learnt).toBeNull()
  expect(troubles.join()).toMatch(/too little to see.*more light/)
}, 120_000)

test.each([
  ['the guard refuses', 'refused', /on air/],
  ['it falls silent', 'silent', /./],
] as const)(
  '%s in the middle of the drive steps: its ends are kept, the head stands, and why is said',
  async (_, fate, why) => {
    const truth = truthOf(2)
    const { learnt, ended, rests } = await learns(truth, 2, ['ends', 'drives'], (order, n) =>
      order.t === 'runSteps' && n > 20 ? fate : null,
    )
    expect(ended.join()).toMatch(why)
    expect(learnt!.pan.ends).toBeDefined()
    expect(learnt!.pan.stepsPerSec).toBeUndefined()
    expect(rests).toBe(true)
  },
  60_000,
)

test('a hand takes it in the middle of a run: it ends at once, and nothing half measured is kept', async () => {
  const { learnt, rests } = await learns(truthOf(2), 2, ['ends', 'drives'], (order, n) =>
    order.t === 'runSteps' && n > 20 ? 'taken' : null,
  )
  expect(learnt!.pan.stepsPerSec).toBeUndefined()
  expect(rests).toBe(true)
}, 60_000)
