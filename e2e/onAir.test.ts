/**
 * On air: red and green by the bytes of TSL, written here by hand; the guard in each of its modes; going on air in the
 * middle of a move; a source that dies; and a shot made ready and cut to.
 */
import { createSocket } from 'node:dgram'
import { connect } from 'node:net'
import type { Browser, Page } from 'puppeteer-core'
import type { Guard } from '../src/core/orders/guardSettings'
import type { TallyView } from '../src/server/api'
import { apiOf, withApplication } from './application'
import { Hands } from './hands'
import {
  by,
  eventually,
  fill,
  openDesk,
  PHONE,
  press,
  pressIn,
  pressNote,
  type Running,
  reads,
  sleep,
  still,
  textOf,
  WIDE,
} from './harness'

let running: Running
let browser: Browser
withApplication((r, b) => {
  ;[running, browser] = [r, b]
})
const { ask, answer, desk, camera, named } = apiOf(() => running)

/** TSL UMD 3.1: address, then tally 1 (preview) and tally 2 (program) in bits 0 and 1, then 16 characters. */
const umd31 = (address: number, lamps: number) =>
  Buffer.concat([Buffer.of(0x80 + address, lamps), Buffer.from('Camera'.padEnd(16))])
/** TSL UMD 5.0 with one display whose three lamps are red (1), green (2) or dark, wrapped for TCP. */
const umd5 = (index: number, colour: number) => {
  const control = colour | (colour << 2) | (colour << 4)
  return Buffer.of(0xfe, 2, 10, 0, 0, 0, 0, 0, index, 0, control, 0, 0, 0)
}

const sender = createSocket('udp4')
afterAll(() => sender.close())
const send = (port: number, address: number, lamps: number) =>
  sender.send(umd31(address, lamps), port, '127.0.0.1')
const free = () => 15_000 + Math.floor(Math.random() * 15_000)
const switcher = (path: string) => fetch(`http://${running.net}.20:8070/${path}`, { method: 'POST' })
const tallyOf = async (number: number) =>
  (await answer<TallyView>('/tally')).cameras.find((c) => c.number === number)?.state

async function guard(change: Partial<Guard>): Promise<void> {
  const { event } = await desk()
  await answer(`/events/${event.id}`, 'PATCH', { guard: { ...event.guard, ...change } })
}
const common = { enabled: true, silentAfterSeconds: null }

beforeEach(async () => {
  // Off air: what nothing is plugged into is on program.
  await switcher('preview?input=7')
  await switcher('program?input=8')
  await guard({ mode: 'ease', seconds: 8, speed: 0.25, preview: false })
  await eventually('nothing is on air', async () => (await tallyOf(1)) === 'off')
})

const shows = (page: Page, where: string, state: string) =>
  eventually(
    `${state} on ${where}`,
    async () => (await page.$(`${by(where)} ${by(`tally-${state}`)}`)) !== null,
  )

test('red and green by TSL 3.1 and 5.0, wherever a camera appears, with their words', async () => {
  const [gallery, stage] = [await camera('Gallery'), await camera('Stage left')]
  const { tally } = await desk()
  const [udp, tcp] = [free(), free()]
  const own = tally.sources
  await answer('/tally/settings', 'PUT', {
    ...tally,
    sources: [
      {
        ...common,
        id: 'umd',
        name: 'Desk',
        kind: 'tsl31-udp',
        port: udp,
        program: 2,
        preview: 1,
        cameras: { 5: gallery.id },
      },
      {
        ...{
          ...common,
          id: 'five',
          name: 'Router',
          kind: 'tsl5-tcp',
          port: tcp,
          cameras: { '0.6': stage.id },
        },
        program: { lamp: 'any', colour: 'red' },
        preview: { lamp: 'any', colour: 'green' },
      },
    ],
  })
  // Nothing was heard of either: nothing is safe.
  expect([await tallyOf(1), await tallyOf(2), await tallyOf(3)]).toEqual(['unknown', 'unknown', 'off'])
  const page = await openDesk(browser, running, WIDE)
  await shows(page, 'camera-1', 'unknown')
  send(udp, 5, 0b10)
  for (const where of ['camera-1', 'stage-title', 'tile-1']) await shows(page, where, 'program')
  expect(await textOf(page, 'stage-title')).toMatch(/On air/)
  send(udp, 5, 0b01)
  await shows(page, 'stage-title', 'preview')
  send(udp, 5, 0)
  await eventually(
    'it is off',
    async () => (await page.$(`${by('stage-title')} ${by('tally-preview')}`)) === null,
  )
  const wire = connect(tcp, '127.0.0.1')
  await new Promise((resolve) => wire.once('connect', resolve))
  // In two pieces, as a connection may bring it.
  wire.write(umd5(6, 1).subarray(0, 5))
  await sleep(30)
  wire.write(umd5(6, 1).subarray(5))
  await shows(page, 'camera-2', 'program')
  await press(page, 'all-pictures')
  await shows(page, 'all-2', 'program')
  wire.destroy()
  await shows(page, 'all-2', 'unknown')
  await answer('/tally/settings', 'PUT', { ...tally, sources: own })
  const phone = await openDesk(browser, running, PHONE)
  await switcher('program?input=1')
  await shows(phone, 'camera-1', 'program')
}, 60_000)

test('an address is learnt by putting its camera on program; two sources at one port are refused', async () => {
  const { tally } = await desk()
  const port = free()
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await page.goto(`${running.address}/setup`)
  await page.waitForSelector(by('part-Tally'))
  await press(page, 'part-Tally')
  await press(page, 'tally-add')
  await page.waitForSelector(by('tally-port'))
  await fill(page, 'tally-port', String(port))
  await pressIn(page, 'tally-save')
  await page.waitForSelector(by('tally-edit-source-1'))
  send(port, 11, 0)
  send(port, 12, 0b10)
  await eventually('it is heard', async () =>
    /heard just now/.test(await textOf(page, 'tally-source-source-1')),
  )
  await press(page, 'tally-edit-source-1')
  await pressIn(page, 'tally-learn-2')
  await reads(page, 'tally-learning', /Put Stage left on program/)
  send(port, 12, 0)
  send(port, 11, 0b10)
  await eventually(
    'it is learnt',
    async () => (await page.$eval(by('tally-address-2'), (e) => (e as HTMLInputElement).value)) === '11',
  )
  await pressIn(page, 'tally-save')
  await eventually('it counts', async () => (await tallyOf(2)) === 'program')
  const twice = [...(await desk()).tally.sources, { ...tally.sources[0]!, id: 'again' }]
  expect((await ask('/tally/settings', 'PUT', { ...tally, sources: twice })).status).toBe(409)
  await answer('/tally/settings', 'PUT', tally)
}, 60_000)

/** Degrees per second that the head turns while the pad is held to its right edge. */
async function pushedSpeed(hands: Hands, id: string): Promise<number> {
  hands.hold(new Map([[id, { pan: 1, tilt: 0, zoom: 0 }]]))
  await sleep(900)
  const a = await running.truth()
  await sleep(500)
  const b = await running.truth()
  hands.release([id])
  await still(running)
  return (b.panDeg - a.panDeg) / 0.5
}

test('ease: the stick is held back, a recall takes its time, and both are said', async () => {
  const gallery = await camera('Gallery')
  const hands = await Hands.open(running.address)
  await answer(`/presets/${(await named('Curlews')).id}/recall`, 'POST', {})
  await still(running)
  const free = await pushedSpeed(hands, gallery.id)
  await switcher('program?input=1')
  await eventually('it is on air', async () => (await tallyOf(1)) === 'program')
  await sleep(2100)
  const eased = await pushedSpeed(hands, gallery.id)
  hands.close()
  expect(free).toBeGreaterThan(5)
  expect(eased).toBeGreaterThan(0.3)
  expect(eased).toBeLessThan(0.4 * free)
  await guard({ seconds: 3 })
  const page = await openDesk(browser, running, WIDE)
  const from = performance.now()
  await press(page, 'tile-1')
  await reads(page, 'note', /on air.*gently, in 3 s/)
  await page.waitForSelector(`${by('tile-1')} ${by('eased')}`)
  await eventually('it arrives', async () => (await textOf(page, 'tile-1')).includes('here'), 12_000)
  expect(performance.now() - from).toBeGreaterThan(2800)
}, 60_000)

test('ask: nothing happens until a key is held; refuse: nothing happens at all; a round and the API are guarded too', async () => {
  const host = await named('Host')
  const curlews = await named('Curlews')
  const page = await openDesk(browser, running, WIDE)
  await answer(`/presets/${curlews.id}/recall`, 'POST', {})
  await eventually('it is there', async () => (await textOf(page, `tile-${curlews.number}`)).includes('here'))
  const before = await still(running)
  await switcher('program?input=1')
  await eventually('it is on air', async () => (await tallyOf(1)) === 'program')
  await guard({ mode: 'ask' })
  await press(page, `tile-${host.number}`)
  await page.waitForSelector(by('guard-asks'))
  expect(await textOf(page, 'guard-asks')).toMatch(/Gallery is on air/)
  const api = await ask(`/presets/${host.id}/recall`, 'POST', {})
  expect([api.status, ((await api.json()) as { error: string }).error]).toEqual([
    409,
    expect.stringMatching(/on air/),
  ])
  // A press is not enough.
  await press(page, 'guard-hold')
  await sleep(900)
  expect((await running.truth()).panDeg).toBeCloseTo(before.panDeg, 3)
  const key = (await page.$(by('guard-hold')))!
  await key.hover()
  await page.mouse.down()
  await eventually('it goes', async () => Math.abs((await running.truth()).panDeg - before.panDeg) > 0.5)
  await page.mouse.up()
  const there = await still(running)
  await guard({ mode: 'refuse' })
  await press(page, 'tile-1')
  await reads(page, 'note', /moves are refused/)
  const gallery = await camera('Gallery')
  const round = await ask(`/cameras/${gallery.id}/round`, 'POST', { kind: 'pictures' })
  expect(round.status).toBe(409)
  const off = await answer<{ failed?: unknown }>('/cameras/power', 'POST', { on: false }).catch(() => null)
  void off
  expect((await running.truth()).power).toBe(true)
  expect((await running.truth()).panDeg).toBeCloseTo(there.panDeg, 3)
  await answer('/cameras/power', 'POST', { on: true })
  await sleep(1500)
}, 90_000)

test('a camera that comes on air in the middle of a quick move goes on gently from the speed that it has', async () => {
  const gallery = await camera('Gallery')
  await guard({ seconds: 5 })
  await answer(`/presets/${(await named('Bitterns')).id}/recall`, 'POST', {})
  await still(running)
  const goal = await named('Interval trio')
  const hands = await Hands.open(running.address)
  await eventually('nobody has it', async () => (await ask(`/presets/${goal.id}/recall`, 'POST', {})).ok)
  await eventually('it moves', async () => (await running.truth()).moving)
  await switcher('program?input=1')
  const from = performance.now()
  const speeds: number[] = []
  let last = { at: performance.now(), pan: (await running.truth()).panDeg }
  while (performance.now() - from < 3500) {
    await sleep(40)
    const now = { at: performance.now(), pan: (await running.truth()).panDeg }
    speeds.push(Math.abs((now.pan - last.pan) / ((now.at - last.at) / 1000)))
    last = now
  }
  // It is still on its way, slowly, where the quick move would long have ended.
  expect(Math.max(...speeds.slice(-20))).toBeLessThan(25)
  await eventually(
    'it arrives',
    async () => hands.facts('travel', gallery.id).at(-1)?.state === 'arrived',
    10_000,
  )
  expect(performance.now() - from).toBeGreaterThan(3500)
  const there = await still(running)
  expect(Math.abs(there.panDeg - goal.pose.panDeg)).toBeLessThan(0.1)
  hands.close()
}, 60_000)

test('a source that dies makes its cameras unknown, and they are guarded as if on air', async () => {
  await sleep(4000)
  await switcher('silent?on=1')
  await eventually('unknown', async () => (await tallyOf(1)) === 'unknown', 8000)
  const page = await openDesk(browser, running, WIDE)
  await shows(page, 'stage-title', 'unknown')
  expect(await textOf(page, 'stage-title')).toMatch(/On air\?/)
  await guard({ mode: 'refuse' })
  await press(page, 'tile-2')
  await reads(page, 'note', /perhaps on air/)
  await switcher('silent?on=0')
  await eventually('known again', async () => (await tallyOf(1)) === 'off')
}, 60_000)

test('off air, ready, cut: with two cameras, and a shot of the same name where its own camera is on air', async () => {
  await switcher('program?input=1')
  await eventually('it is on air', async () => (await tallyOf(1)) === 'program')
  const page = await openDesk(browser, running, PHONE)
  await press(page, 'on-air')
  await page.waitForSelector(by('on-air-view'))
  const before = await still(running)
  // Both Gallery and Stage left have the Bitterns; Gallery is on air.
  await press(page, 'tile-1-1')
  await pressNote(page, 'Use 2')
  await eventually('Stage left is on preview', async () => (await tallyOf(2)) === 'preview')
  await page.waitForSelector(by('next-ready'), { timeout: 15_000 })
  expect(await textOf(page, 'next-ready')).toMatch(/still, in focus, as stored/)
  await press(page, 'cut')
  await eventually(
    'the two have changed',
    async () => (await tallyOf(2)) === 'program' && (await tallyOf(1)) === 'preview',
  )
  // Nobody has seen the first one move.
  expect((await running.truth()).panDeg).toBeCloseTo(before.panDeg, 3)
  await press(page, 'fade')
  await eventually(
    'in a fade both are seen',
    async () => (await tallyOf(1)) === 'program' && (await tallyOf(2)) === 'program',
  )
  await eventually('it has faded', async () => (await tallyOf(2)) === 'preview')
}, 60_000)

test.each([
  ['on a phone', PHONE],
  ['on a wide screen', WIDE],
])('Preview and Cut for the selected camera stand on the Desk %s', async (_, size) => {
  const page = await openDesk(browser, running, size)
  await press(page, 'preview-camera')
  await shows(page, 'stage-title', 'preview')
  await press(page, 'cut-camera')
  await shows(page, 'stage-title', 'program')
  await reads(page, 'cut-camera', /On air/)
  if (size === WIDE) await page.waitForSelector(`${by('program-card')} ${by('thumb-live')}`)
  await switcher('program?input=8')
  await reads(page, 'cut-camera', /Cut/)
})

test('by hand, where there is no switcher; and by HTTP', async () => {
  const { tally } = await desk()
  await answer('/tally/settings', 'PUT', {
    ...tally,
    sources: [],
    byHand: true,
    switcher: { ...tally.switcher, enabled: false },
  })
  await answer('/tally/switcher/preview', 'POST', { camera: 4 })
  expect(await tallyOf(4)).toBe('preview')
  await answer('/tally/switcher/cut', 'POST', {})
  expect(await tallyOf(4)).toBe('program')
  await answer('/tally/switcher/preview', 'POST', { camera: 5 })
  await answer('/tally/switcher/cut', 'POST', {})
  expect([await tallyOf(4), await tallyOf(5)]).toEqual(['preview', 'program'])
  await answer('/tally/2', 'POST', { state: 'program' })
  expect([await tallyOf(2), await tallyOf(5)]).toEqual(['program', 'program'])
  await answer('/tally/2', 'POST', { state: null })
  expect(await tallyOf(2)).toBe('off')
  expect((await ask('/tally/77', 'POST', { state: 'off' })).status).toBe(404)
  await answer('/tally/settings', 'PUT', tally)
})

test('a followed move is stopped when the server is killed in the middle of it', async () => {
  await answer(`/presets/${(await named('Curlews')).id}/recall`, 'POST', {})
  await still(running)
  const goal = await named('Interval trio')
  await eventually(
    'nobody has it',
    async () =>
      (await ask(`/presets/${goal.id}/recall`, 'POST', { pace: { kind: 'timed', seconds: 20 } })).ok,
  )
  await sleep(7000)
  expect((await running.truth()).moving).toBe(true)
  process.kill(running.serverPid, 'SIGKILL')
  await sleep(600)
  const stands = await running.truth()
  await sleep(400)
  const later = await running.truth()
  expect([later.moving, later.panDeg - stands.panDeg, later.tiltDeg - stands.tiltDeg]).toEqual([false, 0, 0])
}, 60_000)
