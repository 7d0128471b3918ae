/**
 * What must never happen, brought about: each way in which the server, its start command or the guardian can
 * fail, while a hand drives cameras on every link. Read from the page of truth. The table goes into
 * docs/safety.md.
 */
import { execFileSync } from 'node:child_process'
import { join } from 'node:path'
import { SERVER } from '../src/core/facts/facts'
import { seeded } from '../src/core/seeded'
import { apiOf } from './application'
import { Hands, inward, type Push, type Standstill, standstills } from './hands'
import { eventually, type Running, sleep, startApplication } from './harness'
import { NAMES, type StandIns, startStandIns } from './standIns'

/** Upside down cameras turn the hand's push about. */
const TURNED = new Set(['trio'])
const WITHIN_MS = 1000
const table: { fault: string; runs: Standstill[] }[] = []

let standIns: StandIns
let running: Running
beforeAll(async () => {
  standIns = await startStandIns(null)
}, 60_000)
beforeEach(async () => {
  running = await startApplication({ ...standIns.env, HERON_FAULTS: '1' })
}, 60_000)
afterEach(() => running.stop(), 20_000)
afterAll(() => {
  standIns.stop()
  for (const { fault, runs } of table)
    process.stderr.write(
      `${fault}: ${runs.map((r) => `${r.id} ${r.ms} ms ${r.deg.toFixed(1)}°`).join(', ')}\n`,
    )
})

const { desk } = apiOf(() => running)

/** Drives all six at once, each towards the middle of its range. */
async function driveAll(seed: number): Promise<Hands> {
  const { cameras } = await desk()
  const hands = await Hands.open(running.address)
  await eventually(
    'all cameras answer',
    async () => cameras.every((c) => hands.health(c.id) === 'ready'),
    15_000,
  )
  const random = seeded(seed)
  const pushes = new Map<string, Push>()
  for (const t of await standIns.truth()) {
    const camera = cameras.find((c) => c.name === NAMES[t.id])!
    const push = inward(t, 0.5 + random() * 0.25)
    const sign = TURNED.has(t.id) ? -1 : 1
    pushes.set(camera.id, { ...push, pan: sign * push.pan, tilt: sign * push.tilt })
  }
  hands.hold(pushes)
  await eventually('all move', async () => (await standIns.truth()).every((t) => t.moving))
  await sleep(200 + random() * 300)
  return hands
}

async function allStandAfter(fault: string, commit: () => void, withinMs = WITHIN_MS): Promise<void> {
  commit()
  const runs = await standstills(standIns.truth)
  table.push({ fault, runs })
  expect(runs.filter((r) => r.ms > withinMs)).toEqual([])
}

const back = () =>
  eventually(
    'the server is back',
    async () => (await fetch(`${running.address}/api/health`).catch(() => null))?.status === 200,
    15_000,
  )

test.each<[string, number, () => void]>([
  ['SIGKILL of the server', 1, () => void process.kill(running.serverPid, 'SIGKILL')],
  ['SIGSTOP of the server', 2, () => void process.kill(running.serverPid, 'SIGSTOP')],
  ['an exception that nobody caught', 3, () => running.fault('throw')],
  ['the loop blocked for 10 s', 4, () => running.fault('block')],
  ['the heap exhausted', 5, () => running.fault('heap')],
] as const)(
  '%s: every head stands within a second, and the server comes back and says so',
  async (fault, seed, commit) => {
    const hands = await driveAll(seed)
    await allStandAfter(fault, commit)
    await back()
    const page = await Hands.open(running.address)
    await eventually('it is told', async () => page.heard.some((m) => m.t === 'hello'))
    const hello = page.heard.find((m) => m.t === 'hello')!
    expect(hello).toMatchObject({
      interrupted: expect.stringMatching(/moving and have been stopped.*Gallery/),
    })
    // Nothing of before goes on.
    await sleep(300)
    expect((await standIns.truth()).filter((t) => t.moving)).toEqual([])
    hands.close()
    page.close()
  },
  60_000,
)

test('the start command killed: everything ends, and every head stands', async () => {
  const hands = await driveAll(6)
  await allStandAfter('SIGKILL of the start command', () => void running.launcher.kill('SIGKILL'))
  hands.close()
  // The guardian goes when all is done.
  await eventually(
    'no guardian is left',
    async () => {
      const list = execFileSync('ps', ['-eo', 'args'], { encoding: 'utf8' })
      return !list
        .split('\n')
        .some(
          (line) => line.includes(join(__dirname, '../dist-server/guardian.cjs')) && line.includes('node'),
        )
    },
    20_000,
  )
}, 60_000)

test('the guardian killed: the desk says so, it comes back, and watches over what moves', async () => {
  const hands = await driveAll(7)
  const { guardian } = await running.pids()
  process.kill(guardian!, 'SIGKILL')
  await eventually('the desk says so', async () => hands.facts('guarded', SERVER).includes(false))
  await eventually('it is back', async () => hands.facts('guarded', SERVER).at(-1) === true, 10_000)
  expect(hands.notices.some((text) => /guardian has ended/.test(text))).toBe(true)
  expect((await standIns.truth()).every((t) => t.moving)).toBe(true)
  await allStandAfter('SIGKILL of the server after the guardian was restarted', () =>
    process.kill(running.serverPid, 'SIGKILL'),
  )
  hands.close()
}, 60_000)
