/** Tally over HTTP: what programs and hands say, and settings that the database does not take. */
import { Hono } from 'hono'
import { NO_TALLY, type TallySettings } from '../../core/tally/sources'
import { HandClock } from '../cameras/testing/handClock'
import { bodyLimits } from '../http/bodyLimits'
import { tellProblem } from '../http/problems'
import { Lamps } from '../tally/lamps'
import { type Spoken, TallyDesk } from '../tally/tally'
import type { Deps } from './deps'
import { tallyRoutes } from './tally'

const [ONE, TWO] = ['11111111-1111-4111-8111-111111111111', '22222222-2222-4222-8222-222222222222']
const CAMERAS = [
  { id: ONE, number: 1 },
  { id: TWO, number: 2 },
]
const BY_HAND: TallySettings = { ...NO_TALLY, byHand: true }

function setUp(byHand = false) {
  const clock = new HandClock()
  const kept: Spoken[] = []
  const told: string[] = []
  const desk = new TallyDesk({
    clock,
    wallMs: () => clock.now(),
    tell: (camera, tally) => told.push(`${camera.slice(0, 1)} ${tally?.state ?? 'none'}`),
    lamps: new Lamps({ perform: async () => ({ ok: true }) }),
    keep: (spoken) => kept.push(spoken),
    notice: () => {},
  })
  desk.configure(byHand ? BY_HAND : NO_TALLY, [ONE, TWO])
  const stored: TallySettings[] = []
  const world = { databaseDies: false, changes: 0, venue: { id: 'v' } as { id: string } | null }
  const where = async (tally: TallySettings) => {
    if (world.databaseDies) throw Object.assign(new Error('gone'), { code: 'ECONNREFUSED' })
    stored.push(tally)
  }
  const deps = {
    db: { update: () => ({ set: ({ tally }: { tally: TallySettings }) => ({ where: () => where(tally) }) }) },
    catalogue: {
      get current() {
        return world.venue && { view: { venue: world.venue, cameras: CAMERAS } }
      },
    },
    tally: () => desk,
    switching: () => ({
      act: async (action: string) => (action === 'cut' ? 'The switcher does not answer.' : null),
    }),
    changed: async () => {
      world.changes += 1
      desk.configure(stored.at(-1)!, [ONE, TWO])
    },
  } as unknown as Deps
  const app = new Hono()
  app.onError(tellProblem)
  app.use(bodyLimits)
  app.route('/', tallyRoutes(deps))
  const ask = async (method: string, path: string, body?: unknown) => {
    const sent = body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }
    const headers = { 'content-type': 'application/json' }
    const answer = await app.request(path, { method, headers, ...sent })
    return {
      status: answer.status,
      body: (await answer.json()) as { error?: string } & Record<string, unknown>,
    }
  }
  return { ask, desk, kept, told, stored, world, clock }
}

test('a program says by number what is on air; alone puts the others off; null takes it back', async () => {
  const { ask, desk, kept, clock } = setUp()
  expect((await ask('POST', '/1', { state: 'program' })).status).toBe(200)
  clock.ms += 500
  await ask('POST', '/2', { state: 'program', alone: true })
  expect([desk.of(ONE)?.state, desk.of(TWO)?.state]).toEqual(['off', 'program'])
  const { body } = await ask('GET', '/')
  expect(body.cameras).toMatchObject([
    { id: ONE, number: 1, state: 'off' },
    { id: TWO, number: 2, state: 'program', sinceMs: 1500 },
  ])
  await ask('POST', '/2', { state: null })
  expect(desk.of(TWO)).toMatchObject({ state: 'off', source: null })
  // Each time for the next start.
  expect(kept.length).toBe(3)
  expect(kept[1]).toContainEqual({ by: 'http', camera: TWO, state: 'program' })
})

test('what cannot be is refused with a sentence, and changes nothing', async () => {
  const { ask, desk, told } = setUp()
  const before = told.length
  const answers = [
    await ask('POST', '/7', { state: 'program' }),
    await ask('POST', '/one', { state: 'program' }),
    await ask('POST', '/1', { state: 'red' }),
    await ask('POST', '/1', '{'),
    await ask('POST', '/1', { state: 'program', byHand: true }),
    await ask('POST', '/switcher/preview', { camera: 9 }),
    await ask('POST', '/switcher/explode', {}),
  ]
  expect(answers.map(({ status }) => status)).toEqual([404, 400, 400, 400, 409, 404, 400])
  for (const { body } of answers) expect(body.error).toMatch(/\.$/)
  expect([desk.of(ONE)?.state, told.length]).toEqual(['off', before])
})

test('by hand where the venue has it so', async () => {
  const { ask, desk } = setUp(true)
  expect((await ask('POST', '/1', { state: 'preview', byHand: true })).status).toBe(200)
  expect(desk.of(ONE)?.state).toBe('preview')
})

test('why the switcher did not do it is said', async () => {
  const { ask } = setUp()
  expect(await ask('POST', '/switcher/cut', { camera: 1 })).toEqual({
    status: 409,
    body: { error: 'The switcher does not answer.' },
  })
  expect((await ask('POST', '/switcher/preview', { camera: 2 })).status).toBe(200)
})

test('settings are stored and then hold; where the database is gone they do not, and what was said stays', async () => {
  const { ask, desk, stored, world } = setUp()
  await ask('POST', '/1', { state: 'program' })
  world.databaseDies = true
  const { status, body } = await ask('PUT', '/settings', BY_HAND)
  expect([status, body.error]).toEqual([503, expect.stringMatching(/nothing was stored.*try again/)])
  expect([stored.length, world.changes, desk.byHand]).toEqual([0, 0, false])
  expect(desk.of(ONE)?.state).toBe('program')
  world.databaseDies = false
  expect((await ask('PUT', '/settings', BY_HAND)).status).toBe(200)
  expect([stored.length, world.changes, desk.byHand]).toEqual([1, 1, true])
  expect(desk.of(ONE)?.state).toBe('program')
})

test('two sources at one port are refused by their names; without a venue there is nothing to set', async () => {
  const { ask, stored, world } = setUp()
  const source = {
    ...{
      kind: 'tsl31-udp',
      port: 9001,
      enabled: true,
      silentAfterSeconds: null,
      cameras: {},
      program: 2,
      preview: 1,
    },
  }
  const settings = {
    ...NO_TALLY,
    sources: [
      { ...source, id: 'a', name: 'Switcher' },
      { ...source, id: 'b', name: 'Spare' },
    ],
  }
  const clash = await ask('PUT', '/settings', settings)
  expect([clash.status, clash.body.error]).toEqual([409, expect.stringMatching(/“Switcher” and “Spare”/)])
  world.venue = null
  expect((await ask('PUT', '/settings', NO_TALLY)).status).toBe(409)
  expect(stored).toEqual([])
})
