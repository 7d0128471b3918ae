/** A cue as it runs: what begins when, told by a clock that is moved by hand, and by thousands of random cues. */
import { seeded } from '../seeded'
import { CueRun } from './run'
import type { Step } from './show'
import { after, CAMERAS, recall, step, uuid, world } from './testing/barn'
import { cameraOfStep } from './world'

const needs = { cameraOf: (one: Step) => cameraOfStep(world(), one.does) }
const run = (steps: Step[], times = 1) => new CueRun({ steps, times }, needs, 1000)
const ids = (steps: readonly Step[]) => steps.map(({ id }) => id)

test('steps begin at their times, those of one time at once, and after another has ended', () => {
  const one = run([
    step('a', 0, recall(1, 1)),
    step('b', 0, recall(2, 1)),
    step('c', 2, recall(3, 1)),
    after('d', 'a', { t: 'switch', action: 'cut', camera: null }, 0.5),
  ])
  expect(ids(one.due(1000))).toEqual(['a', 'b'])
  expect(one.nextAtMs).toBe(3000)
  one.ended('a', { ok: true }, 4000)
  expect(ids(one.due(4000))).toEqual(['c'])
  expect(one.nextAtMs).toBe(4500)
  expect(ids(one.due(4499))).toEqual([])
  expect(ids(one.due(4500))).toEqual(['d'])
  for (const id of ['b', 'c']) one.ended(id, { ok: true }, 5000)
  expect(one.end).toBeNull()
  one.ended('d', { ok: false, why: 'no switcher' }, 5001)
  expect(one.end).toBe('ended')
})

test('a wait ends to the millisecond, however late it is looked at', () => {
  const one = run([step('w', 0, { t: 'wait', seconds: 1 }), after('x', 'w', recall(1, 1))])
  one.due(1000)
  expect(ids(one.due(7000))).toEqual(['x'])
  expect(one.steps[0]).toMatchObject({ state: 'done', endedMs: 2000 })
  expect(one.steps[1]!.startedMs).toBe(2000)
})

test('waiting for arrival: for those that have set off, and no longer than it may', () => {
  const wait = { t: 'arrive' as const, cameras: [], atMost: 5 }
  const one = run([step('a', 0, recall(1, 1)), step('w', 0, wait), after('x', 'w', recall(2, 1))])
  expect(ids(one.due(1000))).toEqual(['a'])
  one.ended('a', { ok: true }, 3000)
  expect(ids(one.due(3000))).toEqual(['x'])
  const late = run([step('a', 0, recall(1, 1)), step('w', 0, wait), after('x', 'w', recall(2, 1))])
  late.due(1000)
  expect(ids(late.due(6000))).toEqual(['x'])
  expect(late.steps[1]).toMatchObject({ state: 'failed', why: expect.stringMatching(/not arrived/) })
})

test('a hand takes its camera out of it, and the rest goes on', () => {
  const one = run([
    step('a', 0, recall(1, 1)),
    step('b', 0, recall(2, 1)),
    after('c', 'a', recall(1, 2)),
    after('d', 'c', recall(2, 2)),
  ])
  one.due(1000)
  expect(one.takenOut(CAMERAS[0]!, 'Ann drives it.', 2000)).toBe(true)
  expect(one.takenOut(CAMERAS[2]!, 'Ann drives it.', 2000)).toBe(false)
  expect(ids(one.due(2000))).toEqual(['d'])
  expect(one.steps.map(({ state }) => state)).toEqual(['out', 'running', 'out', 'running'])
  // What comes of its recall afterwards no longer counts.
  one.ended('a', { ok: true }, 2500)
  expect(one.steps[0]!.state).toBe('out')
})

test('held, nothing begins; then all comes so much later', () => {
  const one = run([step('a', 1, recall(1, 1)), step('b', 2, recall(2, 1))])
  one.pause(1500)
  expect([one.due(9000), one.nextAtMs, one.into(9000)]).toEqual([[], null, 500])
  one.goOn(9000)
  expect(one.nextAtMs).toBe(9500)
  expect(ids(one.due(9500))).toEqual(['a'])
})

test('again and again: so often, or until it is stopped; never in a flurry', () => {
  const twice = run([step('a', 0, recall(1, 1))], 2)
  for (const nowMs of [1000, 1250, 1500]) {
    twice.due(nowMs)
    twice.ended('a', { ok: true }, nowMs)
  }
  expect([twice.rounds, twice.end]).toEqual([2, 'ended'])
  const endless = run([step('a', 0, { t: 'wait', seconds: 0 })], 0)
  let [nowMs, looks] = [1000, 0]
  while (nowMs < 11_000) {
    endless.due(nowMs)
    nowMs = Math.max(nowMs + 1, endless.nextAtMs!)
    looks += 1
  }
  expect(looks).toBeLessThan(100)
  endless.stop(nowMs)
  expect([endless.end, endless.nextAtMs, endless.due(nowMs + 1000)]).toEqual(['stopped', null, []])
})

test('steps that wait for each other do not keep the cue for ever', () => {
  const one = run([
    after('a', 'b', recall(1, 1)),
    after('b', 'a', recall(2, 1)),
    step('c', 0, { t: 'wait', seconds: 1 }),
  ])
  one.due(1000)
  one.due(2000)
  expect(one.end).toBe('ended')
  expect(one.steps[0]).toMatchObject({ state: 'failed', why: expect.stringMatching(/waits for it/) })
})

test('any cue: each step begins at most once a round, in order of time, never too soon, and the cue comes to an end', () => {
  for (let seed = 1; seed <= 2000; seed++) {
    const random = seeded(seed)
    const pick = (n: number) => Math.floor(random() * n)
    const steps = Array.from({ length: 1 + pick(9) }, (_, i): Step => {
      const kinds = [
        recall(1 + pick(3), 1 + pick(5)),
        { t: 'wait', seconds: random() * 3 },
        { t: 'arrive', cameras: pick(2) ? [] : [uuid(1)], atMost: 1 + random() * 4 },
        { t: 'message', device: uuid(9), message: 'bright' },
      ] as const
      const does = kinds[pick(4)]!
      return pick(2) ? step(`${i}`, random() * 5, does) : after(`${i}`, `${pick(10)}`, does, random())
    })
    const one = new CueRun({ steps, times: 1 }, needs, 0)
    const open = new Map<string, number>()
    const begun = new Set<string>()
    let nowMs = 0
    for (let i = 0; !one.end; i++) {
      if (i > 200) throw new Error(`seed ${seed} does not end`)
      for (const { id } of one.due(nowMs)) {
        if (begun.has(id)) throw new Error(`seed ${seed}: ${id} twice`)
        begun.add(id)
        open.set(id, nowMs + random() * 4000)
      }
      const ends = [...open].sort((a, b) => a[1] - b[1])[0]
      const next = Math.min(one.nextAtMs ?? Number.POSITIVE_INFINITY, ends?.[1] ?? Number.POSITIVE_INFINITY)
      if (one.end) break
      if (!Number.isFinite(next)) throw new Error(`seed ${seed} waits for nothing`)
      nowMs = Math.max(nowMs, next)
      if (random() < 0.02) one.takenOut(CAMERAS[pick(3)]!, 'a hand', nowMs)
      if (ends && ends[1] <= nowMs) {
        open.delete(ends[0])
        one.ended(ends[0], { ok: random() < 0.9 }, nowMs)
      }
    }
    for (const { step: s, startedMs, state } of one.steps) {
      expect(['done', 'failed', 'out']).toContain(state)
      if (startedMs === null) continue
      const before =
        s.start.kind === 'after' && one.steps.find((x) => x.step.id === (s.start as { step: string }).step)
      const from = before ? before.endedMs! : 0
      expect(startedMs).toBeGreaterThanOrEqual(from + s.start.seconds * 1000 - 1e-3)
    }
  }
})
