/** What must never happen: a camera that keeps moving, and a screen that says what is not so. */
import type { Browser, Page } from 'puppeteer-core'
import { withApplication } from './application'
import {
  by,
  centre,
  eventually,
  openDesk,
  PHONE,
  press,
  type Running,
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
afterEach(async () => {
  await running.faults({})
  await still(running)
})

async function holdPad(page: Page, toX = -70): Promise<void> {
  const pad = await centre(page, 'pad')
  await page.mouse.move(pad.x, pad.y)
  await page.mouse.down()
  await page.mouse.move(pad.x + toX, pad.y + 10, { steps: 4 })
  await eventually('the head moves', async () => (await running.truth()).moving)
}

/** The head must stand still this long after the moment now. */
async function stillWithin(ms: number): Promise<void> {
  await sleep(ms)
  const a = await running.truth()
  await sleep(200)
  const b = await running.truth()
  expect([a.moving, b.panDeg - a.panDeg, b.tiltDeg - a.tiltDeg]).toEqual([false, 0, 0])
}

test('closing the page in mid-drive stops the camera', async () => {
  const page = await openDesk(browser, running, WIDE)
  await holdPad(page)
  await page.close({ runBeforeUnload: false })
  await stillWithin(600)
})

test.each([3, 4, 5])('the same on a network that loses a fifth of all packets, seed %i', async (seed) => {
  const page = await openDesk(browser, running, WIDE)
  await running.faults({ dropRate: 0.2, seed })
  await holdPad(page, seed % 2 ? -70 : 70)
  await page.close({ runBeforeUnload: false })
  await stillWithin(600)
})

test('a page whose program hangs in mid-drive: the server stops the camera by itself', async () => {
  const page = await openDesk(browser, running, WIDE)
  await holdPad(page, 70)
  void page
    .evaluate(() => {
      const end = Date.now() + 2500
      while (Date.now() < end);
    })
    .catch(() => {})
  await stillWithin(700)
})

test('hiding the page in mid-drive stops the camera', async () => {
  const page = await openDesk(browser, running, WIDE)
  await holdPad(page)
  await page.evaluate(() => {
    Object.defineProperty(document, 'hidden', { value: true })
    document.dispatchEvent(new Event('visibilitychange'))
  })
  await stillWithin(600)
})

test('a camera that falls silent: said in words, the picture marked, a recall refused, and back by itself', async () => {
  const page = await openDesk(browser, running, WIDE)
  await running.faults({ mute: true })
  await page.waitForSelector(by('not-live'), { timeout: 6000 })
  await eventually('the advice is there', async () => /cable/.test(await textOf(page, 'advice')), 6000)
  expect(await textOf(page, 'health')).toContain('silent')
  expect(await page.$(by('framing'))).toBeNull()
  const before = await running.truth()
  await press(page, 'tile-2')
  await eventually('the refusal is told', async () => /does not answer/.test(await textOf(page, 'note')))
  await running.faults({})
  await page.waitForSelector(by('is-live'), { timeout: 8000 })
  await eventually('ready again', async () => (await textOf(page, 'health')).includes('ready'))
  // The recall that was refused does not fire now.
  await sleep(500)
  expect((await running.truth()).panDeg).toBe(before.panDeg)
})

test('a server that goes away: the page says so and comes back', async () => {
  const page = await openDesk(browser, running, PHONE)
  const places = () =>
    page.$$eval('[data-testid^="tile-"], [data-testid="pad"]', (all) =>
      all.map((e) => e.getBoundingClientRect().top),
    )
  const before = await places()
  const restarted = running.restart('SIGKILL')
  await page.waitForSelector(by('disconnected'), { timeout: 6000 })
  await page.waitForSelector(by('advice'))
  expect(await textOf(page, 'stage')).toMatch(/not known/)
  // Nothing moves under a thumb.
  expect(await places()).toEqual(before)
  await restarted
  await eventually('connected again', async () => (await page.$(by('disconnected'))) === null)
  await page.waitForSelector(by('is-live'), { timeout: 8000 })
})

test('a page from elsewhere gets no socket', async () => {
  const answer = await browser.newPage().then(async (page) => {
    await page.goto('data:text/html,<p>elsewhere</p>')
    return page.evaluate(
      (url) =>
        new Promise((resolve) => {
          const socket = new WebSocket(url)
          socket.onopen = () => resolve('open')
          socket.onerror = () => resolve('refused')
        }),
      `${running.address.replace('http', 'ws')}/live`,
    )
  })
  expect(answer).toBe('refused')
})
