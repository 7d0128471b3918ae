/** Recorded moves and tours: what is kept of a path, how it plays again, and where a tour goes. */
import { headProfile } from '../heads/registry'
import { createLens } from '../optics/lens'
import { seeded } from '../seeded'
import { placeAt } from './lengths'
import { apart, offFrom, replayOf, simplified, smoothed, trimmed, withoutRest } from './recorded'
import type { MovePoint, Tour } from './show'
import { uuid } from './testing/barn'
import { TourRun } from './tour'

const lens = createLens(headProfile('marsh-20x').lens)

/** A hand's drive at 25 Hz: it waits, swings out and in with the zoom, with steps of an encoder, and waits. */
function driven(seed: number): MovePoint[] {
  const random = seeded(seed)
  const [a, b, c] = [5 + random() * 30, 0.5 + random(), random() * 3000]
  return Array.from({ length: 300 }, (_, i): MovePoint => {
    const s = i / 25
    const t = Math.min(1, Math.max(0, (s - 2) / 8))
    const ease = t * t * (3 - 2 * t)
    return {
      s,
      panDeg: Math.round((a * ease + b * Math.sin(6 * ease)) * 80) / 80,
      tiltDeg: Math.round(-5 * ease * 80) / 80,
      zoom: Math.round(4000 + c * ease),
    }
  })
}

test('kept within the tolerance, in a tenth of the points, and without the waiting', () => {
  for (let seed = 1; seed <= 50; seed++) {
    const all = driven(seed)
    const moving = withoutRest(lens, all)
    expect(moving[0]!.s).toBe(0)
    expect(moving.at(-1)!.s).toBeLessThan(9.5)
    expect(moving.at(-1)!.s).toBeGreaterThan(6.5)
    const kept = simplified(lens, moving, 0.004)
    expect(kept.length).toBeLessThan(moving.length / 5)
    for (const p of moving) expect(apart(lens, p, placeAt(kept, p.s))).toBeLessThanOrEqual(0.004 + 1e-9)
    const off = offFrom(lens, moving, kept)
    expect(off.median).toBeLessThan(0.004)
    expect(off.most).toBeLessThan(0.02)
  }
})

test('smoothing takes the steps out and leaves the ends where they are', () => {
  const all = withoutRest(lens, driven(3))
  const even = smoothed(all, 0.4)
  expect(even[0]).toEqual(all[0])
  expect(even.at(-1)).toEqual(all.at(-1))
  const rough = (points: MovePoint[]) =>
    points
      .slice(2)
      .reduce((sum, p, i) => sum + Math.abs(p.panDeg - 2 * points[i + 1]!.panDeg + points[i]!.panDeg), 0)
  expect(rough(even)).toBeLessThan(rough(all) / 2)
  expect(offFrom(lens, all, even).most).toBeLessThan(0.02)
})

test('trimmed, it begins at 0 where it was cut', () => {
  const cut = trimmed(driven(4), 3.02, 7)
  expect([cut[0]!.s, cut.at(-1)!.s]).toEqual([0, expect.closeTo(3.98, 9)])
  expect(cut[0]!.panDeg).toBeCloseTo(placeAt(driven(4), 3.02).panDeg, 9)
})

test.each([
  [100, false],
  [25, false],
  [400, true],
  [80, true],
])(
  'played at %s %%, backwards %s: in its time, from end to end, speed is the slope of position',
  (percent, backwards) => {
    const points = simplified(lens, withoutRest(lens, driven(7)), 0.004)
    const path = replayOf(points, lens, { percent, backwards })
    const end = points.at(-1)!.s
    expect(path.seconds).toBeCloseTo((end * 100) / percent, 9)
    const [from, to] = backwards ? [points.at(-1)!, points[0]!] : [points[0]!, points.at(-1)!]
    expect(path.at(0).pan.position).toBeCloseTo(from.panDeg, 6)
    expect(path.at(path.seconds).pan.position).toBeCloseTo(to.panDeg, 6)
    expect(path.at(path.seconds).zoom.position).toBeCloseTo(Math.log(lens.focalMm(to.zoom)), 6)
    for (let i = 1; i < 100; i++) {
      const s = (path.seconds * i) / 100
      const h = 1e-5
      for (const axis of ['pan', 'tilt', 'zoom'] as const) {
        const slope = (path.at(s + h)[axis].position - path.at(s - h)[axis].position) / (2 * h)
        expect(path.at(s)[axis].velocity).toBeCloseTo(slope, 2)
      }
    }
  },
)

const tour = (change: Partial<Tour> = {}): Tour => ({
  ...{ name: 'Interval', camera: uuid(1), shuffled: false, rounds: 2, onAir: 'wait' },
  stops: [1, 2, 3].map((n) => ({ preset: uuid(100 + n), dwellSeconds: 4, pace: { kind: 'quick' } })),
  ...change,
})

test('a tour goes round, waits while it may not move, and a hand pauses it until it is told to go on', () => {
  const run = new TourRun(tour(), 1, 0)
  const seen: string[] = []
  for (let nowMs = 0; nowMs < 120_000 && run.state !== 'ended'; nowMs += 100) {
    const stop = run.due(nowMs, nowMs < 3000 ? 'on air' : null)
    if (nowMs < 3000) expect(run.state).toBe('waiting')
    if (nowMs === 20_000) run.pause('a hand')
    if (nowMs >= 20_000 && nowMs < 30_000) expect([stop, run.state]).toEqual([null, 'paused'])
    if (nowMs === 30_000) run.goOn(nowMs)
    if (stop) {
      seen.push(stop.preset)
      run.arrived(nowMs)
    }
  }
  expect([run.state, run.rounds]).toEqual(['ended', 2])
  const ids = tour().stops.map(({ preset }) => preset)
  expect(seen).toEqual([...ids, ...ids])
})

test('shuffled: each once a round, never the same twice in a row', () => {
  for (let seed = 1; seed < 200; seed++) {
    const run = new TourRun(tour({ shuffled: true, rounds: 5 }), seed, 0)
    const seen: string[] = []
    for (let nowMs = 0; run.state !== 'ended'; nowMs += 4000) {
      const stop = run.due(nowMs, null)
      if (stop) seen.push(stop.preset)
      run.arrived(nowMs)
    }
    for (let i = 0; i < seen.length; i += 3) expect(new Set(seen.slice(i, i + 3)).size).toBe(3)
    expect(seen.some((id, i) => id === seen[i + 1])).toBe(false)
  }
})
