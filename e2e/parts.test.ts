/** One part's end is not the end of all: the database dies or hangs, the stand-ins die, and the hands go on. */
import { execFileSync } from 'node:child_process'
import { seeded } from '../src/core/seeded'
import { apiOf } from './application'
import { Hands } from './hands'
import { eventually, type Running, sleep, startApplication, still } from './harness'

let running: Running
let galleryId: string
const { ask, answer, desk, camera, presetsOf, named } = apiOf(() => running)

beforeAll(async () => {
  running = await startApplication({ HERON_STAND_INS: 'as-needed' })
  galleryId = (await camera()).id
  await still(running)
}, 60_000)
afterAll(() => running?.stop(), 20_000)

/** The database's processes: the first one's children are in groups of their own. */
async function database(): Promise<number[]> {
  const { database: first } = await running.pids()
  const children = execFileSync('ps', ['-o', 'pid=', '--ppid', String(first)], { encoding: 'utf8' })
  return [first!, ...children.split('\n').map(Number).filter(Boolean)]
}
const signal = (pids: number[], name: NodeJS.Signals) => {
  for (const pid of pids) {
    try {
      process.kill(pid, name)
    } catch {
      // It ended by itself meanwhile.
    }
  }
}
const store = (name: string) => ask('/presets', 'POST', { cameraId: galleryId, name })

test('the database is killed: driving and recall go on, a store says so, and it reconnects by itself', async () => {
  const hands = await Hands.open(running.address)
  await eventually('the gallery answers', async () => hands.health(galleryId) === 'ready')
  const scoreboard = await named('Scoreboard')
  signal(await database(), 'SIGKILL')
  hands.hold(new Map([[galleryId, { pan: 0.3, tilt: 0, zoom: 0 }]]))
  await eventually('the head moves', async () => (await running.truth()).moving, 1500)
  hands.release([galleryId])
  await still(running)
  // The hand that drove has it for two seconds more.
  await eventually(
    'it is recalled',
    async () => (await ask(`/presets/${scoreboard.id}/recall`, 'POST', {})).ok,
    4000,
  )
  await eventually(
    'it is there',
    async () => Math.abs((await running.truth()).panDeg - scoreboard.pose.panDeg) < 0.1,
  )
  const refused = await store('While it was gone')
  if (refused.status !== 200) {
    expect(refused.status).toBe(503)
    expect(await refused.json()).toMatchObject({
      error: expect.stringMatching(/nothing was stored|not known whether/),
    })
  }
  await eventually(
    'stores work again',
    async () => (await store('After it came back')).status === 200,
    30_000,
  )
  expect((await running.pids()).server).toBe(running.serverPid)
  const kept = (await presetsOf()).map((p) => p.name)
  if (refused.status === 200) expect(kept).toContain('While it was gone')
  hands.close()
}, 90_000)

test('a database that hangs: what was confirmed is there, what was given up never comes true later', async () => {
  const random = seeded(23)
  const given: { name: string; status: number; said: string }[] = []
  for (let i = 0; i < 3; i++) {
    // The picture and the pose are taken first: a store reaches the database some hundred ms later.
    const waits = [0, 1, 2, 3, 4, 5].map(async (n) => {
      const name = `Held ${i}.${n}`
      await sleep(n * 12)
      const answered = await store(name)
      given.push({ name, status: answered.status, said: await answered.text() })
    })
    await sleep(60 + random() * 320)
    const pids = await database()
    signal(pids, 'SIGSTOP')
    setTimeout(() => signal(pids, 'SIGCONT'), i % 2 ? 8000 : 3000)
    await Promise.all(waits)
    // Whatever was still on its way to it has arrived by then.
    if (i % 2) await sleep(3500)
  }
  await eventually('it answers', async () => (await store('At last')).status === 200, 20_000)
  const there = new Set((await presetsOf()).map((p) => p.name))
  expect(given.filter(({ status }) => status !== 200 && status !== 503)).toEqual([])
  // Only where the database fell silent at the very commit is it said to be unknown.
  const known = given.filter(({ said }) => !/not known whether/.test(said))
  expect(known.filter(({ name, status }) => (status === 200) !== there.has(name))).toEqual([])
  expect(given.some(({ status }) => status === 503)).toBe(true)
}, 120_000)

test('the stand-ins are killed: the desk goes on, and they come back', async () => {
  const { standIns, server } = await running.pids()
  process.kill(standIns!, 'SIGKILL')
  await eventually(
    'they are back',
    async () => {
      const truth = await running.truth().catch(() => null)
      return truth !== null && ((await running.pids()).standIns ?? standIns) !== standIns
    },
    20_000,
  )
  expect((await running.pids()).server).toBe(server)
  const health = async () =>
    (await answer<{ cameras: { name: string; health: { state: string } }[] }>('/health')).cameras
  await eventually(
    'the gallery answers',
    async () => (await health()).find((c) => c.name === 'Gallery')!.health.state === 'ready',
    15_000,
  )
}, 60_000)

test('two at once: whatever comes together is done one after the other', async () => {
  const made = await Promise.all(
    Array.from({ length: 8 }, (_, i) => ask('/venues', 'POST', { name: `Hall ${i}` })),
  )
  expect(made.map((a) => a.status)).toEqual(Array(8).fill(200))
  const { venues } = await desk()
  const opened = await Promise.all(venues.map((v) => ask(`/venues/${v.id}/open`, 'POST')))
  expect(opened.map((a) => a.status)).toEqual(venues.map(() => 200))
  const barn = venues.find((v) => v.cameras > 0)!
  await answer(`/venues/${barn.id}/open`, 'POST')
  const events = await Promise.all(
    Array.from({ length: 8 }, (_, i) => ask('/events', 'POST', { name: `Show ${i}` })),
  )
  expect(events.map((a) => a.status)).toEqual(Array(8).fill(200))
  const view = await desk()
  expect(view.events.filter((e) => /^Show/.test(e.name))).toHaveLength(8)
  const back = await Promise.all(view.events.map((e) => ask(`/events/${e.id}/open`, 'POST')))
  expect(back.map((a) => a.status)).toEqual(view.events.map(() => 200))
  for (const v of venues.filter((x) => x.id !== barn.id))
    expect((await ask(`/venues/${v.id}`, 'DELETE')).status).toBe(200)
})

test('stand-ins run while a venue that uses them is open, and not otherwise; the demo goes and comes', async () => {
  expect(await answer('/demo')).toEqual({ present: true })
  const { id } = await answer<{ id: string }>('/venues', 'POST', { name: 'Our own hall' })
  await eventually('they rest', async () => (await running.pids()).standIns === null, 15_000)
  await answer('/demo', 'DELETE')
  expect(await answer('/demo')).toEqual({ present: false })
  expect((await desk()).venues.map((v) => v.id)).toEqual([id])
  await answer('/demo', 'POST')
  await eventually('they run', async () => (await running.truth().catch(() => null)) !== null, 20_000)
  expect((await desk()).cameras).toHaveLength(6)
}, 60_000)
