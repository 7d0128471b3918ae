/** The check: each kind of finding brought about, its mend applied, and looked at again. */
import { USUAL_GUARD } from '../orders/guardSettings'
import { type CheckLive, checkShow, type Finding } from './check'
import { predictCue, togetherOf } from './predict'
import type { CueView, StepDoes } from './show'
import { after, at, CAMERAS, cue, recall, step, timed, uuid, world } from './testing/barn'

const LIVE: CheckLive = { guard: USUAL_GUARD, silent: new Set(), devicesSilent: new Set(), astray: new Set() }
const START = { places: new Map([at(1, 0), at(2, 0), at(3, 0)]), program: null, preview: null }
const cut = (camera: number | null): StepDoes => ({
  t: 'switch',
  action: 'cut',
  camera: camera === null ? null : uuid(camera),
})
const check = (cues: CueView[], live: Partial<CheckLive> = {}, start = START) =>
  checkShow(world(cues), cues, start, { ...LIVE, ...live }).findings
const mended = (cues: CueView[], { cue: id, mend }: Finding) =>
  cues.map((one) => (one.id === id ? { ...one, ...mend!.cue } : one))

test('a sound cue has no findings', () => {
  const cues = [
    cue(1, [
      step('a', 0, recall(1, 8, timed(4))),
      step('b', 0, recall(2, 3)),
      after('w', 'a', { t: 'arrive', cameras: [], atMost: 20 }),
      after('c', 'w', cut(1)),
      step('m', 0, { t: 'message', device: uuid(9), message: 'bright' }),
    ]),
  ]
  expect(check(cues)).toEqual([])
})

test.each([
  ['too short', [step('a', 0, recall(1, 20, timed(0.5)))], 'tooShort', /needs \d/],
  ['so slowly that it is not smooth', [step('a', 0, recall(1, 6, timed(60)))], 'tooSlow', /smoothly/],
  [
    'two things at once',
    [step('a', 0, recall(1, 15, timed(5))), step('b', 3, recall(1, 1, timed(5)))],
    'atOnce',
    /busy until 5\.0 s/,
  ],
  ['a jump on air', [step('c', 0, cut(1)), step('a', 1, recall(1, 9))], 'onAir', /would jump on air/],
  [
    'caught moving',
    [step('a', 3, recall(1, 15, timed(6))), step('c', 7, cut(1))],
    'caught',
    /on air from 7\.0 s, while it still moves until 9\.0 s/,
  ],
  ['a preset that is gone', [step('a', 0, recall(1, 99))], 'broken', /no longer exists/],
  [
    'a device that is gone',
    [step('a', 0, { t: 'message', device: uuid(8), message: 'x' })],
    'broken',
    /no longer/,
  ],
  [
    'steps that wait for each other',
    [after('a', 'b', cut(null)), after('b', 'a', cut(null))],
    'broken',
    /waits for/,
  ],
] as const)('%s is found, and its mend mends it', (_, steps, kind, text) => {
  let cues = [cue(1, [...steps])]
  const found = check(cues).filter((one) => one.kind === kind)
  expect(found[0]).toMatchObject({ kind, text: expect.stringMatching(text) })
  for (let i = 0; i < 3; i++) {
    const next = check(cues).find((one) => one.kind === kind)
    if (!next) break
    cues = mended(cues, next)
  }
  expect(check(cues).filter((one) => one.kind === kind)).toEqual([])
})

test('cameras and devices that are silent, and presets that are astray, are named once each', () => {
  const bright = { t: 'message', device: uuid(9), message: 'bright' } as const
  const cues = [
    cue(1, [
      step('a', 0, recall(1, 2)),
      step('b', 5, recall(1, 4)),
      step('m', 0, bright),
      step('n', 1, bright),
    ]),
  ]
  const [silent, devicesSilent] = [new Set([CAMERAS[0]!]), new Set([uuid(9)])]
  const astray = new Set([(cues[0]!.steps[0]!.does as { preset: string }).preset])
  expect(
    check(cues, { silent, devicesSilent, astray })
      .map(({ kind }) => kind)
      .sort(),
  ).toEqual(['astray', 'device', 'silent'])
})

test('who is on air is followed from cue to cue, by cuts and fades', () => {
  const cues = [
    cue(1, [step('c', 0, cut(2))]),
    cue(2, [step('a', 0, recall(2, 9))]),
    cue(3, [step('f', 0, { t: 'switch', action: 'fade', camera: uuid(1) }), step('a', 0.5, recall(2, 1))]),
    cue(4, [step('a', 0, recall(2, 9))]),
  ]
  // In cue 3 it is still seen in the fade; in cue 4 no longer.
  expect(check(cues).map(({ cue: id, kind }) => [id, kind])).toEqual([
    [cues[1]!.id, 'onAir'],
    [cues[2]!.id, 'onAir'],
  ])
  expect(check(cues, { guard: { ...USUAL_GUARD, mode: 'off' } })).toEqual([])
})

test('those that go together arrive together, in the time of the slowest', () => {
  const one = cue(1, [
    step('a', 1, recall(1, 20, null, true)),
    step('b', 1, recall(2, 6, null, true)),
    step('c', 1, recall(3, 6)),
  ])
  const prediction = predictCue(world(), one, START)
  const of = (id: string) => prediction.steps.find(({ step: s }) => s.id === id)!
  expect(of('a').endS).toBeCloseTo(of('b').endS, 2)
  expect(of('c').endS).toBeLessThan(of('b').endS)
  expect([...togetherOf(prediction).keys()]).toEqual(['a', 'b'])
})

test('a cue within a cue is followed, and one that starts itself is found', () => {
  const inner = cue(2, [step('a', 1, recall(1, 12, timed(4)))], { listed: false })
  const outer = cue(1, [step('x', 2, { t: 'cue', cue: inner.id }), after('y', 'x', recall(2, 3))])
  const prediction = predictCue(world([inner, outer]), outer, START, outer.id)
  expect(prediction.steps.find(({ path }) => path.join('/') === 'x/a')).toMatchObject({
    startS: 3,
    endS: expect.closeTo(7, 1),
  })
  expect(prediction.steps.find(({ path }) => path.join('/') === 'y')!.startS).toBeCloseTo(7, 1)
  const loop = cue(3, [step('x', 0, { t: 'cue', cue: uuid(1003) })])
  expect(check([loop])).toMatchObject([{ kind: 'broken', text: expect.stringMatching(/starts it again/) }])
})
