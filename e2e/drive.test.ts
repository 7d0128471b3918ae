/** Driving in a real browser: devices, keys, the picture itself, and two people at one camera. */
import type { Browser, Page } from 'puppeteer-core'
import { apiOf, withApplication } from './application'
import {
  by,
  centre,
  eventually,
  openDesk,
  press,
  pressIn,
  type Running,
  reads,
  sleep,
  still,
  textOf,
  WIDE,
} from './harness'
import { axis, button, type Pad, withPads } from './pads'

let running: Running
let browser: Browser

withApplication((r, b) => {
  ;[running, browser] = [r, b]
})

async function openWith(path: string, pads: Pad[]): Promise<Page> {
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await withPads(page, pads)
  await page.goto(running.address + path)
  return page
}

const STICK: Pad = { id: 'Reed Stick (Vendor: 00aa Product: 0001)', axes: [0, 0, 0.3, 0], buttons: 4 }
const OTHER: Pad = { id: 'Sedge Stick (Vendor: 00aa Product: 0002)', axes: [0, 0, 0, 0], buttons: 2 }
const { desk } = apiOf(() => running)

test('a device is taught by moving it, its range is measured, a button is given a meaning; then it drives', async () => {
  const page = await openWith('/setup', [STICK])
  await press(page, 'part-Controls')
  await page.waitForSelector(by('device'))
  // Pan on the third axis, which rests away from its middle and does not reach its ends.
  await pressIn(page, 'teach-pan')
  await page.waitForSelector(by('teach-how'))
  const before = await running.truth()
  await sleep(150)
  await axis(page, 0, 2, 0.95)
  await page.waitForSelector(by('range-pan'))
  await eventually('learnt', async () => (await page.$(by('teach-how'))) === null)
  await axis(page, 0, 2, 0.3)
  // What is moved to teach it drives nothing.
  expect((await still(running)).panDeg).toBe(before.panDeg)
  await pressIn(page, 'range-pan')
  await sleep(150)
  for (const value of [0.95, 0.6, -0.5, 0.3]) {
    await axis(page, 0, 2, value)
    await sleep(120)
  }
  await pressIn(page, 'range-done-pan')
  await axis(page, 0, 2, -0.5)
  await eventually('full at its measured end', () =>
    page.$eval(by('axis-pan'), (e) => /-100/.test(e.getAttribute('aria-label') ?? '')),
  )
  await axis(page, 0, 2, 0.3)
  await pressIn(page, 'button-action-store')
  await pressIn(page, 'teach-button')
  await sleep(150)
  await button(page, 0, 3, true)
  await eventually('the button is learnt', async () => /Button 4: Store/.test(await textOf(page, 'device')))
  await button(page, 0, 3, false)
  await sleep(800)
  await page.close()

  const again = await openWith('/', [STICK])
  await again.waitForSelector(by('framing'))
  const from = await still(running)
  await axis(again, 0, 2, 0.9)
  await eventually('it drives to the right', async () => (await running.truth()).panDeg > from.panDeg + 1)
  await axis(again, 0, 2, 0.3)
  await still(running)
  const count = (await desk()).presets.length
  await button(again, 0, 3, true)
  await eventually('its button stores', async () => (await desk()).presets.length === count + 1)
  await button(again, 0, 3, false)
}, 60_000)

test('pulled out in mid-drive, the head stands within 400 ms; so it does when the window loses the focus', async () => {
  const page = await openWith('/', [OTHER])
  await page.waitForSelector(by('framing'))
  for (const end of [
    () => page.evaluate(() => window.dispatchEvent(new Event('blur'))),
    () => page.evaluate(() => (window as unknown as { __unplug(p: number): void }).__unplug(0)),
  ]) {
    const from = await still(running)
    await axis(page, 0, 0, from.panDeg > 0 ? -1 : 1)
    await eventually('the head moves', async () => (await running.truth()).moving)
    await sleep(300)
    // The browser's own window is still there: the stick is let go before it is looked at again.
    if (end.toString().includes('blur')) await axis(page, 0, 0, 0)
    await end()
    await sleep(400)
    const a = await running.truth()
    await sleep(150)
    expect([a.moving, (await running.truth()).panDeg - a.panDeg]).toEqual([false, 0])
  }
}, 40_000)

test('two devices on two cameras: each drives its own, and neither the other', async () => {
  const setup = await openWith('/setup', [STICK, OTHER])
  await press(setup, 'part-Controls')
  await setup.waitForSelector(by('device'))
  await pressIn(setup, `device-choice-${OTHER.id}`)
  const third = (await desk()).cameras.find((c) => c.number === 3)!
  await pressIn(setup, `device-camera-${third.id}`)
  await sleep(900)
  await setup.close()
  const page = await openWith('/', [STICK, OTHER])
  await page.waitForSelector(by('framing'))
  const [gallery, lectern] = [await still(running), await still(running, 'lectern')]
  await axis(page, 1, 0, 1)
  await eventually(
    'the lectern moves',
    async () => (await running.truth('lectern')).panDeg > lectern.panDeg + 1,
  )
  expect((await running.truth()).panDeg).toBe(gallery.panDeg)
  await axis(page, 0, 2, -0.4)
  await eventually('the gallery too', async () => (await running.truth()).panDeg < gallery.panDeg - 1)
  await axis(page, 0, 2, 0.3)
  await axis(page, 1, 0, 0)
  await still(running)
  await still(running, 'lectern')
}, 40_000)

test('a key is changed, a conflict is told, nothing fires while typing, and the sheet shows the keys as they are', async () => {
  const page = await openWith('/setup', [])
  await press(page, 'part-Controls')
  await page.waitForSelector(by('no-devices'))
  await pressIn(page, 'bind-home')
  await page.keyboard.press(';')
  await reads(page, 'bind-home', /;/)
  await pressIn(page, 'bind-aim')
  await page.keyboard.press(';')
  await reads(page, 'conflict-home', /Aim/)
  await pressIn(page, 'usual-aim')
  await eventually('no conflict', async () => (await page.$(by('conflict-home'))) === null)
  await sleep(800)
  await page.goto(running.address)
  await page.waitForSelector(by('framing'))
  await page.keyboard.press('ArrowRight', { delay: 300 })
  const away = await still(running)
  // The former key means nothing now; while a name is typed the new one means nothing either.
  await page.keyboard.press('h')
  await press(page, 'change-presets')
  await press(page, 'tile-2')
  await page.waitForSelector(by('preset-name'))
  await page.focus(by('preset-name'))
  await page.keyboard.type(';?sgb')
  expect((await still(running)).panDeg).toBe(away.panDeg)
  await page.keyboard.press('Escape')
  await press(page, 'change-presets')
  await page.keyboard.press('?')
  await reads(page, 'key-sheet', /;\s*Home/)
  await page.keyboard.press(';')
  expect((await running.truth()).panDeg).toBe(away.panDeg)
  await page.keyboard.press('Escape')
  await eventually('the sheet is closed', async () => (await page.$(by('key-sheet'))) === null)
  await page.keyboard.press(';')
  await eventually('home', async () => Math.abs((await running.truth()).panDeg) < 0.1)
  // Held with slow, the same key goes slower.
  const run = async (slow: boolean) => {
    const from = await still(running)
    if (slow) await page.keyboard.down('Shift')
    await page.keyboard.press('ArrowRight', { delay: 500 })
    if (slow) await page.keyboard.up('Shift')
    return (await still(running)).panDeg - from.panDeg
  }
  const [usual, slow] = [await run(false), await run(true)]
  expect(slow).toBeGreaterThan(0)
  expect(slow).toBeLessThan(0.6 * usual)
}, 60_000)

test('the picture itself: aim, a drawn frame, the wheel, a drag that follows the hand, guides', async () => {
  const page = await openDesk(browser, running, WIDE)
  await page.keyboard.press(';')
  await eventually('home', async () => Math.abs((await running.truth()).panDeg) < 0.1)
  await page.waitForFunction(() => true)
  await sleep(600)
  const from = await still(running)
  const stage = await centre(page, 'picture-tools')
  await page.keyboard.press('a')
  await reads(page, 'tool-how', /middle/)
  await page.mouse.click(stage.x + 150, stage.y)
  await eventually('it turns there', async () => (await running.truth()).panDeg > from.panDeg + 8)
  const aimed = await still(running)
  await sleep(400)
  await page.keyboard.press('b')
  await page.mouse.move(stage.x - 80, stage.y - 45)
  await page.mouse.down()
  await page.mouse.move(stage.x + 80, stage.y + 45, { steps: 5 })
  await page.mouse.up()
  await eventually('it zooms in', async () => (await running.truth()).hfovDeg < aimed.hfovDeg * 0.4)
  const framed = await still(running)
  await sleep(400)
  await page.mouse.move(stage.x, stage.y)
  await page.mouse.wheel({ deltaY: 300 })
  await eventually('the wheel zooms out', async () => (await running.truth()).hfovDeg > framed.hfovDeg * 1.2)
  await still(running)
  await sleep(400)
  await page.keyboard.press('d')
  const before = await still(running)
  await page.mouse.move(stage.x, stage.y)
  await page.mouse.down()
  for (let i = 1; i <= 20; i++) {
    await page.mouse.move(stage.x - 6 * i, stage.y)
    await sleep(25)
  }
  await sleep(200)
  await page.mouse.up()
  const share =
    120 / (stage.x - (await page.$eval(by('picture-tools'), (e) => e.getBoundingClientRect().left)))
  const expected = (Math.atan(share * Math.tan((before.hfovDeg * Math.PI) / 360)) * 180) / Math.PI
  // What the hand left off by a little is made good after it has let go.
  await eventually('the picture is where the hand left it', async () => {
    const dragged = await still(running)
    return Math.abs(dragged.panDeg - before.panDeg - expected) < 0.05 * before.hfovDeg
  })
  await page.keyboard.press('Escape')
  await eventually('back to storing', async () => (await page.$(by('tool-how'))) === null)
  await page.keyboard.press('v')
  await page.waitForSelector(by('guides'))
  await page.keyboard.press('v')
  await eventually('guides away', async () => (await page.$(by('guides'))) === null)
}, 60_000)

test('manual focus: the sharpness falls when the focus is driven off, and peaks again', async () => {
  const page = await openDesk(browser, running, WIDE)
  // Zoomed in, where the depth of field is small.
  await page.keyboard.press('8')
  await still(running)
  await page.keyboard.press('PageUp', { delay: 1500 })
  await still(running)
  await sleep(1500)
  await page.keyboard.press('f')
  await page.waitForSelector(by('sharpness'))
  const sharpness = async () => {
    const label = await page.$eval(by('sharpness'), (e) => e.getAttribute('aria-label') ?? '')
    return Number(/\d+/.exec(label)?.[0])
  }
  await eventually('sharp', async () => (await sharpness()) > 85)
  await page.keyboard.press(',', { delay: 1200 })
  await eventually('it falls', async () => (await sharpness()) < 75)
  await page.keyboard.press('f')
  await eventually('auto again', async () => (await running.truth()).focusMode === 'auto')
}, 40_000)

test('two people, one camera: the second sees who drives and waits, or takes it over', async () => {
  const first = await openDesk(browser, running, WIDE)
  const second = await (await browser.createBrowserContext()).newPage()
  await second.setViewport(WIDE)
  await second.goto(running.address)
  await second.waitForSelector(by('framing'))
  const pad = await centre(first, 'pad')
  await first.bringToFront()
  await first.mouse.move(pad.x, pad.y)
  await first.mouse.down()
  await first.mouse.move(pad.x + 60, pad.y, { steps: 3 })
  await eventually('the head moves', async () => (await running.truth()).moving)
  await reads(second, 'claim', /Operator drives this camera/)
  const key = (type: 'keydown' | 'keyup') =>
    second.evaluate(
      (t) =>
        window.dispatchEvent(new KeyboardEvent(t, { key: 'ArrowLeft', code: 'ArrowLeft', bubbles: true })),
      type,
    )
  const at = await running.truth()
  await key('keydown')
  await sleep(300)
  expect((await running.truth()).panDeg).toBeGreaterThan(at.panDeg)
  await key('keyup')
  await second.evaluate(() => (document.querySelector('[data-testid="take-over"]') as HTMLElement).click())
  await eventually('the first has lost it', async () => !(await running.truth()).moving)
  await reads(first, 'claim', /drives this camera/)
  const taken = await running.truth()
  await key('keydown')
  await eventually('the second drives', async () => (await running.truth()).panDeg < taken.panDeg - 0.5)
  await key('keyup')
  await first.mouse.up()
  await eventually('free again after two seconds', async () => (await first.$(by('claim'))) === null, 4000)
  await second.close()
}, 40_000)
