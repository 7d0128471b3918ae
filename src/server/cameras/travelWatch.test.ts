import { headProfile } from '../../core/heads/registry'
import type { LivePose, PresetPose } from '../../core/presets/pose'
import { TravelWatch } from './travelWatch'

const profile = headProfile('marsh-20x')
const goal: PresetPose = { panDeg: 50, tiltDeg: 0, zoom: 0, focusAuto: true, focus: null, encoder: null }
const at = (panDeg: number, moving: boolean): LivePose => ({
  ...goal,
  panDeg,
  hfovDeg: 60,
  power: true,
  moving,
  held: false,
  late: false,
  atMs: 0,
})

test('time left falls, never rises, and ends at the goal', () => {
  const watch = new TravelWatch('p', goal, at(0, false), profile, 0)
  // 50 degrees at 100 a second, with the time to speed up and to brake.
  expect(watch.travel.totalMs).toBeGreaterThan(800)
  expect(watch.travel.totalMs).toBeLessThan(1000)
  let before = watch.travel.leftMs
  for (let t = 100; t <= 800; t += 100) {
    watch.see(at((50 * t) / 850, true), t)
    expect(watch.travel.leftMs).toBeLessThanOrEqual(before)
    before = watch.travel.leftMs
  }
  watch.see(at(50, true), 850)
  expect(watch.travel.state).toBe('travelling')
  watch.see(at(50, false), 950)
  expect(watch.travel).toMatchObject({ state: 'arrived', leftMs: 0 })
  expect(watch.interrupt()).toBe(false)
})

test('a head that never starts, and one that never ends, have failed', () => {
  const stuck = new TravelWatch('p', goal, at(0, false), profile, 0)
  stuck.see(at(0, false), 500)
  expect(stuck.travel.state).toBe('travelling')
  stuck.taken(0)
  for (const ms of [1000, 2000, 3000]) {
    stuck.see(at(0, false), ms)
    expect([stuck.wantsAgain, stuck.travel.state]).toEqual([true, 'travelling'])
    stuck.wantsAgain = false
  }
  stuck.see(at(0, false), 4000)
  expect(stuck.travel).toMatchObject({ state: 'failed', reason: expect.stringContaining('50.0° short') })
  const endless = new TravelWatch('p', goal, at(0, false), profile, 0)
  for (let t = 0; t < 20_000; t += 100) endless.see(at(t % 40, true), t)
  expect(endless.travel.state).toBe('failed')
})

test('where the head has come and the lens has not, it is asked again, and then told as it is', () => {
  const off = (moving: boolean): LivePose => ({ ...at(50, moving), zoom: 4000 })
  const run = (answers: boolean) => {
    const watch = new TravelWatch('p', goal, { ...off(false), panDeg: 0 }, profile, 0)
    watch.taken(0)
    for (let t = 100; t <= 800; t += 100) watch.see({ ...off(true), panDeg: (50 * t) / 850 }, t)
    let asked = 0
    for (let t = 900; t <= 12_000 && watch.travel.state === 'travelling'; t += 100) {
      watch.see(asked > 0 && answers ? at(50, false) : off(false), t)
      if (watch.wantsAgain) asked += 1
      watch.wantsAgain = false
    }
    return { asked, travel: watch.travel }
  }
  expect(run(true)).toMatchObject({ asked: 1, travel: { state: 'arrived' } })
  const never = run(false)
  expect(never.travel).toMatchObject({ state: 'failed', reason: expect.stringContaining('zoom off') })
  expect(never.asked).toBeGreaterThan(0)
})

test('a timed one whose turn is short is not taken for stuck before its time is over, and then it is', () => {
  const watch = new TravelWatch('p', goal, at(49, false), profile, 0, 4)
  watch.taken(0)
  watch.see(at(49.5, true), 500)
  for (let t = 1000; t <= 4500; t += 100) watch.see(at(49.8, false), t)
  expect(watch.travel.state).toBe('travelling')
  watch.see(at(49.8, false), 5000)
  expect(watch.travel).toMatchObject({ state: 'failed', reason: expect.stringContaining('0.2° short') })
})

test('a timed one that stands there already has arrived, and nothing is held against the head', () => {
  const watch = new TravelWatch('p', goal, at(50, false), profile, 0, 4)
  watch.see(at(50, false), 100)
  expect([watch.travel.state, watch.tellsGoal]).toEqual(['arrived', false])
})

test('a path that passes its end on the way is not over before its time is', () => {
  const watch = new TravelWatch('p', goal, at(50, false), profile, 0, 4, { along: true })
  for (let t = 100; t < 4000; t += 100) watch.see(at(50 + 10 * Math.sin((Math.PI * t) / 4000), t < 3900), t)
  expect([watch.travel.state, watch.tellsGoal]).toEqual(['travelling', false])
  watch.see(at(50, false), 4100)
  expect(watch.travel.state).toBe('arrived')
})

test('what was given up as lost and is seen to stand at its goal has arrived, unless something else took it there', () => {
  const lost = () => {
    const watch = new TravelWatch('p', goal, at(0, false), profile, 0)
    watch.fail('It fell silent.')
    return watch
  }
  const late = lost()
  expect([late.see(at(50, true), 900), late.travel.state]).toEqual([false, 'failed'])
  expect([late.see(at(50, false), 1000), late.travel]).toMatchObject([
    true,
    { state: 'arrived', reason: null },
  ])
  const taken = lost()
  taken.interrupt()
  expect([taken.see(at(50, false), 1000), taken.travel.state]).toEqual([false, 'failed'])
})
