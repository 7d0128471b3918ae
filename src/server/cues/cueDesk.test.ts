/** The desk of cues, in virtual time: what starts a cue, what stops it, and what is kept for the next start. */
import { NO_SHOW, type Show, type Step, type StepDoes } from '../../core/cues/show'
import { after, CAMERAS, cue, presetId, recall, step, timed, uuid, world } from '../../core/cues/testing/barn'
import { seeded } from '../../core/seeded'
import { Evening, OPERATOR } from './testing/evening'

const cut = (camera: number): StepDoes => ({ t: 'switch', action: 'cut', camera: uuid(camera) })
const evening = (cues: Show['cues']) =>
  new Evening({ show: { ...NO_SHOW, cues }, random: seeded(1), loss: 0 })
const states = (one: Evening, of: Show['cues'][number]) => one.runOf(of)?.steps.map(({ state }) => state)

test('cuts that begin in one moment come one after the other, and the last of them is on air', async () => {
  const one = cue(1, [step('a', 1, cut(3)), step('b', 1, cut(2)), step('c', 1, cut(1))])
  const stage = evening([one])
  stage.desk.goNext(OPERATOR)
  await stage.clock.run(5000)
  expect(states(stage, one)).toEqual(['done', 'done', 'done'])
  expect(stage.state.program).toBe(uuid(1))
  stage.close()
})

test('the tally of a camera starts a cue, but not while the order is held', async () => {
  const cutting = cue(1, [step('a', 1, cut(1))])
  const follows = cue(2, [step('a', 0, recall(2, 9))], {
    listed: false,
    onTally: { camera: uuid(1), state: 'program' },
  })
  const stage = evening([cutting, follows])
  stage.desk.go(cutting.id, OPERATOR)
  await stage.clock.run(10_000)
  expect(stage.runOf(follows)).toMatchObject({ state: 'ended', by: expect.stringMatching(/tally/) })
  stage.desk.hold(true)
  expect(stage.desk.go(cutting.id, OPERATOR)).toMatch(/held/)
  stage.desk.tallied(uuid(1), 'program')
  await stage.clock.run(10_000)
  expect(stage.models.get(uuid(2))!.moves.length).toBe(1)
  stage.close()
})

test('a cue within a cue: its parent waits for it, a hand takes its camera out of it, and stopping ends both', async () => {
  const inner = cue(2, [step('a', 0, recall(1, 9, timed(4))), step('b', 0, recall(2, 9, timed(6)))], {
    listed: false,
  })
  const outer = cue(1, [step('x', 1, { t: 'cue', cue: inner.id }), after('y', 'x', recall(3, 9))])
  const stage = evening([outer, inner])
  stage.desk.goNext(OPERATOR)
  await stage.clock.run(3000)
  expect([states(stage, outer), states(stage, inner)]).toEqual([
    ['running', 'waiting'],
    ['running', 'running'],
  ])
  stage.gate.stick(CAMERAS[0]!, { pan: 0.5, tilt: 0, zoom: 0, focus: 0 }, OPERATOR)
  await stage.clock.run(500)
  expect(states(stage, inner)).toEqual(['out', 'running'])
  // The one that a hand has is left to it, and the one that has not begun needs no stop.
  expect(stage.desk.stop(outer.id)).toEqual([uuid(2)])
  expect([stage.runOf(outer)?.state, stage.runOf(inner)?.state]).toEqual(['stopped', 'stopped'])
  await stage.clock.run(20_000)
  expect(stage.models.get(uuid(3))!.moves).toEqual([])
  stage.close()
})

test('what the operator has just driven is free for the cue; what another hand has is left alone, and said', async () => {
  const steps: Step[] = [step('a', 0, recall(1, 9)), step('b', 0, recall(2, 9))]
  const stage = evening([cue(1, steps)])
  const push = { pan: 0.5, tilt: 0, zoom: 0, focus: 0 }
  const still = { pan: 0, tilt: 0, zoom: 0, focus: 0 }
  stage.gate.stick(CAMERAS[0]!, push, OPERATOR)
  stage.gate.stick(CAMERAS[0]!, still, OPERATOR)
  stage.gate.stick(CAMERAS[1]!, push, { ...OPERATOR, id: 'bob', name: () => 'Bob' })
  stage.desk.goNext(OPERATOR)
  await stage.clock.run(8000)
  const run = stage.desk.now.runs[0]!
  expect(run.steps.map(({ state, why }) => [state, why])).toEqual([
    ['done', null],
    ['failed', expect.stringMatching(/Bob drives this camera/)],
  ])
  stage.close()
})

test('each place of the order is kept, and what ran is named after a restart until somebody has said what is to be', async () => {
  const cues = [cue(1, [step('a', 0, recall(1, 9, timed(9)))]), cue(2, [step('a', 0, recall(2, 3))])]
  const stage = evening(cues)
  stage.desk.goNext(OPERATOR)
  await stage.clock.run(2000)
  expect(stage.kept).toMatchObject({ position: cues[1]!.id, running: [{ cue: cues[0]!.id }] })
  stage.restart()
  // A second restart before anybody has looked forgets nothing.
  await stage.clock.run(1000)
  stage.restart()
  await stage.clock.run(1000)
  expect(stage.desk.now.interrupted).toMatchObject([{ cue: cues[0]!.id, name: 'Cue 1' }])
  stage.desk.goNext(OPERATOR)
  await stage.clock.run(5000)
  expect(stage.desk.now.interrupted).toEqual([])
  expect(stage.kept).toMatchObject({ position: 'end', running: [] })
  expect(stage.desk.goNext(OPERATOR)).toMatch(/through/)
  stage.close()
})

const TOUR = {
  ...{ id: uuid(50), order: 1, version: 1, name: 'Interval', camera: uuid(1), shuffled: false, rounds: 0 },
  onAir: 'gentle' as const,
  stops: [3, 9].map((n) => ({ preset: presetId(1, n), dwellSeconds: 2, pace: timed(3) })),
}
const touring = (cues: Show['cues']) =>
  new Evening({
    ...{ show: { ...NO_SHOW, cues, tours: [TOUR] }, random: seeded(1), loss: 0 },
    world: (show) => world(show.cues, { tour: (id) => (id === TOUR.id ? TOUR : null) }),
  })

test('a cue that needs the camera of a tour ends the tour; the two do not fight for it', async () => {
  const one = cue(1, [step('a', 0, recall(1, 15, timed(9)))])
  const stage = touring([one])
  void stage.tours.start(TOUR.id, 'Tour')
  await stage.clock.run(4000)
  stage.desk.goNext(OPERATOR)
  await stage.clock.run(60_000)
  expect(states(stage, one)).toEqual(['done'])
  expect(stage.tours.tours).toEqual([])
  expect(stage.models.get(uuid(1))!.moves.at(-1)).toMatchObject({ preset: presetId(1, 15), end: 'arrived' })
  stage.close()
})

test('held, a tour arrives where it goes and waits there; then it goes on', async () => {
  const stage = touring([cue(1, [])])
  void stage.tours.start(TOUR.id, 'Tour')
  await stage.clock.run(1000)
  stage.desk.hold(true)
  await stage.clock.run(30_000)
  const { moves } = stage.models.get(uuid(1))!
  expect([moves.length, stage.tours.tours[0]?.why]).toEqual([1, expect.stringMatching(/held/)])
  stage.desk.hold(false)
  await stage.clock.run(10_000)
  expect(moves.length).toBeGreaterThan(1)
  stage.close()
})

test('stopping one cue names the cameras that it moves now, and not the one that a hand has or that stands', async () => {
  const one = cue(1, [
    step('a', 0, recall(1, 9, timed(9))),
    step('b', 0, recall(2, 9, timed(9))),
    step('c', 0, recall(3, 9, timed(2))),
  ])
  const stage = evening([one])
  stage.desk.goNext(OPERATOR)
  await stage.clock.run(4000)
  stage.gate.stick(CAMERAS[0]!, { pan: 0.5, tilt: 0, zoom: 0, focus: 0 }, OPERATOR)
  expect(stage.desk.stop(one.id)).toEqual([uuid(2)])
  stage.close()
})

test('how far a cue was is known after a restart, and cameras of a cue within it are lent too', async () => {
  const inner = cue(2, [step('a', 0, recall(1, 9, timed(20)))], { listed: false })
  const outer = cue(1, [step('x', 0, { t: 'cue', cue: inner.id })])
  const stage = evening([outer, inner])
  stage.gate.stick(CAMERAS[0]!, { pan: 0.5, tilt: 0, zoom: 0, focus: 0 }, OPERATOR)
  stage.gate.stick(CAMERAS[0]!, { pan: 0, tilt: 0, zoom: 0, focus: 0 }, OPERATOR)
  stage.desk.goNext(OPERATOR)
  await stage.clock.run(8500)
  expect(states(stage, inner)).toEqual(['running'])
  stage.restart()
  const told = stage.desk.now.interrupted.find((i) => i.cue === outer.id)!
  expect(told.intoMs).toBeGreaterThan(7000)
  stage.close()
})
