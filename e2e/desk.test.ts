/** The whole job on the Desk: drive, store, name, recall, overwrite, delete, undo. */
import type { Browser, Page } from 'puppeteer-core'
import type { Stored } from '../src/server/api'
import { apiOf, withApplication } from './application'
import {
  by,
  centre,
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
  tap,
  tileText,
  WIDE,
} from './harness'

let running: Running
let browser: Browser

withApplication((r, b) => {
  ;[running, browser] = [r, b]
})

const { answer, camera } = apiOf(() => running)

interface Finger {
  x: number
  y: number
  id: number
}

async function touch(page: Page) {
  const session = await page.createCDPSession()
  return (type: 'touchStart' | 'touchMove' | 'touchEnd', fingers: Finger[]) =>
    session.send('Input.dispatchTouchEvent', { type, touchPoints: fingers })
}

test('a live picture is there before the rest of the page, and makes way for the Desk', async () => {
  const page = await browser.newPage()
  await page.setViewport(PHONE)
  await page.setRequestInterception(true)
  let release = () => {}
  const held = new Promise<void>((resolve) => {
    release = resolve
  })
  page.on('request', (request) => {
    if (/\/entry-/.test(request.url())) void held.then(() => request.continue())
    else void request.continue()
  })
  const opened = page.goto(running.address)
  await eventually('a picture is there', () =>
    page.$('#first-picture:not([hidden])').then(Boolean, () => false),
  )
  release()
  await opened
  await page.waitForSelector(by('is-live'))
  expect(await page.$('#first-picture')).toBeNull()
}, 30_000)

test('two thumbs on a phone: pad and strip at once, a slip off the pad, and both spring back', async () => {
  const page = await openDesk(browser, running, PHONE)
  const before = await still(running)
  const [pad, strip] = [await centre(page, 'pad'), await centre(page, 'zoom-strip')]
  const dispatch = await touch(page)
  await dispatch('touchStart', [{ ...pad, id: 1 }])
  await dispatch('touchMove', [{ x: pad.x + 70, y: pad.y, id: 1 }])
  await dispatch('touchStart', [
    { x: pad.x + 70, y: pad.y, id: 1 },
    { x: strip.x, y: strip.y - 60, id: 2 },
  ])
  await eventually('both thumbs drive', async () => {
    const during = await running.truth()
    return during.panDeg > before.panDeg + 4 && during.zoomPos > before.zoomPos + 500
  })
  // The finger slips off the pad, up over the picture, and is let go there.
  await dispatch('touchMove', [
    { x: pad.x + 70, y: 100, id: 1 },
    { x: strip.x, y: strip.y - 60, id: 2 },
  ])
  await eventually(
    'the slipped thumb still drives',
    async () => (await running.truth()).tiltDeg > before.tiltDeg + 0.5,
  )
  await dispatch('touchEnd', [])
  await sleep(600)
  expect((await running.truth()).moving).toBe(false)
  expect(await page.$(by('preset-sheet'))).toBeNull()
})

test('store, name, drive away, recall; after a restart of the server all is there', async () => {
  const page = await openDesk(browser, running, WIDE)
  const stored = await still(running)
  await press(page, 'store')
  await pressNote(page, 'Name')
  await page.waitForSelector(by('preset-name'))
  await eventually('the name field has the focus', () =>
    page.$eval(by('preset-name'), (e) => document.activeElement === e),
  )
  // Keys that mean something on the Desk mean nothing here.
  await page.keyboard.type('Sf 3 singers')
  await page.keyboard.press('Enter')
  await eventually('the tile has its name', async () => (await tileText(page, 12)).includes('Sf 3 singers'))
  expect(await still(running)).toMatchObject({ panDeg: stored.panDeg, focusMode: 'auto' })
  expect(await tileText(page, 12)).toContain('here')
  expect(await page.$(by('tile-13'))).toBeNull()

  await page.keyboard.down('ArrowLeft')
  await page.keyboard.down('PageDown')
  await sleep(900)
  await page.keyboard.up('ArrowLeft')
  await page.keyboard.up('PageDown')
  const away = await still(running)
  expect(Math.abs(away.panDeg - stored.panDeg)).toBeGreaterThan(5)
  expect(await tileText(page, 12)).not.toContain('here')

  await press(page, 'tile-12')
  await eventually(
    'the tile says that it travels',
    async () => /\d\.\d s/.test(await tileText(page, 12)),
    2000,
  )
  await eventually('the tile says that it is here', async () => (await tileText(page, 12)).includes('here'))
  const back = await still(running)
  expect(Math.abs(back.panDeg - stored.panDeg)).toBeLessThan(0.1)
  expect(Math.abs(back.tiltDeg - stored.tiltDeg)).toBeLessThan(0.1)
  expect(Math.abs(back.zoomPos - stored.zoomPos)).toBeLessThan(0.005 * 16384)

  await page.keyboard.down('ArrowUp')
  await sleep(400)
  await page.keyboard.up('ArrowUp')
  await eventually('the tile says by how much it is off', async () =>
    /moved off \d/.test(await tileText(page, 12)),
  )

  await running.restart('SIGKILL')
  await page.reload()
  await eventually('the preset is still there', async () =>
    (await tileText(page, 12)).includes('Sf 3 singers'),
  )
  await eventually('and its picture is', () =>
    page
      .$eval(`${by('tile-12')} img`, (img) => (img as HTMLImageElement).naturalWidth === 640)
      .catch(() => false),
  )
})

test('drag the picture onto the empty tile stores; onto a tile stores over, and can be undone', async () => {
  const page = await openDesk(browser, running, WIDE)
  const drag = async (to: string) => {
    const from = await centre(page, 'stage')
    const target = await centre(page, to)
    await page.mouse.move(from.x, from.y)
    await page.mouse.down()
    await page.mouse.move(from.x + 30, from.y + 20, { steps: 3 })
    await page.mouse.move(target.x, target.y, { steps: 12 })
    await sleep(100)
    await page.mouse.up()
  }
  const pictureOf = (tile: number) =>
    page.$eval(`${by(`tile-${tile}`)} img`, (i) => (i as HTMLImageElement).src)
  await drag('tile-new')
  await page.waitForSelector(by('tile-13'))
  await eventually('the new tile has its picture', () =>
    pictureOf(13).then(
      () => true,
      () => false,
    ),
  )

  await still(running)
  const before = await pictureOf(2)
  await drag('tile-2')
  await eventually('tile 2 has taken the picture', async () => (await pictureOf(2)) !== before)
  await pressNote(page, 'Undo')
  await eventually('tile 2 has its own picture again', async () => (await pictureOf(2)) === before)

  // A drag let go beside the tiles stores nothing.
  const count = (await page.$$('[data-testid^="tile-"]')).length
  const from = await centre(page, 'stage')
  await page.mouse.move(from.x, from.y)
  await page.mouse.down()
  await page.mouse.move(60, 700, { steps: 8 })
  await page.mouse.up()
  await sleep(400)
  expect((await page.$$('[data-testid^="tile-"]')).length).toBe(count)
})

test('delete with undo; store over from the sheet', async () => {
  const page = await openDesk(browser, running, WIDE)
  await press(page, 'change-presets')
  await tap(page, 'tile-13')
  await page.waitForSelector(by('preset-sheet'))
  await press(page, 'delete-preset')
  await eventually('the tile is gone', async () => (await page.$(by('tile-13'))) === null)
  await pressNote(page, 'Undo')
  await page.waitForSelector(by('tile-13'))
  const before = await page.$eval(`${by('tile-13')} img`, (i) => (i as HTMLImageElement).src)
  await tap(page, 'tile-13')
  await page.waitForSelector(by('preset-sheet'))
  await press(page, 'store-over')
  await eventually('a new picture', () =>
    page.$eval(`${by('tile-13')} img`, (i, old) => (i as HTMLImageElement).src !== old, before),
  )
})

test('digits recall, F switches autofocus, near and far move the focus', async () => {
  const page = await openDesk(browser, running, WIDE)
  await page.keyboard.type('8')
  await eventually('the scoreboard is reached', async () => (await tileText(page, 8)).includes('here'))
  await page.keyboard.type('1')
  await eventually('1 waits, since it could be 10', async () => (await page.$(by('typed'))) !== null, 800)
  await page.keyboard.type('0')
  await eventually('the trio is reached', async () => (await tileText(page, 10)).includes('here'))
  await page.keyboard.press('f')
  await eventually('manual', async () => (await running.truth()).focusMode === 'manual')
  await eventually('near can be pressed', () =>
    page.$eval(by('focus-near'), (e) => e.getAttribute('aria-disabled') !== 'true'),
  )
  const { id: cameraId } = await camera()
  const focusNow = async () => (await answer<Stored>('/presets', 'POST', { cameraId })).preset.pose!.focus!
  const before = await focusNow()
  const near = await centre(page, 'focus-near')
  await page.mouse.move(near.x, near.y)
  await page.mouse.down()
  await sleep(500)
  await page.mouse.up()
  await sleep(900)
  const nearer = await focusNow()
  expect(nearer).toBeGreaterThan(before + 300)
  expect(await focusNow()).toBe(nearer)
  await page.keyboard.press('f')
  await eventually('auto', async () => (await running.truth()).focusMode === 'auto')
})

test('a tick of the pan scale recalls its preset', async () => {
  const page = await openDesk(browser, running, WIDE)
  await page.keyboard.type('8')
  await eventually('at the scoreboard', async () => (await tileText(page, 8)).includes('here'))
  const tick = await page.$eval(by('pan-scale'), (scale) => {
    // All ticks are one path: half a tick from its left end is the tip of the first.
    const boxes = [...scale.querySelectorAll('path')].map((p) => p.getBoundingClientRect())
    const box = boxes.sort((a, b) => a.left - b.left)[0]!
    return { x: box.left + 5, y: box.top + 4 }
  })
  await page.mouse.click(tick.x, tick.y)
  await eventually('the leftmost preset is reached', async () => (await still(running)).panDeg < -30)
})

test('what an order in a sheet came to is told in that sheet, a refusal too', async () => {
  const page = await openDesk(browser, running, PHONE)
  await pressIn(page, 'more')
  await fill(page, 'memory-number', '9')
  await pressIn(page, 'memory-recall')
  await reads(page, 'notes-here', /Nothing may be stored in it yet/)
  await pressIn(page, 'memory-set')
  await reads(page, 'notes-here', /Stored in the camera's memory 9/)
})
