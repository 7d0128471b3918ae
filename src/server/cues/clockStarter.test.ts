/** Starts by the clock while the server runs, while it was off, and where the order is held. */
import type { Show } from '../../core/cues/show'
import { uuid } from '../../core/cues/testing/barn'
import { wallTime } from '../../core/cues/zone'
import { HandClock } from '../cameras/testing/handClock'
import { ClockStarter } from './clockStarter'

const ZONE = 'Europe/London'
const MINUTE = 60_000

function setUp(late: boolean, inMs: number) {
  const clock = new HandClock()
  const due = Math.ceil((clock.wall() + inMs) / MINUTE) * MINUTE
  const { date, hours, minutes } = wallTime(due, ZONE)
  const time = `${String(hours).padStart(2, '0')}:${String(minutes).padStart(2, '0')}`
  const starts: Show['starts'] = [
    { id: uuid(1), order: 1, version: 1, cue: uuid(2), date, time, enabled: true, late },
  ]
  const begun: number[] = []
  const missed: number[] = []
  const state = { held: false }
  const starter = new ClockStarter({
    ...{ clock, starts: () => starts, timeZone: () => ZONE, held: () => state.held, changed: () => {} },
    begin: () => {
      begun.push(clock.wall())
      return null
    },
    missed: (_, atMs) => missed.push(atMs),
  })
  return { clock, due, starter, begun, missed, state }
}

test('it begins once, within half a second of its time, and is not begun again where the clock is set back', async () => {
  const { clock, due, starter, begun, missed } = setUp(false, 5 * MINUTE)
  expect(starter.next?.dueMs).toBe(due)
  await clock.run(due - clock.wall() + 2000)
  expect(begun.length).toBe(1)
  expect(begun[0]! - due).toBeLessThanOrEqual(500)
  expect([missed, starter.next]).toEqual([[], null])
  clock.ms -= 30 * MINUTE
  await clock.run(40 * MINUTE)
  expect(begun.length).toBe(1)
  starter.close()
})

test.each([
  [false, 0, 1],
  [true, 1, 0],
])('a server that was off at that time: late %s', async (late, begins, misses) => {
  const { clock, due, starter, begun, missed } = setUp(late, MINUTE)
  const before = clock.wall()
  starter.close()
  clock.ms += due - before + 10 * MINUTE
  const other = new ClockStarter({
    ...{ clock, timeZone: () => ZONE, held: () => false, changed: () => {} },
    starts: () => [
      { id: uuid(1), order: 1, version: 1, cue: uuid(2), ...dayAndTime(due), enabled: true, late },
    ],
    begin: () => {
      begun.push(clock.wall())
      return null
    },
    missed: (_, atMs) => missed.push(atMs),
  })
  other.from(before)
  await clock.run(2000)
  expect([begun.length, missed.length]).toEqual([begins, misses])
  other.close()
})

const dayAndTime = (ms: number) => {
  const { date, hours, minutes } = wallTime(ms, ZONE)
  return { date, time: `${String(hours).padStart(2, '0')}:${String(minutes).padStart(2, '0')}` }
}

test('held, it is told as missed', async () => {
  const { clock, due, begun, missed, state, starter } = setUp(true, MINUTE)
  state.held = true
  await clock.run(due - clock.wall() + 2000)
  expect([begun, missed]).toEqual([[], [due]])
  starter.close()
})
