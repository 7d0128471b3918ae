/** A camera whose mount was knocked: how far, by its pictures; mended whole, and taken back. */
import type { Browser, Page } from 'puppeteer-core'
import { Gallery, type Survey } from './gallery'
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

const gallery = new Gallery(() => running)
const state = async () => ({ camera: await gallery.camera(), presets: await gallery.presets() })

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

let before: Awaited<ReturnType<typeof state>>
let survey: Survey

async function opened(page: Page) {
  await page.goto(`${running.address}/sightlines`)
  await page.waitForSelector(by('live-frame'))
}

test('it looks again at what it photographed, and says how far its mount was turned, roll and all', async () => {
  await gallery.limitToTables()
  const page = await gallery.survey(browser)
  await eventually('it is back', async () => !(await still(running)).moving)
  before = await state()
  ;[survey] = (await gallery.surveys()) as [Survey]
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
    async () => (await state()).presets[0]!.pose.panDeg !== before.presets[0]!.pose.panDeg,
  )
  const after = await state()
  for (const { id, pose } of after.presets) {
    const was = before.presets.find((p) => p.id === id)!.pose
    expect(apart(knocked(way(pose)), way(was))).toBeLessThan(0.15)
  }
  // The limits went along, and the survey is drawn anew where its pictures now belong.
  expect(after.camera.limits!.panMinDeg).not.toBe(before.camera.limits!.panMinDeg)
  const [now] = (await gallery.surveys()) as [Survey]
  expect(now.takenAt).toBe(survey.takenAt)
  expect(now.map.panDeg).toBeGreaterThan(survey.map.panDeg + 4)
  await pressNote(page, 'Undo')
  await eventually('as before', async () => {
    const back = await state()
    return JSON.stringify([back.presets, back.camera]) === JSON.stringify([before.presets, before.camera])
  })
  const [back] = (await gallery.surveys()) as [Survey]
  expect(back.map).toEqual(survey.map)
  expect((await gallery.send(`/cameras/${before.camera.id}/mend-bump`, 'DELETE')).status).toBe(409)
  await page.close()
}, 90_000)

/** All of it, or nothing. */
async function mendedWhole(): Promise<boolean> {
  const { camera, presets } = await state()
  const moved = presets.filter((p, i) => p.pose.panDeg !== before.presets[i]!.pose.panDeg)
  const limits = camera.limits!.panMinDeg !== before.camera.limits!.panMinDeg
  const [now] = (await gallery.surveys()) as [Survey]
  const drawn = now.map.panDeg !== survey.map.panDeg
  expect([moved.length, limits, drawn]).toEqual(
    limits ? [before.presets.length, true, true] : [0, false, false],
  )
  return limits
}

test('the server killed in the middle of a mend: all of it is done, or nothing; and what is done can be undone', async () => {
  const { camera } = before
  const bump = { panDeg: 5, tiltDeg: -1, rollDeg: 2, larger: 1 }
  for (const afterMs of [30, 250, 700]) {
    const mending = gallery
      .send(`/cameras/${camera.id}/mend-bump`, 'POST', { bump, lensToo: false })
      .then(({ ok }) => ok)
      .catch(() => false)
    await new Promise((resolve) => setTimeout(resolve, afterMs))
    await running.restart('SIGKILL')
    const answered = await mending
    const done = await mendedWhole()
    // What was answered is kept.
    if (answered) expect(done).toBe(true)
    if (done) expect((await gallery.send(`/cameras/${camera.id}/mend-bump`, 'DELETE')).status).toBe(200)
    expect(await mendedWhole()).toBe(false)
  }
  expect(
    (
      await gallery.send(`/cameras/${camera.id}/mend-bump`, 'POST', {
        bump: { ...bump, larger: 0 },
        lensToo: true,
      })
    ).status,
  ).toBe(400)
}, 120_000)
