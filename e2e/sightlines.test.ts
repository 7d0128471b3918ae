/**
 * Sightlines: a camera surveys what it can reach; places and boxes on its map are where the stand-in's own truth
 * says that they are, and a preset that was stored from a box shows what was in it.
 */
import { createCanvas, loadImage } from '@napi-rs/canvas'
import type { Browser } from 'puppeteer-core'
import { Gallery, type Survey, screenOf } from './gallery'
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
  startApplication,
  startBrowser,
  still,
  tap,
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

const gallery = new Gallery(() => running)
const { get, send, named } = gallery
const presets = () => gallery.presets()

const ACROSS = 32
const DOWN = 18
const CELL = 20
/** Mean brightness of a picture's cells, 32 by 18. */
async function greys(jpeg: ArrayBuffer): Promise<number[]> {
  const canvas = createCanvas(ACROSS * CELL, DOWN * CELL)
  const context = canvas.getContext('2d')
  context.drawImage(await loadImage(Buffer.from(jpeg)), 0, 0, canvas.width, canvas.height)
  return Array.from({ length: ACROSS * DOWN }, (_, i) => {
    const { data } = context.getImageData((i % ACROSS) * CELL, Math.floor(i / ACROSS) * CELL, CELL, CELL)
    return data.reduce((sum, x) => sum + x, 0)
  })
}
function alike(a: readonly number[], b: readonly number[]): number {
  const mean = (all: readonly number[]) => all.reduce((sum, x) => sum + x, 0) / all.length
  const [ma, mb] = [mean(a), mean(b)]
  const dot = (p: readonly number[], mp: number, q: readonly number[], mq: number) =>
    p.reduce((sum, x, i) => sum + (x - mp) * (q[i]! - mq), 0)
  return dot(a, ma, b, mb) / Math.sqrt(dot(a, ma, a, ma) * dot(b, mb, b, mb))
}
const pictureOf = async (id: string) =>
  greys(await (await fetch(`${running.address}/api/pictures/${id}`)).arrayBuffer())

let map: Survey['map']

test('a survey within the limits that were set: progress, then a map with every frame, limits and the live frame', async () => {
  await gallery.limitToTables()
  const { exposureMode, whiteBalance } = (await running.truth()).eye
  expect([exposureMode, whiteBalance]).toEqual([0, 0])
  const page = await gallery.survey(browser, async (begun) => {
    await reads(begun, 'round-1', /[1-9] of \d+, [1-9]\d* pictures? taken/, 20_000)
    // What one place makes of the light must not change how the next one is seen.
    expect((await running.truth()).eye).toMatchObject({ exposureMode: 3, whiteBalance: 5 })
  })
  await eventually('its automatics have it back', async () => {
    const { eye } = await running.truth()
    return eye.exposureMode === exposureMode && eye.whiteBalance === whiteBalance
  })
  const [survey] = await gallery.surveys()
  map = survey!.map
  expect(survey!.pictures).toBeGreaterThanOrEqual(4)
  expect(survey!.seams.medianPx).toBeLessThan(2)
  const own = (await presets()).filter((p) => p.cameraId === survey!.cameraId && p.pose)
  for (const { number } of own) expect(await page.$(by(`frame-${number}`))).not.toBeNull()
  expect(await page.$(by('limits'))).not.toBeNull()
  // As files: one picture, and beside it where each of its pixels looks.
  const [projection] = await get<{ id: string }[]>('/surveys')
  const beside = await get<Survey['map'] & { width: number; height: number; camera: { name: string } }>(
    `/surveys/${projection!.id}/projection.json`,
  )
  expect(beside).toMatchObject({ ...map, camera: { name: 'Gallery' } })
  const png = await fetch(`${running.address}/api/surveys/${projection!.id}/picture.png`)
  const whole = await loadImage(Buffer.from(await png.arrayBuffer()))
  expect([whole.width, whole.height]).toEqual([beside.width, beside.height])
  // It went back to where it stood.
  const { pose } = await named('Godwits')
  await eventually('it is back', async () => Math.abs((await still(running)).panDeg - pose.panDeg) < 0.2)
  await page.close()
}, 180_000)

test('a touch turns the camera there, a label recalls, a box frames; all where the truth says', async () => {
  const page = await openDesk(browser, running, WIDE)
  await page.goto(`${running.address}/sightlines`)
  await page.waitForSelector(by('live-frame'))
  const { pose } = await named('Avocets')
  const at = await screenOf(page, map, { panDeg: pose.panDeg + 4, tiltDeg: pose.tiltDeg + 6 })
  await page.mouse.click(at.x, at.y)
  await eventually('it looks where the map was touched', async () => {
    const { panDeg, tiltDeg, moving } = await running.truth('gallery')
    return !moving && Math.hypot(panDeg - pose.panDeg - 4, tiltDeg - pose.tiltDeg - 6) < 0.25
  })
  const board = await named('Scoreboard')
  await press(page, `label-${board.number}`)
  await eventually('the scoreboard is recalled', async () => {
    const { panDeg, moving } = await still(running)
    return !moving && Math.abs(panDeg - board.pose.panDeg) < 0.2
  })
  const live = await page.$eval(by('live-frame'), (e) => [
    Number(e.getAttribute('data-pan')),
    Number(e.getAttribute('data-tilt')),
  ])
  const truth = await still(running)
  expect(Math.hypot(live[0]! - truth.panDeg, live[1]! - truth.tiltDeg)).toBeLessThan(0.2)

  await press(page, 'sight-frame')
  const [a, b] = [
    await screenOf(page, map, { panDeg: -6, tiltDeg: -5 }),
    await screenOf(page, map, { panDeg: 6, tiltDeg: -11.5 }),
  ]
  await page.mouse.move(a.x, a.y)
  await page.mouse.down()
  await page.mouse.move(b.x, b.y, { steps: 6 })
  await page.mouse.up()
  await eventually('the box fills the picture', async () => {
    const { panDeg, tiltDeg, hfovDeg, moving } = await running.truth('gallery')
    return !moving && Math.hypot(panDeg, tiltDeg + 8.25) < 0.4 && hfovDeg > 11 && hfovDeg < 13.5
  })
  await page.close()
}, 60_000)

test('on a phone a box becomes a preset without moving the camera; its picture is what the camera then shows', async () => {
  const page = await browser.newPage()
  await page.setViewport(PHONE)
  await page.goto(`${running.address}/sightlines`)
  await page.waitForSelector(by('live-frame'))
  await tap(page, 'sight-store')
  const board = await named('Scoreboard')
  const { panDeg, tiltDeg } = board.pose
  const before = await still(running)
  const [a, b] = [
    await screenOf(page, map, { panDeg: panDeg - 8, tiltDeg: tiltDeg + 4.5 }),
    await screenOf(page, map, { panDeg: panDeg + 8, tiltDeg: tiltDeg - 4.5 }),
  ]
  await page.touchscreen.touchStart(a.x, a.y)
  for (let i = 1; i <= 5; i++)
    await page.touchscreen.touchMove(a.x + ((b.x - a.x) * i) / 5, a.y + ((b.y - a.y) * i) / 5)
  await page.touchscreen.touchEnd()
  await eventually('it is stored', async () => (await presets()).some((p) => p.surveyed))
  const made = (await presets()).find((p) => p.surveyed)!
  expect(Math.hypot(made.pose.panDeg - panDeg, made.pose.tiltDeg - tiltDeg)).toBeLessThan(1)
  expect((await still(running)).panDeg).toBe(before.panDeg)
  const cut = await pictureOf(made.pictureId!)

  await send(`/presets/${made.id}/recall`, 'POST')
  await eventually('it is reached', async () => {
    const { panDeg: pan, moving } = await running.truth('gallery')
    return !moving && Math.abs(pan - made.pose.panDeg) < 0.1
  })
  const { hfovDeg } = await running.truth('gallery')
  expect(hfovDeg).toBeGreaterThan(14.5)
  expect(hfovDeg).toBeLessThan(17.5)
  // After the first visit its picture is the camera's own.
  await eventually(
    'it has its own picture',
    async () => !(await presets()).find((p) => p.id === made.id)!.surveyed,
  )
  const own = await pictureOf((await presets()).find((p) => p.id === made.id)!.pictureId!)
  expect(alike(cut, own)).toBeGreaterThan(0.93)
  expect(await textOf(page, 'survey-about')).toMatch(/Surveyed \d\d:\d\d, \d+ pictures/)
  await page.close()
}, 60_000)

test('a frame is dragged by its middle and by its corner; the camera does not move; undone in one', async () => {
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await page.goto(`${running.address}/sightlines`)
  await page.waitForSelector(by('live-frame'))
  const was = await named('Avocets')
  const before = await still(running)
  await press(page, 'sight-change')
  await press(page, `label-${was.number}`)
  await page.waitForSelector(by('move-frame'))
  const drag = async (id: string, dx: number, dy: number) => {
    const { x, y } = await centre(page, id)
    await page.mouse.move(x, y)
    await page.mouse.down()
    await page.mouse.move(x + dx, y + dy, { steps: 5 })
    await page.mouse.up()
  }
  const scale = async () =>
    Number(await page.$eval(by('sightlines-map'), (e) => e.getAttribute('data-scale'))) * map.pxPerDeg
  await drag('move-frame', 4 * (await scale()), -2 * (await scale()))
  await eventually('it is moved', async () => {
    const { pose } = await named('Avocets')
    return Math.hypot(pose.panDeg - was.pose.panDeg - 4, pose.tiltDeg - was.pose.tiltDeg - 2) < 0.4
  })
  const moved = await named('Avocets')
  expect(moved.surveyed).toBe(true)
  expect(moved.pose.zoom).toBeCloseTo(was.pose.zoom, -1)
  await drag('size-frame', -20, -12)
  await eventually('it is smaller', async () => (await named('Avocets')).pose.zoom > was.pose.zoom + 50)
  const small = await named('Avocets')
  expect(small.pose.panDeg).toBeCloseTo(moved.pose.panDeg, 1)
  expect((await still(running)).panDeg).toBe(before.panDeg)
  await pressNote(page, 'Undo')
  await eventually('the size is back', async () => (await named('Avocets')).pose.zoom === moved.pose.zoom)
  await send(`/presets/${was.id}/version`, 'PUT', { version: was.version })
  await page.close()
}, 60_000)

test('a seat grid: four corners touched, tried, made as one section, found by its name, taken back as one', async () => {
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await page.goto(`${running.address}/sightlines`)
  await page.waitForSelector(by('live-frame'))
  // The limits were set at these very tables.
  await send(`/cameras/${(await named('Avocets')).cameraId}/limits`, 'POST', { edge: 'none' })
  await press(page, 'seat-grid')
  await page.waitForSelector(by('grid-panel'))
  await fill(page, 'grid-rows', '2')
  await fill(page, 'grid-seats', '3')
  const before = (await presets()).length
  const touch = async ({ panDeg, tiltDeg }: { panDeg: number; tiltDeg: number }) => {
    const at = await screenOf(page, map, { panDeg: panDeg, tiltDeg: tiltDeg })
    await page.mouse.click(at.x, at.y)
  }
  const corners = ['Bitterns', 'Curlews', 'Snipes', 'Lapwings']
  for (const name of corners) await touch((await named(name)).pose)
  await reads(page, 'grid-says', /6 seats/)
  // The middle of the first row is the table between.
  await press(page, 'try-2.1')
  await eventually('it goes there', async () => {
    const { pose } = await named('Lapwings')
    const { panDeg, moving } = await running.truth('gallery')
    return !moving && Math.abs(panDeg - pose.panDeg) < 1
  })
  await press(page, 'make-grid')
  await eventually('six more', async () => (await presets()).length === before + 6)
  const middle = await named('1.2')
  const avocets = await named('Avocets')
  expect(Math.abs(middle.pose.panDeg - avocets.pose.panDeg)).toBeLessThan(2)
  expect(Math.abs(middle.pose.tiltDeg - avocets.pose.tiltDeg)).toBeLessThan(5)
  await pressNote(page, 'Undo')
  await eventually('all six are gone', async () => (await presets()).length === before)

  // Made once more; another time one corner is moved, and the block follows.
  await press(page, 'seat-grid')
  for (const name of corners) await touch((await named(name)).pose)
  await press(page, 'make-grid')
  await eventually('six again', async () => (await presets()).length === before + 6)
  const made = (await presets()).filter(({ name }) => /^[12]\.[123]$/.test(name))
  const poseOf = async (name: string) => (await named(name)).pose
  const [first, last] = [await poseOf('1.1'), await poseOf('2.3')]
  await page.reload()
  await page.waitForSelector(by('live-frame'))
  await press(page, 'seat-grid')
  const [grid] = await get<{ id: string }[]>('/presets/grids')
  await pressIn(page, `grid-of-${grid!.id}`)
  await pressIn(page, 'corner-1')
  await touch({ panDeg: first.panDeg - 3, tiltDeg: first.tiltDeg - 1 })
  await press(page, 'make-grid')
  await eventually(
    'the corner is moved',
    async () => Math.abs((await poseOf('1.1')).panDeg - first.panDeg + 3) < 0.3,
  )
  expect(await poseOf('2.3')).toMatchObject({ panDeg: expect.closeTo(last.panDeg, 1) })
  // Where between them it then lies, the slant of the block decides; it does not stay.
  expect(Math.abs((await poseOf('1.2')).panDeg - middle.pose.panDeg)).toBeGreaterThan(0.2)
  await pressNote(page, 'Undo')
  await eventually('it is back', async () => Math.abs((await poseOf('1.1')).panDeg - first.panDeg) < 1e-6)
  // A row was forgotten: three seats more, in the same block, and taken back as one.
  await press(page, 'seat-grid')
  await pressIn(page, `grid-of-${grid!.id}`)
  await fill(page, 'grid-rows', '3')
  expect(await textOf(page, 'make-grid')).toMatch(/Make it 9 presets/)
  await press(page, 'make-grid')
  await eventually('three more', async () => (await presets()).length === before + 9)
  expect(Math.abs((await poseOf('3.3')).panDeg - last.panDeg)).toBeLessThan(0.5)
  expect((await named('1.1')).id).toBe(made.find(({ name }) => name === '1.1')!.id)
  await pressNote(page, 'Undo')
  await eventually('six as before', async () => (await presets()).length === before + 6)
  expect(await poseOf('2.3')).toMatchObject({ panDeg: expect.closeTo(last.panDeg, 3) })
  await send('/presets/remove', 'POST', { ids: made.map(({ id }) => id) })
  expect(await get('/presets/grids')).toEqual([])
  await page.close()
}, 90_000)

test('a part that has changed is photographed again: few pictures, the same map, and the rest as it was', async () => {
  const surveys = () =>
    get<{ id: string; pictures: number; map: Survey['map']; seams: { medianPx: number } }[]>('/surveys')
  const [before] = await surveys()
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await page.goto(`${running.address}/sightlines`)
  await page.waitForSelector(by('live-frame'))
  await press(page, 'survey-again')
  await page.waitForSelector(by('survey-part'))
  await press(page, 'survey-part')
  await reads(page, 'survey-about', /Draw a box round what has changed/)
  const { pose } = await named('Godwits')
  const [a, b] = [
    await screenOf(page, map, { panDeg: pose.panDeg - 12, tiltDeg: pose.tiltDeg + 5 }),
    await screenOf(page, map, { panDeg: pose.panDeg + 12, tiltDeg: pose.tiltDeg - 5 }),
  ]
  await page.mouse.move(a.x, a.y)
  await page.mouse.down()
  await page.mouse.move(b.x, b.y, { steps: 6 })
  await page.mouse.up()
  await reads(page, 'round-1', /of [1-4], /, 10_000)
  await eventually('another survey', async () => (await surveys())[0]!.id !== before!.id, 60_000)
  const [after] = await surveys()
  expect(after!.map).toEqual(before!.map)
  expect(after!.pictures).toBeGreaterThan(before!.pictures - 5)
  expect(after!.seams.medianPx).toBeLessThan(2)
  // The next box is again what the tool says.
  await reads(page, 'survey-about', /Touch what is to be in the middle/)
  await page.close()
}, 120_000)
