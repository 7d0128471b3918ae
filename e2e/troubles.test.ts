/** Cameras in trouble: each says what is wrong, comes back by itself, and slows none of the others. */
import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import type { Browser, Page } from 'puppeteer-core'
import { apiOf, withApplication } from './application'
import {
  by,
  eventually,
  openDesk,
  press,
  type Running,
  type StandInId,
  sleep,
  still,
  textOf,
  WIDE,
} from './harness'

let running: Running
let browser: Browser
let page: Page

withApplication(
  async (r, b) => {
    ;[running, browser] = [r, b]
    page = await openDesk(browser, running, WIDE)
  },
  { keepPages: true },
)

const { ask, desk, named } = apiOf(() => running)
const link = () => textOf(page, 'link')
const select = async (number: number) => {
  await press(page, `camera-${number}`)
  await eventually(`camera ${number} is chosen`, async () =>
    (await textOf(page, 'stage-title')).startsWith(String(number)),
  )
}
const ready = (withinMs = 12_000) => eventually('ready', async () => /ready/.test(await link()), withinMs)

/** The gallery's camera follows the keys while something else is wrong. */
async function galleryDrives(): Promise<void> {
  await select(1)
  await ready()
  const before = await running.truth()
  const key = before.panDeg > 0 ? 'ArrowLeft' : 'ArrowRight'
  await page.keyboard.down(key)
  await eventually(
    'the gallery moves at once',
    async () => Math.abs((await running.truth()).panDeg - before.panDeg) > 0.5,
    600,
  )
  await page.keyboard.up(key)
  await still(running)
}

const recall = async (camera: string, name: string) =>
  ask(`/presets/${(await named(name, camera)).id}/recall`, 'POST')

test.each([
  [2, 'stage-left', { mute: true }],
  [5, 'benches', { mute: true }],
  [6, 'scoreboard', { mute: true }],
] as const)(
  'camera %i half open or mute: told as silent, others go on, back by itself',
  async (number, id, faults) => {
    await select(number)
    await ready()
    await running.faults(faults, id as StandInId)
    await eventually('silent is told', async () => /silent/.test(await link()), 9000)
    await eventually('with what to try', async () =>
      /cable|power|network/i.test(await textOf(page, 'advice')),
    )
    await galleryDrives()
    await running.faults({}, id as StandInId)
    await select(number)
    await ready()
    await page.waitForSelector(by('framing'))
  },
  60_000,
)

test('a camera that reboots stands elsewhere: its pose is read again without a touch', async () => {
  expect((await recall('Stage left', 'Bitterns')).status).toBe(200)
  await still(running, 'stage-left')
  await select(2)
  await running.faults({ rebootMs: 3500 }, 'stage-left')
  await eventually('lost', async () => !/ready/.test(await link()), 9000)
  await ready(15_000)
  expect((await running.truth('stage-left')).panDeg).toBe(0)
  await eventually('it stands wide again', async () => /^1\.0×/.test(await textOf(page, 'framing')))
}, 60_000)

test('the serial adapter is pulled out and put back: said, refused, recovered', async () => {
  await select(3)
  await ready()
  await running.faults({ unplugged: true }, 'lectern')
  await eventually(
    'the advice names the port',
    async () => /serial port/.test(await textOf(page, 'advice')),
    9000,
  )
  const refused = await recall('Lectern', 'Host, close')
  expect(refused.status).toBe(409)
  await galleryDrives()
  const before = await running.truth('lectern')
  await running.faults({}, 'lectern')
  await select(3)
  await ready(15_000)
  // What was refused does not fire later.
  expect((await running.truth('lectern')).panDeg).toBe(before.panDeg)
  expect((await recall('Lectern', 'Host, close')).status).toBe(200)
}, 60_000)

test('noise on the serial line: the camera stays usable', async () => {
  await running.faults({ garbageRate: 0.01, seed: 8 }, 'trio')
  await select(4)
  await ready()
  const before = await running.truth('trio')
  await page.keyboard.down('ArrowLeft')
  await sleep(800)
  await page.keyboard.up('ArrowLeft')
  await still(running, 'trio')
  expect((await running.truth('trio')).panDeg).not.toBe(before.panDeg)
  await running.faults({}, 'trio')
}, 30_000)

test('a camera that acknowledges and never completes: the tile is judged by where it stands', async () => {
  await running.faults({ neverComplete: true })
  await select(1)
  await ready()
  const view = await desk()
  const preset = view.presets.find((p) => p.name === 'Godwits' && p.cameraId === view.cameras[0]!.id)!
  await press(page, `tile-${preset.number}`)
  await eventually(
    'here all the same',
    async () => /here/.test(await textOf(page, `tile-${preset.number}`)),
    10_000,
  )
  await running.faults({})
})

test('two of the list on one address: the second is told whose it is', async () => {
  const [first] = (await desk()).cameras
  const answer = await fetch(`${running.address}/api/cameras/try`, {
    method: 'POST',
    headers: { 'x-steady-heron': '1', 'content-type': 'application/json' },
    body: JSON.stringify({ connection: first!.connection }),
  })
  expect(await answer.json()).toMatchObject({ ok: false, problem: { code: 'taken' } })
})

/** The process ids of what decodes the benches' video. */
const decoders = (): string[] => {
  try {
    const found = execFileSync('pgrep', ['-P', String(running.serverPid), 'ffmpeg'], { encoding: 'utf8' })
    return found.trim().split('\n')
  } catch {
    return []
  }
}

test('video: one decoder while somebody looks, a new one when it stalls, none when nobody does', async () => {
  await select(5)
  await page.waitForSelector(by('is-live'), { timeout: 30_000 })
  const first = decoders()
  expect(first).toHaveLength(1)
  // What stands in its arguments can be read by everybody on this computer.
  expect(readFileSync(`/proc/${first[0]}/cmdline`, 'utf8')).not.toMatch(/reed-warbler|operator/)
  await running.faults({ videoStalls: true }, 'benches')
  await page.waitForSelector(by('not-live'), { timeout: 12_000 })
  await eventually('the stalled one is ended', async () => decoders()[0] !== first[0], 15_000)
  await running.faults({}, 'benches')
  // The last pictures of the one that was ended may still come.
  const live = async () => (await page.$(by('is-live'))) !== null && decoders().length === 1
  await eventually('live again, by one decoder', live, 45_000)
  await page.goto('about:blank')
  await eventually('nobody looks, nothing is decoded', async () => decoders().length === 0, 15_000)
}, 120_000)
