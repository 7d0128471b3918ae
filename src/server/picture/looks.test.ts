/** Recalling looks in virtual time: order, fades, undo, what is asked on air, and a recall that comes into another. */
import type { Part } from '../../core/cues/show'
import { settingOf } from '../../core/heads/namedControls'
import { controlsOf } from '../../core/heads/pictureControls'
import { headProfile } from '../../core/heads/registry'
import { cueActor, SERVER_ITSELF } from '../../core/orders/actors'
import { settingsNow } from '../../core/picture/looks'
import { closedBy, type SettingValue, type SettingValues } from '../../core/picture/settings'
import type { TallyState } from '../../core/tally/sources'
import { HandClock } from '../cameras/testing/handClock'
import { type Former, FormerSettings } from './former'
import { holdPicture } from './heldPicture'
import { Looks, type LooksDeps, WHOLE_LOOK } from './looks'

const specsOf = (profile: string) => {
  const all = controlsOf(headProfile(profile))
  return all.map((c) => settingOf(c, all)).filter((s) => s !== null)
}
const DAY: SettingValues = {
  ...{ exposureMode: '3', iris: 12, shutter: 2, gain: 9, whiteBalance: '5', redGain: 100, blueGain: 140 },
  ...{ sharpness: 7, saturation: 9 },
}
const NIGHT: SettingValues = { ...DAY, exposureMode: '0', iris: 3, whiteBalance: '0', saturation: 4 }

/** Two cameras that obey, and refuse a level whose mode does not take it. */
function desk(profiles: Record<string, string> = { a: 'marsh-20x', b: 'marsh-20x' }) {
  const clock = new HandClock()
  const values: Record<string, SettingValues> = {}
  const tally: Record<string, TallyState> = {}
  const orders: [string, string, SettingValue][] = []
  let look: Part<'look'> | null = null
  const specs = (id: string) => specsOf(profiles[id]!)
  const kept: Former[] = []
  const former = () =>
    new FormerSettings(
      {
        async add(one) {
          kept.unshift(structuredClone(one))
        },
        async setState(id, state) {
          const one = kept.find((k) => k.id === id)
          if (one) one.state = state
        },
        async remove(id) {
          kept.splice(
            kept.findIndex((one) => one.id === id),
            1,
          )
        },
        all: async () => structuredClone(kept),
        async cutShort() {
          const cut = kept.filter(({ state }) => state === 'running')
          for (const one of cut) one.state = 'cut'
          return structuredClone(cut)
        },
      },
      clock,
      (error) => {
        throw error
      },
    )
  const deps: Pick<LooksDeps, 'facts' | 'gate'> = {
    facts: {
      get: ((kind: string, id: string) =>
        kind === 'able' ? profiles[id] && { settings: specs(id) } : (values[id] ?? null)) as never,
    },
    gate: {
      async perform(order) {
        if (order.t !== 'setting') throw new Error(order.t)
        const { camera, key, value } = order
        const spec = specs(camera).find((s) => s.key === key)!
        const closed = closedBy(spec, specs(camera), values[camera]!)
        if (closed) return { ok: false, message: closed }
        orders.push([camera, key, value])
        values[camera] = { ...values[camera], [key]: value }
        return { ok: true }
      },
    },
  }
  const server = (keeps: FormerSettings) =>
    new Looks({
      ...deps,
      clock,
      former: keeps,
      look: () => look,
      camera: (id) => (profiles[id] ? { id, number: id === 'a' ? 1 : 2, name: id } : null),
      tally: (id) => tally[id] ?? 'off',
    })
  const looks = server(former())
  const keep = (cameras: string[], fadeSeconds = 0) => {
    const settings = cameras.map((camera) => ({
      camera,
      settings: settingsNow(specs(camera), values[camera]!),
    }))
    look = { id: 'l', order: 1, version: 1, name: 'Day', picture: null, fadeSeconds, cameras: settings }
  }
  const after = async <T>(work: Promise<T>, ms: number) => {
    await clock.run(ms)
    return work
  }
  return { clock, values, tally, orders, looks, keep, after, server, former, deps }
}

test('modes come before their levels, what is as it was is left alone, and undo brings all of it back', async () => {
  const { values, orders, looks, keep, after } = desk()
  values.a = { ...DAY }
  keep(['a'])
  values.a = { ...NIGHT }
  const done = await after(looks.recall('l', WHOLE_LOOK, SERVER_ITSELF), 100)
  expect(done).toMatchObject({ is: 'done', problems: [] })
  expect(values.a).toEqual(DAY)
  expect(orders.map(([, key]) => key)).toEqual(['exposureMode', 'whiteBalance', 'iris', 'saturation'])
  const undone = await after(looks.undo((done as { undo: string }).undo, SERVER_ITSELF), 100)
  expect(undone).toMatchObject({ is: 'done' })
  expect(values.a).toMatchObject({ exposureMode: '0', whiteBalance: '0', saturation: 4 })
  expect(await looks.undo((done as { undo: string }).undo, SERVER_ITSELF)).toMatchObject({ is: 'refused' })
})

test('by group, and at a camera of another head by unit and word', async () => {
  const { values, looks, keep, after } = desk({ a: 'marsh-20x', b: 'sedge-10x' })
  values.a = { ...DAY }
  keep(['a'])
  values.b = { ...NIGHT, gain: 20 }
  const how = { ...WHOLE_LOOK, cameras: ['b'], groups: ['exposure' as const] }
  const done = await after(looks.recall('l', how, SERVER_ITSELF), 100)
  expect(done).toMatchObject({ is: 'done' })
  expect(values.b).toMatchObject({ exposureMode: '3', iris: 12, gain: 9, whiteBalance: '0', saturation: 4 })
  // What this head has nothing like is said, not dropped in silence.
  const whole = await after(looks.recall('l', { ...WHOLE_LOOK, cameras: ['b'] }, SERVER_ITSELF), 100)
  expect(whole).toMatchObject({ is: 'done', problems: [] })
})

test('a fade goes step by step and ends where it should, whatever comes into it', async () => {
  const { clock, values, orders, looks, keep, after } = desk()
  values.a = { ...DAY, saturation: 14, redGain: 200 }
  keep(['a'], 4)
  values.a = { ...DAY, saturation: 0, redGain: 100 }
  const fading = looks.recall('l', WHOLE_LOOK, SERVER_ITSELF)
  await clock.run(2000)
  expect(values.a!.redGain).toBeGreaterThan(140)
  expect(values.a!.redGain).toBeLessThan(160)
  await clock.run(3000)
  expect(await fading).toMatchObject({ is: 'done', problems: [] })
  expect(values.a).toMatchObject({ saturation: 14, redGain: 200 })
  const steps = orders.filter(([, key]) => key === 'redGain').map(([, , value]) => value as number)
  expect(steps.every((value, i) => i === 0 || value > steps[i - 1]!)).toBe(true)
  // A second recall ends the first: it must not go on turning.
  values.a = { ...DAY, saturation: 0, redGain: 100 }
  const first = looks.recall('l', { ...WHOLE_LOOK, seconds: 10 }, SERVER_ITSELF)
  await clock.run(1000)
  await after(looks.recall('l', { ...WHOLE_LOOK, seconds: 0 }, SERVER_ITSELF), 100)
  orders.length = 0
  await clock.run(12_000)
  await first
  expect(orders).toEqual([])
  expect(values.a).toMatchObject({ redGain: 200 })
})

test('on air it asks and says what would jump; a cue was prepared on purpose', async () => {
  const { values, tally, orders, looks, keep, after } = desk()
  values.a = { ...DAY }
  keep(['a'])
  values.a = { ...NIGHT }
  for (const state of ['program', 'unknown'] as const) {
    tally.a = state
    const asked = await looks.recall('l', WHOLE_LOOK, SERVER_ITSELF)
    expect(asked).toMatchObject({ is: 'ask', why: expect.stringMatching(/1 a is on air: exposure, .*iris/) })
  }
  expect(orders).toEqual([])
  expect(await after(looks.recall('l', WHOLE_LOOK, cueActor('x')), 100)).toMatchObject({ is: 'done' })
})

test('a look that is gone, and cameras that do not answer, are refused in words', async () => {
  const { values, looks, keep } = desk()
  expect(await looks.recall('l', WHOLE_LOOK, SERVER_ITSELF)).toMatchObject({ is: 'refused' })
  values.a = { ...DAY }
  keep(['a'])
  expect(await looks.recall('l', { ...WHOLE_LOOK, cameras: ['gone'] }, SERVER_ITSELF)).toMatchObject({
    is: 'refused',
    why: expect.stringMatching(/None of its cameras/),
  })
})

test('a recall that is cut short by the end of the server is told by the next one, and undone there', async () => {
  const { clock, values, looks, keep, server, former } = desk()
  values.a = { ...DAY }
  keep(['a'], 8)
  values.a = { ...NIGHT }
  void looks.recall('l', WHOLE_LOOK, SERVER_ITSELF)
  await clock.run(3000)
  expect(values.a).not.toEqual(DAY)
  looks.close()
  await clock.run(1000)
  const again = former()
  expect(await again.news()).toMatch(/just as “Day” was recalled\./)
  expect(await again.news()).toBeNull()
  const next = server(again)
  const [one, ...others] = await next.former()
  expect(one).toMatchObject({ what: '“Day” was recalled', cameras: ['1 a'], cut: true })
  expect(others).toEqual([])
  const undoing = next.undo(one!.id, SERVER_ITSELF)
  await clock.run(500)
  expect(await undoing).toMatchObject({ is: 'done' })
  expect(values.a).toMatchObject({ exposureMode: '0', whiteBalance: '0', saturation: 4 })
  expect(await next.former()).toMatchObject([{ what: '“Day” was recalled, then undone', cut: false }])
})

test('a database that hangs delays a recall by less than half a second, and what it did not hear is undone all the same', async () => {
  const { clock, values, keep, server } = desk()
  const never = () => new Promise<never>(() => {})
  const failing = async () => {
    throw new Error('the database has ended')
  }
  const looks = server(
    new FormerSettings(
      { add: never, setState: failing, remove: failing, all: failing, cutShort: failing },
      clock,
      () => {},
    ),
  )
  values.a = { ...DAY }
  keep(['a'])
  values.a = { ...NIGHT }
  const recall = looks.recall('l', WHOLE_LOOK, SERVER_ITSELF)
  await clock.run(500)
  expect(await recall).toMatchObject({ is: 'done' })
  expect(values.a).toEqual(DAY)
  const undoing = looks.undo((await looks.former())[0]!.id, SERVER_ITSELF)
  await clock.run(500)
  expect(await undoing).toMatchObject({ is: 'done' })
  expect(values.a).toMatchObject({ exposureMode: '0', saturation: 4 })
})

test('held for a survey: what the automatics chose stays, and they have it back afterwards', async () => {
  const { clock, values, orders, looks, deps } = desk()
  values.a = { ...DAY, exposureMode: '0', whiteBalance: '0' }
  const holding = holdPicture({ ...deps, looks, clock }, 'a', 'it photographed the room')
  await clock.run(100)
  const giveBack = await holding
  expect(values.a).toEqual({ ...DAY, exposureMode: '3', whiteBalance: '5' })
  expect(orders.map(([, key]) => key).slice(0, 2)).toEqual(['exposureMode', 'whiteBalance'])
  expect(await looks.former()).toMatchObject([{ what: 'it photographed the room' }])
  const giving = giveBack!()
  await clock.run(100)
  expect(await giving).toEqual([])
  expect(values.a).toMatchObject({ exposureMode: '0', whiteBalance: '0' })
  expect(await looks.former()).toEqual([])
})

test('held: what the camera does not tell stays automatic, and what is by hand is left alone', async () => {
  const { clock, values, orders, looks, deps } = desk()
  const { redGain, ...untold } = DAY
  values.a = { ...untold, exposureMode: '0', whiteBalance: '0' }
  const holding = holdPicture({ ...deps, looks, clock }, 'a', 'x')
  await clock.run(9000)
  await holding
  expect(values.a).toMatchObject({ exposureMode: '3', whiteBalance: '0' })
  orders.length = 0
  values.a = { ...DAY, exposureMode: '3', whiteBalance: '5' }
  expect(await holdPicture({ ...deps, looks, clock }, 'a', 'x')).toBeNull()
  expect(orders).toEqual([])
})

test('what is written late is written in its order, and what was undone meanwhile does not come back', async () => {
  const { clock } = desk()
  const wrote: string[] = []
  const late = (what: string) => () =>
    new Promise<void>((resolve) =>
      clock.after(2000, () => {
        wrote.push(what)
        resolve()
      }),
    )
  const slow = new FormerSettings(
    {
      add: late('add'),
      setState: late('done'),
      remove: late('remove'),
      all: () => new Promise(() => {}),
      cutShort: async () => [],
    },
    clock,
    () => {},
  )
  const keeping = slow.keep('x', [])
  await clock.run(500)
  const id = await keeping
  slow.ended(id)
  // The database says nothing at all: what is known here is undone all the same.
  expect(await slow.take(id)).toMatchObject({ what: 'x' })
  await clock.run(7000)
  expect(wrote).toEqual(['add', 'done', 'remove'])
})
