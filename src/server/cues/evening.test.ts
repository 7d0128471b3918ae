/**
 * Two hours of the quiz final in virtual time, again and again with other troubles: orders that come late, messages
 * that fail, a camera that restarts, a server that restarts, hands that step in. And: what the check finds beforehand
 * is what the run then shows.
 */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { checkShow } from '../../core/cues/check'
import type { PredictedStep } from '../../core/cues/predict'
import type { CueView, Show, Step, StepDoes } from '../../core/cues/show'
import { NO_SHOW } from '../../core/cues/show'
import { after, at, CAMERAS, cue, recall, step, timed, uuid, world } from '../../core/cues/testing/barn'
import type { CueWorld } from '../../core/cues/world'
import { USUAL_GUARD } from '../../core/orders/guardSettings'
import { seeded } from '../../core/seeded'
import { Evening, OPERATOR } from './testing/evening'

const SEEDS = Number(process.env.HERON_EVENINGS ?? 100)
const SIX = [1, 2, 3, 4, 5, 6].map(uuid)

interface DemoFile {
  cameras: { number: number; name: string; presets: { name: string; pose: CuePreset['pose'] }[] }[]
  show: { cues: { name: string; steps: Step[] }[] }
}
type CuePreset = NonNullable<ReturnType<CueWorld['preset']>>

/** The demo's cues by their names, four times over as the evening's forty; ids in place of the names. */
function demo(): { show: Show; worldOf(show: Show): CueWorld } {
  const file = JSON.parse(readFileSync(join(__dirname, '../../../demo/quiz-final.json'), 'utf8')) as DemoFile
  const presets = new Map<string, CuePreset>()
  for (const { number, presets: own } of file.cameras)
    for (const [i, { name, pose }] of own.entries())
      presets.set(`@preset ${number}/${name}`, {
        ...{ id: uuid(100 * number + i), cameraId: uuid(number), number: i + 1, name, pace: null },
        pose: { ...pose!, encoder: null },
      })
  const idOf = (name: string) =>
    presets.get(name)?.id ?? (name.startsWith('@camera') ? uuid(Number(name.split(' ')[1])) : uuid(9))
  const steps = file.show.cues.map(({ steps: own }) =>
    (
      JSON.parse(
        JSON.stringify(own).replace(/"(@\w+ [^"]+)"/g, (_, name: string) => `"${idOf(name)}"`),
      ) as Step[]
    ).filter(({ does }) => does.t !== 'tour'),
  )
  const cues = Array.from({ length: 40 }, (_, i) => cue(i + 1, steps[i % steps.length]!))
  const byId = new Map([...presets.values()].map((preset) => [preset.id, preset]))
  const device = {
    id: uuid(9),
    name: 'House lights',
    messages: ['bright', 'dim', 'up', 'low', 'final', 'interval', 'curlews'].map((id) => ({ id, name: id })),
  }
  return {
    show: { ...NO_SHOW, cues },
    worldOf: (show) =>
      world(show.cues, {
        preset: (id) => byId.get(id) ?? null,
        camera: (id) => {
          const i = SIX.indexOf(id)
          const like = world().camera(CAMERAS[0]!)!
          return i < 0 ? null : { ...like, id, number: i + 1, name: file.cameras[i]!.name }
        },
        device: (id) => (id === device.id ? device : null),
      }),
  }
}

const OVER = new Set(['done', 'failed', 'out', 'stopped'])

test(`${SEEDS} evenings: every confirmed step took effect once, and none moved fast on air`, async () => {
  const { show, worldOf } = demo()
  const happened = { interrupted: 0, out: 0, failed: 0, eased: 0, done: 0 }
  for (let seed = 1; seed <= SEEDS; seed++) {
    const random = seeded(seed)
    const evening = new Evening({ show, cameras: SIX, world: worldOf, random, loss: 0.05 })
    const { clock, models } = evening
    const [rebootAt, restartAt] = [Math.floor(random() * 40), Math.floor(random() * 40)]
    let confirmed = 0
    let lost = 0
    for (let i = 0; i < 40; i++) {
      expect(evening.desk.goNext(OPERATOR)).toBeNull()
      const current = show.cues[i]!
      if (i === rebootAt) {
        await clock.run(1000 + random() * 4000)
        const victim = [...models.values()][Math.floor(random() * 6)]!
        victim.fail()
        clock.after(25_000, () => {
          victim.silent = false
        })
      }
      if (random() < 0.1) {
        await clock.run(500 + random() * 3000)
        evening.gate.stick(SIX[Math.floor(random() * 6)]!, { pan: 0.5, tilt: 0, zoom: 0, focus: 0 }, OPERATOR)
      }
      if (i === restartAt) {
        await clock.run(random() * 8000)
        const running = evening.runOf(current)?.state === 'running'
        const before = [...models.values()].map(
          ({ moves }) => moves.filter(({ end }) => end === 'arrived').length,
        )
        // What was confirmed before it stays confirmed.
        confirmed +=
          evening.runOf(current)?.steps.filter((s) => s.state === 'done' && isRecall(current, s.id)).length ??
          0
        const at_ = clock.now()
        evening.restart()
        await clock.run(20_000)
        expect(evening.desk.now.runs).toEqual([])
        if (running) {
          expect(evening.desk.now.interrupted).toMatchObject([{ cue: current.id }])
          happened.interrupted += 1
        }
        // Nothing moves by itself afterwards.
        const moved = [...models.values()]
          .flatMap(({ moves }) => moves)
          .filter(({ fromMs }) => fromMs > at_ + 1)
        expect(moved).toEqual([])
        expect(
          [...models.values()].map(({ moves }) => moves.filter(({ end }) => end === 'arrived').length),
        ).toEqual(before)
        lost += 1
      }
      await clock.run(180_000)
      const run = evening.runOf(current)
      if (!run || i === restartAt) continue
      expect(run.state).toBe('ended')
      for (const s of run.steps) {
        expect(OVER.has(s.state)).toBe(true)
        if (s.said?.includes('gently')) happened.eased += 1
        if (s.state === 'done' || s.state === 'out' || s.state === 'failed') happened[s.state] += 1
        if (s.state === 'done' && isRecall(current, s.id)) confirmed += 1
        if (s.state === 'failed') expect(s.why).toBeTruthy()
      }
    }
    // Each confirmed recall is one arrival, and there are no others.
    const arrivals = [...models.values()].flatMap(({ moves }) => moves).filter(({ end }) => end === 'arrived')
    expect(arrivals.length).toBe(confirmed)
    for (const [id, { moves }] of models)
      for (const { fromMs, toMs, easedMs, way, end } of moves) {
        if (!way || end !== 'arrived') continue
        const seen = evening.air.find(
          (span) =>
            span.camera === id &&
            span.fromMs <= fromMs &&
            (span.toMs ?? Number.POSITIVE_INFINITY) > fromMs + 1,
        )
        if (seen) expect(toMs - fromMs).toBeGreaterThanOrEqual(USUAL_GUARD.seconds * 1000 - 1)
        const caught = evening.air.find(
          (span) => span.camera === id && span.fromMs > fromMs + 1 && span.fromMs < toMs - 1,
        )
        if (caught)
          expect(easedMs ?? toMs - caught.fromMs).toBeGreaterThanOrEqual(USUAL_GUARD.seconds * 1000 - 1)
      }
    expect(lost).toBe(1)
    evening.close()
  }
  // The troubles did come.
  for (const count of Object.values(happened)) expect(count).toBeGreaterThan(SEEDS / 4)
}, 180_000)

const presetOf = ({ step: { does } }: PredictedStep) => (does.t === 'recall' ? does.preset : null)
const isRecall = ({ steps }: CueView, id: string) => steps.find((s) => s.id === id)?.does.t === 'recall'

test('what the check finds is what the run shows: at once, too short, caught moving, a jump on air', async () => {
  const seen: Record<string, number> = {}
  for (let seed = 1; seed <= 400; seed++) {
    const random = seeded(seed)
    const pick = (n: number) => Math.floor(random() * n)
    const cut = (camera: number): StepDoes => ({ t: 'switch', action: 'cut', camera: uuid(camera) })
    const steps = Array.from({ length: 2 + pick(5) }, (_, i): Step => {
      const pace = pick(3) === 0 ? null : timed(0.5 + Math.round(random() * 20) / 2)
      const does = pick(4) === 0 ? cut(1 + pick(3)) : recall(1 + pick(3), 1 + pick(10), pace)
      return i > 0 && pick(4) === 0
        ? after(`${i}`, `${pick(i)}`, does, pick(4))
        : step(`${i}`, pick(24) / 2, does)
    })
    const cues = [cue(1, steps)]
    const show = { ...NO_SHOW, cues }
    const evening = new Evening({ show, random, loss: 0 })
    const start = { places: new Map([at(1, 0), at(2, 0), at(3, 0)]), program: null, preview: null }
    const live = {
      guard: USUAL_GUARD,
      silent: new Set<string>(),
      devicesSilent: new Set<string>(),
      astray: new Set<string>(),
    }
    const { findings, predictions } = checkShow(evening.world, cues, start, live)
    const has = (kind: string, id: string) => findings.some((one) => one.kind === kind && one.step === id)
    const prediction = predictions.get(cues[0]!.id)!
    evening.desk.goNext(OPERATOR)
    await evening.clock.run(120_000)
    const run = evening.runOf(cues[0]!)!
    // One trouble changes the times of what comes after it: only what nothing else has touched can be compared.
    const clean = findings.every(({ kind }) => kind === 'tooSlow')
    for (const one of prediction.steps) {
      if (one.step.does.t !== 'recall' || one.camera === null) continue
      const now = run.steps.find(({ id }) => id === one.step.id)!
      const { moves } = evening.models.get(one.camera)!
      if (clean) {
        expect([now.state, one.hill.length > 0 ? now.said : null]).toEqual(['done', null])
        const moved = moves.find(({ fromMs }) => Math.abs(fromMs - 1000 - one.startS * 1000) < 1)
        if (one.hill.length > 0)
          expect(moved!.toMs - moved!.fromMs).toBeCloseTo((one.endS - one.startS) * 1000, 0)
        expect(moved?.easedMs ?? null).toBeNull()
      } else if (findings.filter(({ kind }) => kind !== 'tooSlow').length === 1) {
        const [kind] = findings.filter(({ kind: k }) => k !== 'tooSlow').map((f) => f.kind)
        // It changes the times of what comes after it.
        if (one.startS > findings.find((f) => f.kind === kind)!.atS + 0.01) continue
        const mine = has(kind!, one.step.id)
        if (mine) seen[kind!] = (seen[kind!] ?? 0) + 1
        // Cut to in the same moment, it has set off, and is made gentle on its way.
        const gentle =
          (now.said?.includes('gently') ?? false) ||
          moves.some((m) => m.easedMs !== null && m.preset === presetOf(one))
        if (kind === 'onAir' && one.hill.length > 0) expect(gentle).toBe(mine)
        // Hardly arrived, it is found too; the model is seen to stand at once.
        const still = prediction.steps.some(
          (p) =>
            p !== one && p.camera === one.camera && p.startS <= one.startS && p.endS > one.startS + 0.001,
        )
        if (kind === 'atOnce' && mine && still)
          expect(run.steps.some((s) => s.state === 'failed' && /else moved/.test(s.why ?? ''))).toBe(true)
        if (kind === 'caught' && one.hill.length > 0)
          expect(
            moves.some(
              ({ easedMs, preset }) =>
                easedMs !== null && preset === (one.step.does as { preset: string }).preset,
            ),
          ).toBe(mine)
      }
    }
    evening.close()
  }
  // Each kind was compared often enough to mean something.
  for (const kind of ['atOnce', 'onAir', 'caught']) expect(seen[kind]).toBeGreaterThan(5)
}, 60_000)
