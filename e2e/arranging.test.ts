/** Each person's Desk: blocks moved, hidden and resized, kept for the shape of the window and for the page. */
import type { Browser, Page } from 'puppeteer-core'
import {
  by,
  centre,
  eventually,
  openDesk,
  PHONE,
  press,
  type Running,
  startApplication,
  startBrowser,
  WIDE,
} from './harness'

let running: Running
let browser: Browser
beforeAll(async () => {
  ;[running, browser] = await Promise.all([startApplication(), startBrowser()])
}, 120_000)
afterAll(async () => {
  await browser?.close()
  await running?.stop()
})

async function arranging(page: Page): Promise<void> {
  await press(page, 'more')
  await page.waitForSelector(by('arrange'))
  await press(page, 'arrange')
  await page.waitForSelector(by('arrange-done'))
}

async function drag(page: Page, block: string, onto: string): Promise<void> {
  const box = await (await page.waitForSelector(by(block)))!.boundingBox()
  const to = await centre(page, onto)
  // Beside the keys in its middle.
  await page.mouse.move(box!.x + 12, box!.y + 12)
  await page.mouse.down()
  await page.mouse.move(box!.x + 30, box!.y + 30, { steps: 3 })
  await page.mouse.move(to.x, to.y, { steps: 8 })
  await page.mouse.up()
}

const boxOf = async (page: Page, id: string) => (await (await page.waitForSelector(by(id)))!.boundingBox())!
const gone = async (page: Page, id: string) => (await page.$(by(id))) === null
/** What was changed has reached the server. */
const kept = (path: string, pattern: RegExp) =>
  eventually(`${path} tells ${pattern}`, async () =>
    pattern.test(await (await fetch(`${running.address}/api${path}`)).text()),
  )

test('the drive keys go below the presets, the tools away; kept over a new page; one touch sets all back', async () => {
  const page = await openDesk(browser, running, WIDE)
  await arranging(page)
  await drag(page, 'arrange-deck', 'arrange-presets')
  await eventually('it stands with the presets', async () => {
    const [pad, board] = [await boxOf(page, 'pad'), await boxOf(page, 'board-camera')]
    return pad.x > board.x - 20
  })
  await press(page, 'arrange-hide-tools')
  await press(page, 'arrange-done')
  expect(await gone(page, 'tool-aim')).toBe(true)
  await kept('/persons', /"hidden":\["tools"\]/)

  await page.reload()
  await page.waitForSelector(by('pad'))
  await eventually('it stands there again', async () => {
    const [pad, stage] = [await boxOf(page, 'pad'), await boxOf(page, 'stage')]
    return pad.x > stage.x + stage.width && (await gone(page, 'tool-aim'))
  })
  // It drives from there.
  const at = await centre(page, 'pad')
  await page.mouse.move(at.x, at.y)
  await page.mouse.down()
  await page.mouse.move(at.x + 50, at.y, { steps: 4 })
  await eventually('the camera turns', async () => (await running.truth('gallery')).moving)
  await page.mouse.up()

  // Another shape of window has an arrangement of its own, another page too.
  const second = await browser.newPage()
  await second.setViewport(WIDE)
  await second.goto(`${running.address}/?page=2`)
  await second.waitForSelector(by('tool-aim'))
  await second.goto(`${running.address}/cues`)
  await second.goto(running.address)
  await second.waitForSelector(by('tool-aim'))
  await second.close()

  await arranging(page)
  await press(page, 'arrange-reset')
  await press(page, 'arrange-done')
  await page.waitForSelector(by('tool-aim'))
  await eventually('the pad is below the picture', async () => {
    const [pad, stage] = [await boxOf(page, 'pad'), await boxOf(page, 'stage')]
    return pad.y > stage.y + stage.height
  })
}, 60_000)

test('on a phone by keys: presets above the picture; without presets the pad grows; the last block stays', async () => {
  const page = await openDesk(browser, running, PHONE)
  await arranging(page)
  const before = await boxOf(page, 'arrange-deck')
  await page.focus(by('arrange-move-presets'))
  await page.keyboard.press('ArrowUp')
  await eventually('presets above the picture', async () => {
    const [board, stage] = [await boxOf(page, 'arrange-presets'), await boxOf(page, 'arrange-picture')]
    return board.y < stage.y
  })
  await press(page, 'arrange-hide-presets')
  await eventually(
    'the thumb has their room',
    async () => (await boxOf(page, 'arrange-deck')).height > before.height,
  )
  await press(page, 'arrange-show-presets')
  for (const block of ['cameras', 'presets', 'picture']) await press(page, `arrange-hide-${block}`)
  await press(page, 'arrange-hide-deck')
  expect(await gone(page, 'arrange-deck')).toBe(false)
  await press(page, 'arrange-reset')
  await page.waitForSelector(by('arrange-cameras'))
  await press(page, 'arrange-done')
}, 40_000)
