/**
 * Cues as they reach cameras and devices, by the page of truth: all steps of one press; a hand that takes one camera
 * out of it; a server that dies in the middle; a device that is down; a recorded move played again; a tour.
 */
import type { ShowNow } from '../src/core/cues/now'
import type { Cue, CueView, Show, Step } from '../src/core/cues/show'
import type { DeviceView } from '../src/core/messages/device'
import type { TallyView } from '../src/server/api'
import { apiOf, withApplication } from './application'
import { Hands } from './hands'
import { eventually, type Running, sleep, still } from './harness'

let running: Running
withApplication((r) => {
  running = r
})
const { ask, answer, desk, camera, named } = apiOf(() => running)

const now = () => answer<ShowNow>('/show')
const show = async (): Promise<Show> => ((await desk()) as unknown as { show: Show }).show
const cueNamed = async (name: string): Promise<CueView> => (await show()).cues.find((c) => c.name === name)!
const keep = (id: string, data: Partial<Cue>) => answer(`/cues/${id}`, 'PUT', { data })
const go = (id: string) => answer(`/cues/${id}/go`, 'POST')
const runOf = async (cue: string) => (await now()).runs.find((r) => r.cue === cue)
const house = async () =>
  (await (await fetch(`${running.sim}/house`)).json()) as {
    hall: number
    stage: number
    title: string
    scores: number[]
  }
const at = (id: string, seconds: number, does: Step['does']): Step => ({
  id,
  start: { kind: 'at', seconds },
  does,
})
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const switcher = (path: string) => fetch(`http://${running.net}.20:8070/${path}`, { method: 'POST' })
const onAir = (input: number) => switcher(`program?input=${input}`)
const recall = (preset: string, seconds: number): Step['does'] => ({
  ...{ t: 'recall', preset, together: false },
  pace: { kind: 'timed', seconds },
})
const pan = async (of: Parameters<Running['truth']>[0]) => (await running.truth(of)).panDeg
const settled = (cue: string) =>
  eventually('it has ended', async () => (await runOf(cue))?.state !== 'running', 30_000)

beforeAll(async () => {
  await eventually(
    'all cameras answer',
    async () => {
      const { cameras } = await answer<{ cameras: { health: { state: string } }[] }>('/health')
      return cameras.length === 6 && cameras.every(({ health }) => /ready|slow/.test(health.state))
    },
    30_000,
  )
}, 40_000)
beforeEach(async () => {
  // Off air: what nothing is plugged into is on program.
  await switcher('preview?input=7')
  await onAir(8)
  await eventually('nothing is on air', async () =>
    (await answer<TallyView>('/tally')).cameras.every(({ state }) => state === 'off'),
  )
})

test('one press: cameras, switcher and lights; each step is done once, and it is told how', async () => {
  const buzzer = await cueNamed('Buzzer')
  // The one thing that the check finds in the demo: mended, all of it goes through.
  const findings = await answer<{ cue: string; kind: string; mend: { cue: Cue } | null }[]>('/check')
  const caught = findings.find(({ cue, kind }) => cue === buzzer.id && kind === 'caught')
  await keep(buzzer.id, caught!.mend!.cue)
  await answer('/show/next', 'POST', { cue: buzzer.id })
  await answer('/show/go', 'POST')
  await eventually('it runs', async () => (await runOf(buzzer.id))?.state === 'running')
  // The next in order is the one after it.
  expect((await now()).position).toBe((await cueNamed('Answer, Curlews')).id)
  await settled(buzzer.id)
  const run = (await runOf(buzzer.id))!
  expect(run.steps.map(({ state, why }) => [state, why])).toEqual(run.steps.map(() => ['done', null]))
  const goal = await named('Whole barn')
  expect(Math.abs((await pan('gallery')) - goal.pose.panDeg)).toBeLessThan(0.2)
  const state = (await (await fetch(`http://${running.net}.20:8070/state`)).json()) as { program: number }
  expect(state.program).toBe(2)
}, 60_000)

test('a message fills in its secret, shows the raw answer, and hides the secret; a device that is down is told', async () => {
  const devices = await answer<DeviceView[]>('/devices')
  const board = devices.find((d) => d.name === 'Scoreboard')!
  expect(JSON.stringify(await desk())).not.toContain('reedbed-5')
  await answer(`/devices/${board.id}/messages/curlews`, 'POST')
  expect((await house()).scores[2]).toBe(48)
  const message = {
    id: 'x',
    name: 'Try',
    line: `POST http://${running.net}.22:8075/title?text=A&key={secret}`,
  }
  const ok = await answer<{ ok: boolean; text: string }>('/devices/try', 'POST', {
    message,
    local: true,
    device: board.id,
  })
  expect(ok).toMatchObject({ ok: true, text: expect.stringMatching(/"title":"A"/) })
  const refused = await answer<{ ok: boolean; text: string }>('/devices/try', 'POST', {
    message,
    local: false,
    device: board.id,
  })
  expect(refused).toMatchObject({ ok: false, text: expect.stringMatching(/this computer itself/) })
  const wrong = await answer<{ ok: boolean; text: string }>('/devices/try', 'POST', {
    message,
    local: true,
    secret: 'sesame',
  })
  expect(wrong).toMatchObject({ ok: false, text: expect.stringMatching(/403/) })
  // Nobody listens there: the cue goes on, and says which step failed.
  await answer(`/devices/${id(50)}`, 'PUT', {
    data: {
      name: 'Mixer',
      local: true,
      messages: [{ id: 'm', name: 'Fade', line: `TCP ${running.net}.99:4000 FADE\\r`, retries: 1 }],
    },
  })
  const trio = await named('Fiddle', 'Interval trio')
  await keep(id(1), {
    name: 'With a mixer',
    steps: [
      at('m', 0, { t: 'message', device: id(50), message: 'm' }),
      { id: 'r', start: { kind: 'after', step: 'm', seconds: 0 }, does: recall(trio.id, 2) },
    ],
  })
  await go(id(1))
  await settled(id(1))
  expect((await runOf(id(1)))!.steps).toMatchObject([
    { id: 'm', state: 'failed', why: expect.stringMatching(/^Mixer: /) },
    { id: 'r', state: 'done' },
  ])
  const findings = await answer<{ kind: string; text: string }[]>('/check')
  expect(findings).toContainEqual(
    expect.objectContaining({ kind: 'device', text: expect.stringMatching(/Mixer did not answer/) }),
  )
}, 60_000)

test('a hand takes one camera out of a running cue, and the rest goes on', async () => {
  const [gallery, stage] = [await camera(), await camera('Stage left')]
  const [far, other] = [await named('Bitterns'), await named('Lapwings', 'Stage left')]
  await keep(id(2), {
    name: 'Two cameras',
    steps: [
      at('a', 0, recall(far.id, 6)),
      at('b', 0, recall(other.id, 4)),
      at('c', 8, recall((await named('Godwits', 'Stage left')).id, 2)),
    ],
  })
  const hands = await Hands.open(running.address)
  await go(id(2))
  await sleep(1500)
  hands.hold(new Map([[gallery.id, { pan: 0.5, tilt: 0, zoom: 0 }]]))
  await sleep(400)
  hands.release([gallery.id])
  await settled(id(2))
  const run = (await runOf(id(2)))!
  expect(run.out).toMatchObject([{ camera: gallery.id }])
  expect(run.steps.map(({ state }) => state)).toEqual(['out', 'done', 'done'])
  expect(Math.abs((await pan('gallery')) - far.pose.panDeg)).toBeGreaterThan(3)
  hands.close()
  void stage
}, 60_000)

test('stop all: every camera comes to rest at once, softly, and nothing begins any more', async () => {
  const buzzer = await cueNamed('Buzzer')
  await go(buzzer.id)
  await sleep(1200)
  await answer('/stop-all', 'POST')
  expect((await runOf(buzzer.id))!.state).toBe('stopped')
  const [a, b] = [await still(running), await still(running, 'lectern')]
  await sleep(1500)
  expect([await pan('gallery'), await pan('lectern')]).toEqual([a.panDeg, b.panDeg])
}, 60_000)

test('held, nothing begins; going on, the rest comes', async () => {
  await answer('/show/hold', 'POST', { on: true })
  const buzzer = await cueNamed('Buzzer')
  const refused = await ask(`/cues/${buzzer.id}/go`, 'POST')
  expect([refused.status, ((await refused.json()) as { error: string }).error]).toEqual([
    409,
    expect.stringMatching(/held/),
  ])
  await answer('/show/hold', 'POST', { on: false })
}, 30_000)

test('two pages change the same cue: the second is told, and nothing is overwritten', async () => {
  const cue = await cueNamed('Doors')
  const { id: cueId, order: _, version, ...data } = cue
  await answer(`/cues/${cueId}`, 'PUT', { data: { ...data, notes: 'one' }, version })
  const second = await ask(`/cues/${cueId}`, 'PUT', { data: { ...data, notes: 'two' }, version })
  expect([second.status, ((await second.json()) as { error: string }).error]).toEqual([
    409,
    expect.stringMatching(/meanwhile/),
  ])
  expect((await cueNamed('Doors')).notes).toBe('one')
}, 30_000)

test('a move is recorded while a hand drives, and played again: there and back', async () => {
  const gallery = await camera()
  await answer(`/presets/${(await named('Whole barn')).id}/recall`, 'POST', {})
  await still(running)
  await sleep(2500)
  await onAir(8)
  const hands = await Hands.open(running.address)
  await answer(`/cameras/${gallery.id}/recording`, 'POST')
  const from = await running.truth()
  hands.hold(new Map([[gallery.id, { pan: 0.55, tilt: 0.2, zoom: 0.3 }]]))
  await sleep(2500)
  hands.hold(new Map([[gallery.id, { pan: 0.3, tilt: -0.3, zoom: 0 }]]))
  await sleep(1500)
  hands.release([gallery.id])
  const to = await still(running)
  await sleep(400)
  const { id: move } = await answer<{ id: string }>(`/cameras/${gallery.id}/recording`, 'PUT', {
    name: 'Over the tables',
  })
  hands.close()
  const kept = (await show()).moves.find((m) => m.id === move)!
  expect(kept.points.length).toBeLessThan(80)
  expect(kept.off!.median).toBeLessThan(0.005)
  await sleep(2200)
  await answer(`/moves/${move}/play`, 'POST', { percent: 200, backwards: true })
  const done = () => eventually('it is played', async () => (await now()).replays.length === 0, 30_000)
  await done()
  expect(Math.abs((await pan('gallery')) - from.panDeg)).toBeLessThan(0.2)
  await answer(`/moves/${move}/play`, 'POST', {})
  await done()
  expect(Math.abs((await pan('gallery')) - to.panDeg)).toBeLessThan(0.2)
}, 90_000)

test('a tour waits while its camera is on air, goes on until a hand pauses it, and goes on again when it is told to', async () => {
  const gallery = await camera()
  const [a, b] = [await named('Host'), await named('Curlews')]
  const stop = (preset: string) => ({ preset, dwellSeconds: 0.2, pace: { kind: 'timed', seconds: 2 } })
  await answer(`/tours/${id(3)}`, 'PUT', {
    data: { name: 'Sweep', camera: gallery.id, stops: [stop(a.id), stop(b.id)] },
  })
  await onAir(1)
  await eventually(
    'the guard knows',
    async () => (await answer<TallyView>('/tally')).cameras[0]?.state === 'program',
  )
  await answer(`/tours/${id(3)}/go`, 'POST')
  await eventually('it waits', async () => (await now()).tours[0]?.state === 'waiting')
  expect((await now()).tours[0]!.why).toMatch(/no longer on air/)
  await onAir(8)
  await eventually(
    'it is at its second stop',
    async () => Math.abs((await pan('gallery')) - b.pose.panDeg) < 0.3,
    15_000,
  )
  const hands = await Hands.open(running.address)
  hands.hold(new Map([[gallery.id, { pan: -0.2, tilt: 0, zoom: 0 }]]))
  await eventually('it is paused', async () => (await now()).tours[0]?.state === 'paused')
  hands.release([gallery.id])
  expect((await now()).tours[0]!.why).toMatch(/Go on/)
  const there = await still(running)
  await sleep(3000)
  expect(await pan('gallery')).toBe(there.panDeg)
  await answer(`/tours/${id(3)}/go-on`, 'POST')
  await eventually('it moves', async () => (await running.truth()).moving)
  await answer(`/tours/${id(3)}/stop`, 'POST')
  await still(running)
  hands.close()
}, 60_000)

test.each(['SIGTERM', 'SIGKILL'] as const)(
  'the server ends in the middle of a cue (%s): it shows where it was, and moves nothing',
  async (signal) => {
    const [far, host] = [await named('Bitterns'), await named('Host')]
    await answer(`/presets/${host.id}/recall`, 'POST', {})
    await still(running)
    await keep(id(4), {
      name: 'Long way',
      listed: true,
      steps: [
        at('a', 0, recall(far.id, 12)),
        at('b', 3, recall((await named('Fiddle', 'Interval trio')).id, 8)),
      ],
    })
    await sleep(2500)
    await answer('/show/next', 'POST', { cue: id(4) })
    await answer('/show/go', 'POST')
    await sleep(1500)
    await running.restart(signal)
    await eventually('it answers', async () => (await ask('/show')).ok, 20_000)
    const { interrupted, runs, position } = await now()
    expect(interrupted).toMatchObject([{ cue: id(4), name: 'Long way' }])
    expect(runs).toEqual([])
    // It was the last of the order.
    expect(position).toBe('end')
    const a = await still(running)
    await sleep(3000)
    expect(await pan('gallery')).toBe(a.panDeg)
    await answer('/show/seen', 'POST')
    expect((await now()).interrupted).toEqual([])
  },
  90_000,
)
