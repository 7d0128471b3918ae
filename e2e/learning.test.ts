/** A camera learns its lens by looking round: begun, paused and seen in a browser; used, and its presets stay where they are. */
import type { Browser, Page } from 'puppeteer-core'
import {
  by,
  eventually,
  PHONE,
  press,
  pressIn,
  type Running,
  reads,
  startApplication,
  startBrowser,
  still,
  textOf,
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

interface Desk {
  cameras: { id: string; number: number; headProfile: string; headConfirmed: boolean }[]
  presets: { id: string; cameraId: string; name: string; pose: { panDeg: number; tiltDeg: number } }[]
  headProfiles: { id: string; pan: { unitsPerDeg: number }; lens: { zoomCurve: [number, number][] } }[]
}
const desk = async () => (await (await fetch(`${running.address}/api/desk`)).json()) as Desk
const gallery = async () => (await desk()).cameras.find(({ number }) => number === 1)!

async function opened(page: Page) {
  await page.goto(`${running.address}/setup`)
  await page.waitForSelector(by('edit-1'))
  await press(page, 'edit-1')
  await page.waitForSelector(by('learn-head'))
}

async function standsAt(name: string) {
  const { presets } = await desk()
  const { id } = await gallery()
  const preset = presets.find((p) => p.cameraId === id && p.name === name)!
  // Until the switcher has been heard its camera counts as on air, and is asked about.
  await eventually('it is recalled', async () => {
    const { ok } = await fetch(`${running.address}/api/presets/${preset.id}/recall`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'x-steady-heron': '1' },
      body: '{}',
    })
    return ok
  })
  await eventually(
    'it has arrived',
    async () => Math.abs((await still(running)).panDeg - preset.pose.panDeg) < 0.5,
  )
  return still(running)
}

let before: { panDeg: number; tiltDeg: number }

test('one step, chosen from the sheet; it waits while it is paused, and goes back to where it stood', async () => {
  before = await standsAt('Bitterns')
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await opened(page)
  for (const step of ['ends', 'zoom', 'drives', 'rest']) await pressIn(page, `learn-${step}`)
  await pressIn(page, 'start-learning')
  await reads(page, 'round-1', /looking round for its angles\. About \d+ s left/, 10_000)
  await pressIn(page, 'pause-round')
  await reads(page, 'round-1', /Paused: looking round/, 5000)
  // What it was about it still ends; then it stands.
  await new Promise((resolve) => setTimeout(resolve, 3000))
  const paused = await running.truth()
  await new Promise((resolve) => setTimeout(resolve, 2000))
  expect(await running.truth()).toMatchObject({ panDeg: paused.panDeg, tiltDeg: paused.tiltDeg })
  await pressIn(page, 'pause-round')
  await reads(page, 'round-1', /Done: 1 step learnt/, 120_000).catch(async (error: Error) => {
    throw new Error(`${error.message}; it reads "${await textOf(page, 'round-1')}"`)
  })
  await eventually('it is back', async () => Math.abs((await still(running)).panDeg - before.panDeg) < 0.2)
  await page.close()
}, 200_000)

test('on a phone what it learnt is seen beside what was, used, and no preset moves', async () => {
  const page = await browser.newPage()
  await page.setViewport(PHONE)
  await opened(page)
  await pressIn(page, 'see-learnt')
  await page.waitForSelector(by('learnt-sheet'))
  expect(await textOf(page, 'learnt-pan-scale')).toMatch(/80\s*(79\.[5-9]|80)\S*\s*± 0\.\d+ %/)
  const angle = Number(/60°\s*([\d.]+)°/.exec(await textOf(page, 'learnt-widest'))?.[1])
  expect(Math.abs(angle / 60 - 1)).toBeLessThan(0.01)
  // Nothing is used before it is said.
  const was = await gallery()
  expect(was.headProfile).toBe('marsh-20x')
  await press(page, 'use-learnt')
  await eventually('it has its own profile', async () => (await gallery()).headProfile !== was.headProfile)
  const now = await gallery()
  const own = (await desk()).headProfiles.find(({ id }) => id === now.headProfile)!
  expect(Math.abs(own.pan.unitsPerDeg / 80 - 1)).toBeLessThan(0.005)
  expect(now.headConfirmed).toBe(true)
  await eventually('nothing more to look at', async () => {
    const { id } = await gallery()
    return (await (await fetch(`${running.address}/api/cameras/${id}/learnt`)).json()) === null
  })
  await page.close()
  await standsAt('Godwits')
  const again = await standsAt('Bitterns')
  expect(Math.abs(again.panDeg - before.panDeg)).toBeLessThan(0.05)
  expect(Math.abs(again.tiltDeg - before.tiltDeg)).toBeLessThan(0.05)
}, 120_000)
