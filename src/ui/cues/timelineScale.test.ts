/** The timeline's scale: there and back, marks that do not touch, and what a dragged step is drawn to. */
import { hillPath, marksOf, scaleFor, secondsAt, snapped, xOf } from './timelineScale'

test.each([
  [900, 16],
  [360, 3],
  [1100, 4000],
])(
  '%s px for %s s: all of it is seen, marks have room, and px and seconds are each other’s',
  (width, endS) => {
    const scale = scaleFor(width, endS)
    expect(xOf(scale, endS)).toBeLessThan(width)
    const marks = marksOf(scale)
    expect(marks.length).toBeGreaterThan(1)
    for (const [i, s] of marks.entries())
      if (i > 0) expect(xOf(scale, s) - xOf(scale, marks[i - 1]!)).toBeGreaterThanOrEqual(width / 40)
    for (const s of [0, 0.1, endS]) expect(secondsAt(scale, xOf(scale, s))).toBeCloseTo(s, 9)
  },
)

test('drawn to the ends of others, else to halves, else to tenths; never before the start', () => {
  const scale = { width: 1000, seconds: 20 }
  expect(snapped(scale, 6.43, [6.3])).toBe(6.3)
  expect(snapped(scale, 6.43, [])).toBe(6.5)
  expect(snapped(scale, 6.25, [])).toBe(6.3)
  expect(snapped({ width: 1000, seconds: 200 }, 6.25, [])).toBe(6.5)
  expect(snapped(scale, -3, [])).toBe(0)
})

test('a hill stays in its room, and without a way there is none', () => {
  const path = hillPath([0, 0.2, 1, 0.2, 0], 100, 40, 1)
  const ys = [...path.matchAll(/,(-?[\d.]+)/g)].map(([, y]) => Number(y))
  expect(Math.min(...ys)).toBeGreaterThanOrEqual(0)
  expect(Math.max(...ys)).toBeLessThanOrEqual(40)
  expect(hillPath([], 100, 40, 1)).toBe('')
})
