/** Every main view at both sizes: no finding of axe that is critical or serious. */
import { readFileSync } from 'node:fs'
import type { Browser, Page } from 'puppeteer-core'
import { by, PHONE, pressIn, type Running, sleep, startApplication, startBrowser, WIDE } from './harness'

const AXE = readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8')

let running: Running
let browser: Browser
beforeAll(async () => {
  ;[running, browser] = await Promise.all([startApplication(), startBrowser()])
}, 120_000)
afterAll(async () => {
  await browser?.close()
  await running?.stop()
})

interface Finding {
  id: string
  impact: string
  help: string
  nodes: { html: string; failureSummary: string }[]
}

async function findings(page: Page): Promise<string[]> {
  await page.evaluate(AXE)
  // Rules that are still tried out by axe are left out, but for names that differ from the visible text.
  const run =
    "axe.run(document, { rules: { 'label-content-name-mismatch': { enabled: true } } }).then((r) => r.violations)"
  const all = (await page.evaluate(run)) as Finding[]
  return all
    .filter(({ impact }) => impact === 'critical' || impact === 'serious')
    .flatMap(({ id, help, nodes }) =>
      nodes.map(
        ({ html, failureSummary }) => `${id}: ${help}: ${html.slice(0, 240)} ${failureSummary.slice(0, 200)}`,
      ),
    )
}

const open = async (size: typeof PHONE | typeof WIDE, path: string, ready: string) => {
  const page = await browser.newPage()
  await page.setViewport(size)
  await page.goto(`${running.address}${path}`)
  await page.waitForSelector(ready, { timeout: 20_000 })
  await sleep(600)
  return page
}

describe.each([
  ['a phone', PHONE],
  ['a wide screen', WIDE],
] as const)('on %s', (_, size) => {
  test('the Desk, its sheets and all pictures', async () => {
    const page = await open(size, '/', by('is-live'))
    expect(await findings(page)).toEqual([])
    await pressIn(page, 'more')
    await page.waitForSelector('[role="dialog"]')
    expect(await findings(page)).toEqual([])
    await page.keyboard.press('Escape')
    await pressIn(page, 'change-presets')
    await pressIn(page, 'tile-1')
    await page.waitForSelector('[role="dialog"]')
    expect(await findings(page)).toEqual([])
    await page.keyboard.press('Escape')
    await pressIn(page, 'board-find')
    expect(await findings(page)).toEqual([])
    await pressIn(page, 'all-pictures')
    await sleep(400)
    expect(await findings(page)).toEqual([])
    await page.close()
  }, 60_000)

  test('the cues, a cue and its sheets, tours, the board, the clock, devices', async () => {
    const page = await open(size, '/cues', by('order-list'))
    expect(await findings(page)).toEqual([])
    await pressIn(page, 'cue-Buzzer')
    await page.waitForSelector(by('step-g'))
    await sleep(300)
    expect(await findings(page)).toEqual([])
    await pressIn(page, 'add-step')
    await page.waitForSelector('[role="dialog"]')
    await sleep(200)
    expect(await findings(page)).toEqual([])
    await page.keyboard.press('Escape')
    for (const tab of ['Tours and moves', 'Board', 'Clock', 'Devices']) {
      await pressIn(page, `tab-${tab}`)
      await sleep(300)
      expect(await findings(page)).toEqual([])
    }
    await page.close()
  }, 60_000)

  test('Picture with its tabs, a look and matching', async () => {
    const page = await open(size, '/picture', by('tab-Exposure'))
    await pressIn(page, 'tab-Exposure')
    await page.waitForSelector(by('slide-iris'))
    expect(await findings(page)).toEqual([])
    await pressIn(page, 'keep')
    for (const tab of ['White', 'Detail', 'Image', 'Looks']) {
      await pressIn(page, `tab-${tab}`)
      await sleep(300)
      expect(await findings(page)).toEqual([])
    }
    await pressIn(page, 'match')
    await page.waitForSelector('[role="dialog"]')
    await sleep(300)
    expect(await findings(page)).toEqual([])
    await page.close()
  }, 60_000)

  test('Sightlines before a survey, and what is said before one begins', async () => {
    const page = await open(size, '/sightlines', by('survey'))
    expect(await findings(page)).toEqual([])
    await pressIn(page, 'survey')
    await page.waitForSelector('[role="dialog"]')
    await sleep(200)
    expect(await findings(page)).toEqual([])
    await page.close()
  })

  test('the presets page and Setup with its sheets', async () => {
    const presets = await open(size, '/presets', by('tile-1'))
    expect(await findings(presets)).toEqual([])
    await presets.close()
    const setup = await open(size, '/setup', by('row-1'))
    expect(await findings(setup)).toEqual([])
    for (const sheet of ['add-camera', 'find-cameras']) {
      await pressIn(setup, sheet)
      await setup.waitForSelector('[role="dialog"]')
      await sleep(200)
      expect(await findings(setup)).toEqual([])
      await setup.keyboard.press('Escape')
      await sleep(200)
    }
    await setup.close()
  }, 60_000)
})

test('zooming by fingers is allowed, and each page has a language, a title and a main landmark', async () => {
  const page = await open(PHONE, '/', by('is-live'))
  const told = (await page.evaluate(
    "[document.querySelector('meta[name=viewport]').content, document.documentElement.lang, document.title, document.querySelectorAll('[role=main], main').length]",
  )) as [string, string, string, number]
  expect(told[0]).not.toMatch(/user-scalable\s*=\s*(no|0)|maximum-scale/)
  expect(told.slice(1)).toEqual(['en', expect.stringMatching(/Steady Heron/), 1])
  await page.close()
})
