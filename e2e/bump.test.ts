/** A camera whose mount was knocked: how far, by its pictures; mended whole, and taken back. */
import type { Browser, Page } from 'puppeteer-core'
import {
  by,
  eventually,
  PHONE,
  press,
  pressIn,
  pressNote,
  type Running,
  reads,
  startApplication,
  startBrowser,
  still,
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
  cameras: { id: string; number: number; limits: Record<string, number | null> | null }[]
  presets: { id: string; cameraId: string; name: string; pose: { panDeg: number; tiltDeg: number } }[]
}
interface Survey {
  id: string
  takenAt: string
  map: { panDeg: number; tiltDeg: number; pxPerDeg: number }
}
const get = async <T>(path: string) => (await (await fetch(`${running.address}/api${path}`)).json()) as T
const send = (path: string, method: string, body: object = {}) =>
  fetch(`${running.address}/api${path}`, {
    method,
    headers: { 'content-type': 'application/json', 'x-steady-heron': '1' },
    body: JSON.stringify(body),
  })
async function gallery() {
  const desk = await get<Desk>('/desk')
  const camera = desk.cameras.find(({ number }) => number === 1)!
  return { camera, presets: desk.presets.filter(({ cameraId, pose }) => cameraId === camera.id && pose) }
}
async function goTo(name: string): Promise<string> {
  const { camera, presets } = await gallery()
  const preset = presets.find((p) => p.name === name)!
  // Until the switcher has been heard its camera counts as on air, and is asked about.
  await eventually('it is recalled', async () => (await send(`/presets/${preset.id}/recall`, 'POST')).ok)
  await eventually(
    `${name} is reached`,
    async () => Math.abs((await still(running)).panDeg - preset.pose.panDeg) < 0.3,
  )
  return camera.id
}

const RAD = Math.PI / 180
type V = [number, number, number]
/** As the head has a direction: x right, y up, z ahead. */
const way = ({ panDeg: p, tiltDeg: t }: { panDeg: number; tiltDeg: number }): V => [
  Math.sin(p * RAD) * Math.cos(t * RAD),
  Math.sin(t * RAD),
  Math.cos(p * RAD) * Math.cos(t * RAD),
]
const KNOCK = { bumpPanDeg: -6, bumpTiltDeg: 2.5, bumpRollDeg: 3 }
/** In the room: the head's direction on a mount that is rolled clockwise, tilted up and panned right. */
function knocked([x, y, z]: V): V {
  const [p, t, r] = [KNOCK.bumpPanDeg * RAD, KNOCK.bumpTiltDeg * RAD, -KNOCK.bumpRollDeg * RAD]
  const [x1, y1] = [x * Math.cos(r) - y * Math.sin(r), x * Math.sin(r) + y * Math.cos(r)]
  const [y2, z2] = [y1 * Math.cos(t) + z * Math.sin(t), z * Math.cos(t) - y1 * Math.sin(t)]
  return [x1 * Math.cos(p) + z2 * Math.sin(p), y2, z2 * Math.cos(p) - x1 * Math.sin(p)]
}
const apart = (a: V, b: V) => Math.acos(Math.min(1, a[0] * b[0] + a[1] * b[1] + a[2] * b[2])) / RAD

let before: Awaited<ReturnType<typeof gallery>>
let survey: Survey

async function opened(page: Page) {
  await page.goto(`${running.address}/sightlines`)
  await page.waitForSelector(by('live-frame'))
}

test('it looks again at what it photographed, and says how far its mount was turned, roll and all', async () => {
  for (const [name, edge] of [
    ['Bitterns', 'left'],
    ['Curlews', 'right'],
    ['Scoreboard', 'up'],
    ['Avocets', 'down'],
  ] as const)
    await send(`/cameras/${await goTo(name)}/limits`, 'POST', { edge })
  await goTo('Godwits')
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await page.goto(`${running.address}/sightlines`)
  await press(page, 'survey')
  await press(page, 'begin-survey')
  await page.waitForSelector(by('live-frame'), { timeout: 90_000 })
  await eventually('it is back', async () => !(await still(running)).moving)
  before = await gallery()
  ;[survey] = (await get<Survey[]>('/surveys')) as [Survey]
  await running.faults(KNOCK)
  await pressIn(page, 'seen-round')
  await press(page, 'survey-again')
  await pressIn(page, 'look-for-bump')
  await reads(
    page,
    'round-1',
    /bumped: .* 6\.\d° right, .* down, the picture turned [23]\.\d° anticlockwise/,
    60_000,
  )
  await page.close()
}, 200_000)

test('on a phone all of it is mended at once: every preset looks where it looked', async () => {
  const page = await browser.newPage()
  await page.setViewport(PHONE)
  await opened(page)
  await press(page, 'see-bump')
  await reads(page, 'bump-says', /as \d pictures agree/)
  await pressIn(page, 'mend-bump')
  await eventually(
    'mended',
    async () => (await gallery()).presets[0]!.pose.panDeg !== before.presets[0]!.pose.panDeg,
  )
  const after = await gallery()
  for (const { id, pose } of after.presets) {
    const was = before.presets.find((p) => p.id === id)!.pose
    expect(apart(knocked(way(pose)), way(was))).toBeLessThan(0.15)
  }
  // The limits went along, and the survey is drawn anew where its pictures now belong.
  expect(after.camera.limits!.panMinDeg).not.toBe(before.camera.limits!.panMinDeg)
  const [now] = (await get<Survey[]>('/surveys')) as [Survey]
  expect(now.takenAt).toBe(survey.takenAt)
  expect(now.map.panDeg).toBeGreaterThan(survey.map.panDeg + 4)
  await pressNote(page, 'Undo')
  await eventually('as before', async () => {
    const back = await gallery()
    return JSON.stringify([back.presets, back.camera]) === JSON.stringify([before.presets, before.camera])
  })
  const [back] = (await get<Survey[]>('/surveys')) as [Survey]
  expect(back.map).toEqual(survey.map)
  expect((await send(`/cameras/${before.camera.id}/mend-bump`, 'DELETE')).status).toBe(409)
  await page.close()
}, 90_000)
