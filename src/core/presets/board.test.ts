import fc from 'fast-check'
import { indexPresets, searchPresets, sectionForNew, sectionsOf, suggestions } from './board'
import { paceText, secondsOf } from './pace'

const preset = (number: number, name: string, section = '', mark = '') => ({ number, name, section, mark })
const ALL = [
  preset(1, 'Bitterns', 'Tables'),
  preset(2, 'Avocets', 'Tables', '▲'),
  preset(7, 'Host, close', 'Stage'),
  preset(12, 'Übersicht', ''),
  preset(21, 'Row 1', 'Benches'),
]
const search = (typed: string) =>
  searchPresets(
    indexPresets(ALL, () => 'Gallery'),
    typed,
  ).best.map((p) => p.number)

test('a few letters, a number, a section, a camera or a mark find presets; the best first', () => {
  expect(search('ho')).toEqual([7])
  expect(search('uber')).toEqual([12])
  expect(search('table')).toEqual([1, 2])
  expect(search('gall row')).toEqual([21])
  expect(search('1')).toEqual([1, 21])
  expect(search('12')).toEqual([12])
  expect(search('▲')).toEqual([2])
  expect(search('  ')).toEqual([])
  expect(search('itt')).toEqual([1])
  expect(search('zzz')).toEqual([])
})

test('of many the best are given, and how many there are', () => {
  const seats = Array.from({ length: 5000 }, (_, i) =>
    preset(5000 - i, i % 50 === 0 ? `Host ${i}` : `Near the host ${i}`),
  )
  const { best, total } = searchPresets(
    indexPresets(seats, () => 'Gallery'),
    'host',
    20,
  )
  expect(total).toBe(5000)
  // Those that begin so go before those in which it stands, in the order of their numbers.
  const expected = seats.filter((p) => p.name.startsWith('Host')).map((p) => p.number)
  expect(best.map((p) => p.number)).toEqual(expected.sort((a, b) => a - b).slice(0, 20))
})

test('sections keep every preset once, in their order, those without a heading first', () => {
  fc.assert(
    fc.property(
      fc.array(fc.record({ section: fc.constantFrom('', 'a', 'b', 'c'), id: fc.nat() })),
      (presets) => {
        const sections = sectionsOf(presets)
        for (const { name, presets: mine } of sections)
          expect(mine).toEqual(presets.filter((p) => p.section === name))
        expect(sections.flatMap((s) => s.presets)).toHaveLength(presets.length)
        expect(new Set(sections.map((s) => s.name)).size).toBe(sections.length)
        if (presets.some((p) => p.section === '')) expect(sections[0]!.name).toBe('')
      },
    ),
  )
})

test('suggestions follow the last word', () => {
  expect(suggestions(['Host', 'Hostess', 'Bitterns'], 'Table ho')).toEqual(['Host', 'Hostess'])
  expect(suggestions(['Host'], '')).toEqual(['Host'])
})

test('a pace gives its seconds: quick none, timed its own, steady by the way', () => {
  const at = { panDeg: 0, tiltDeg: 0, zoom: 0 }
  expect(secondsOf({ kind: 'quick' }, at, at, 0)).toBeNull()
  expect(secondsOf({ kind: 'timed', seconds: 7 }, null, at, 0)).toBe(7)
  expect(secondsOf({ kind: 'steady', degPerSec: 4 }, at, { panDeg: 20, tiltDeg: 5, zoom: 0 }, 0)).toBe(5)
  expect(secondsOf({ kind: 'steady', degPerSec: 4 }, at, at, 0)).toBe(0.5)
  expect(secondsOf({ kind: 'steady', degPerSec: 4 }, at, at, Math.log(8))).toBeCloseTo(4.8)
  expect([paceText(null), paceText({ kind: 'timed', seconds: 3 })]).toEqual(['', '3 s'])
})

test('a new preset stands where the eye was: in the section recalled last, else the one stored last', () => {
  const preset = (id: string, section: string, storedAt: string) => ({ id, section, storedAt })
  const all = [
    preset('a', 'Tables', '2026-01-03'),
    preset('b', 'Stage', '2026-01-09'),
    preset('c', '', '2026-01-01'),
  ]
  expect(sectionForNew(all, 'a')).toBe('Tables')
  expect(sectionForNew(all, null)).toBe('Stage')
  expect(sectionForNew(all, 'gone')).toBe('Stage')
  expect(sectionForNew(all, 'c')).toBe('')
  expect(sectionForNew([], null)).toBe('')
})
