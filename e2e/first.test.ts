/** The first evening: from nothing to a camera that moves; and what a page says when a part of the desk ends and comes back. */
import type { Browser, Page } from 'puppeteer-core'
import { apiOf, withApplication } from './application'
import {
  by,
  centre,
  eventually,
  fill,
  PHONE,
  press,
  pressIn,
  type Running,
  reads,
  sleep,
  still,
  textOf,
  WIDE,
} from './harness'

let running: Running
let browser: Browser
withApplication(
  (r, b) => {
    ;[running, browser] = [r, b]
  },
  { env: { HERON_EMPTY: '1' } },
)
const { desk, answer } = apiOf(() => running)

async function pageAt(viewport: typeof PHONE | typeof WIDE): Promise<Page> {
  const page = await browser.newPage()
  await page.setViewport(viewport)
  await page.goto(running.address)
  return page
}

async function push(page: Page): Promise<void> {
  const pad = await centre(page, 'pad')
  await page.mouse.move(pad.x, pad.y)
  await page.mouse.down()
  await page.mouse.move(pad.x + 45, pad.y, { steps: 4 })
  await eventually('the head moves', async () => (await running.truth()).moving)
}

test('from nothing to the first moving camera in three steps', async () => {
  const page = await pageAt(PHONE)
  await page.waitForSelector(by('venue-name'))
  await fill(page, 'venue-name', 'Village hall')
  await press(page, 'make-venue')
  await page.waitForSelector(by('step-1'))
  await pressIn(page, 'find-cameras')
  await fill(page, 'find-range', `${running.net}.11`)
  await pressIn(page, 'start-search')
  // What is found meanwhile moves those below it.
  await reads(page, 'search-state', /\d found\.$/, 30_000)
  await pressIn(page, 'choose-visca-udp')
  await fill(page, 'camera-name', 'Gallery')
  await pressIn(page, 'save-camera')
  await page.waitForSelector(by('first-health'), { timeout: 20_000 })
  await reads(page, 'step-2', /ready/, 15_000)
  const pad = await page.waitForSelector(by('pad'))
  await pad!.scrollIntoView()
  expect(await textOf(page, 'step-3')).toMatch(/Push the pad/)
  await push(page)
  await sleep(400)
  await page.mouse.up()
  await still(running)
  await reads(page, 'step-3', /It moves/)
  await pressIn(page, 'open-desk')
  await page.waitForSelector(by('stage'))
  expect((await desk()).cameras.map((c) => c.name)).toEqual(['Gallery'])
}, 90_000)

test('the demo is added beside it in Setup, and removed again; what is ours stays', async () => {
  const page = await pageAt(WIDE)
  await page.goto(`${running.address}/setup`)
  await press(page, 'part-Venues')
  await pressIn(page, 'add-demo')
  await page.waitForSelector(by('remove-demo'), { timeout: 10_000 })
  expect((await desk()).cameras).toHaveLength(6)
  await pressIn(page, 'remove-demo')
  await press(page, 'delete-for-good')
  await page.waitForSelector(by('add-demo'), { timeout: 10_000 })
  expect((await desk()).venues.map((v) => v.name)).toEqual(['Village hall'])
}, 60_000)

test('the server killed under a hand: the page is back within three seconds and says what was interrupted', async () => {
  const page = await pageAt(WIDE)
  await page.waitForSelector(by('framing'), { timeout: 20_000 })
  await push(page)
  const restarted = running.restart('SIGKILL').then(() => Date.now())
  await page.waitForSelector(by('disconnected'), { timeout: 6000 })
  const upAt = await restarted
  await eventually('connected again', async () => (await page.$(by('disconnected'))) === null, 10_000)
  expect(Date.now() - upAt).toBeLessThan(3000)
  await reads(page, 'note', /restarted.*Gallery/)
  await page.mouse.up()
  await still(running)
}, 60_000)

test('the guardian killed: every page says so until it is back', async () => {
  const page = await pageAt(PHONE)
  await page.waitForSelector(by('stage'), { timeout: 20_000 })
  expect(await answer('/health')).toMatchObject({ guardian: true })
  process.kill((await running.pids()).guardian!, 'SIGKILL')
  await page.waitForSelector(by('unguarded'))
  await eventually('it is back', async () => (await page.$(by('unguarded'))) === null, 10_000)
  expect(await answer('/health')).toMatchObject({ guardian: true })
}, 40_000)
