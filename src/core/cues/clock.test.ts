/** Clock starts across the changes of daylight saving, and what is missed. The moments were taken from a calendar. */
import { dueAfter, dueBetween, nextStart } from './clock'
import { beside, lateBy, lateWords, nextOf } from './order'
import { cue, uuid } from './testing/barn'
import { isZone, wallTime, whenIs } from './zone'

const iso = (ms: number | null) => (ms === null ? null : new Date(ms).toISOString())
const start = (date: string | null, time: string, late = false) => ({
  cue: uuid(1),
  date,
  time,
  enabled: true,
  late,
})

test.each([
  ['2026-11-28', '19:30', 'Europe/London', '2026-11-28T19:30:00.000Z'],
  ['2026-07-01', '19:30', 'Europe/London', '2026-07-01T18:30:00.000Z'],
  // The clocks go back at 02:00 on 25 October: 01:30 comes twice, and the first is meant.
  ['2026-10-25', '01:30', 'Europe/London', '2026-10-25T00:30:00.000Z'],
  ['2026-10-25', '02:30', 'Europe/London', '2026-10-25T02:30:00.000Z'],
  // They go forward at 01:00 on 29 March: 01:30 never comes.
  ['2026-03-29', '01:30', 'Europe/London', '2026-03-29T01:00:00.000Z'],
  ['2026-03-29', '02:30', 'Europe/London', '2026-03-29T01:30:00.000Z'],
  // Half an hour back, and a zone a whole day ahead of another.
  ['2026-04-05', '01:45', 'Australia/Lord_Howe', '2026-04-04T14:45:00.000Z'],
  ['2026-06-01', '00:10', 'Pacific/Kiritimati', '2026-05-31T10:10:00.000Z'],
])('%s %s in %s is %s', (date, time, zone, moment) => {
  expect(iso(whenIs(date, time, zone))).toBe(moment)
})

test('the wall shows what whenIs was asked for, at many moments of a year', () => {
  for (const zone of ['Europe/London', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kathmandu'])
    for (let at = Date.UTC(2026, 0, 1); at < Date.UTC(2027, 0, 1); at += 433 * 60_000) {
      const { date, hours, minutes } = wallTime(at, zone)
      const time = `${String(hours).padStart(2, '0')}:${String(minutes).padStart(2, '0')}`
      const found = whenIs(date, time, zone)
      expect(wallTime(found, zone)).toMatchObject({ date, hours, minutes })
      // The same moment, or the first of the two.
      expect([0, 1_800_000, 3_600_000]).toContain(at - found)
    }
  expect([isZone('Europe/London'), isZone('Fenland/Osier')]).toEqual([true, false])
})

test('each day at the same time of the wall: 23 and 25 hours apart where the clocks change', () => {
  const daily = start(null, '03:30')
  const gap = (day: number) => {
    const first = dueAfter(daily, Date.parse(`2026-03-${day}T00:00:00Z`), 'Europe/London')!
    return (dueAfter(daily, first, 'Europe/London')! - first) / 3_600_000
  }
  expect([gap(27), gap(28), gap(29)]).toEqual([24, 23, 24])
})

test('in time it goes; missed it is told, and done late only where that was asked', () => {
  const zone = 'Europe/London'
  const due = Date.parse('2026-11-28T19:30:00Z')
  const starts = [start('2026-11-28', '19:30'), start('2026-11-28', '19:30', true)]
  const what = (sinceMs: number, nowMs: number, held = false) =>
    dueBetween(starts, sinceMs, nowMs, zone, held).map((one) => one.what)
  expect(what(due - 1000, due - 1)).toEqual([])
  expect(what(due - 1000, due + 20)).toEqual(['go', 'go'])
  expect(what(due, due + 20)).toEqual([])
  expect(what(due - 1000, due + 600_000)).toEqual(['missed', 'late'])
  expect(what(due - 1000, due + 20, true)).toEqual(['missed', 'missed'])
  // A server that was off for three days tells a daily one once.
  expect(dueBetween([start(null, '19:30')], due - 3 * 86_400_000, due + 60_000, zone, false)).toMatchObject([
    { what: 'missed', dueMs: due },
  ])
  expect(nextStart(starts, due - 5, zone)?.dueMs).toBe(due)
  expect(nextStart(starts, due, zone)).toBeNull()
})

test('next, back, and how late the evening is', () => {
  const cues = [cue(1, []), cue(2, [], { listed: false }), cue(3, [])]
  expect(nextOf(cues, null)?.id).toBe(cues[0]!.id)
  expect(beside(cues, cues[0]!.id, 1)).toBe(cues[2]!.id)
  expect(beside(cues, cues[2]!.id, 1)).toBe('end')
  expect(beside(cues, 'end', -1)).toBe(cues[2]!.id)
  expect(nextOf(cues, 'end')).toBeNull()
  // One that was deleted meanwhile: from the beginning rather than from nowhere.
  expect(nextOf(cues, uuid(5))?.id).toBe(cues[0]!.id)
  expect([lateBy('19:30', 19 * 60 + 34), lateBy('23:55', 5)]).toEqual([4, 10])
  expect([lateWords(3.6), lateWords(-2), lateWords(0.3)]).toEqual(['4 min behind', '2 min ahead', 'on time'])
})
