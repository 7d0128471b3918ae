/** Presets: stored, arranged, found, copied, their history, their paces; on the Desk and on a helper's phone. */
import { createCanvas } from '@napi-rs/canvas'
import type { Browser, Page } from 'puppeteer-core'
import type { VersionView } from '../src/server/api'
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
  type Running,
  sleep,
  still,
  textOf,
  tileText,
  WIDE,
} from './harness'

let running: Running
let browser: Browser

withApplication((r, b) => {
  ;[running, browser] = [r, b]
})

const { ask, answer, desk, named, presetsOf } = apiOf(() => running)
async function openSheet(page: Page, number: number): Promise<void> {
  await press(page, 'change-presets')
  await press(page, `tile-${number}`)
  await page.waitForSelector(by('preset-sheet'))
}

test('a section, a mark, a pace and a pin are set on the sheet and seen on the tile', async () => {
  const page = await openDesk(browser, running, WIDE)
  await openSheet(page, 7)
  await fill(page, 'preset-section', 'Lectern')
  await pressIn(page, 'set-section')
  await pressIn(page, 'mark-▲')
  await pressIn(page, 'preset-pace-t4')
  await pressIn(page, 'pinned')
  await pressIn(page, 'word-Host')
  await eventually('kept', async () => {
    const p = await named('Host')
    return p.section === 'Lectern' && p.mark === '▲' && p.pinned !== null && p.pace?.kind === 'timed'
  })
  await page.keyboard.press('Escape')
  await eventually('the sheet is closed', async () => (await page.$(by('preset-sheet'))) === null)
  await press(page, 'change-presets')
  await page.waitForSelector(by('section-Lectern'))
  expect(await tileText(page, 7)).toMatch(/▲.*4 s/)
  // A folded section shows no tiles; the fold is this browser's own.
  await press(page, 'section-Lectern')
  await eventually('folded', async () => (await page.$(by('tile-7'))) === null)
  await press(page, 'section-Lectern')
  await page.waitForSelector(by('tile-7'))
  // Whatever camera is selected, what is pinned is at hand.
  await press(page, 'camera-2')
  await press(page, 'board-pinned')
  await page.waitForSelector(by('tile-1-7'))
})

test('timed, pan and tilt arrive together after about that time; quick for once by the API is quick', async () => {
  const page = await openDesk(browser, running, WIDE)
  await press(page, 'tile-11')
  await eventually('at the start', async () => (await tileText(page, 11)).includes('here'))
  await sleep(500)
  const from = Date.now()
  await press(page, 'tile-7')
  await eventually(
    'the tile counts down from four',
    async () => /[34]\.\d s/.test(await tileText(page, 7)),
    1500,
  )
  await eventually('here', async () => (await tileText(page, 7)).includes('here'), 9000)
  const took = Date.now() - from
  expect(took).toBeGreaterThan(3000)
  expect(took).toBeLessThan(6500)
  const host = await named('Host')
  const truth = await still(running)
  // Within one step of the encoder.
  expect(Math.abs(truth.panDeg - host.pose.panDeg)).toBeLessThanOrEqual(1 / 80)
  expect(Math.abs(truth.tiltDeg - host.pose.tiltDeg)).toBeLessThanOrEqual(1 / 80)
  expect(Math.abs(truth.zoomPos - host.pose.zoom)).toBeLessThanOrEqual(1)
})

test('what of a preset is left alone stays as it is', async () => {
  const target = await named('Bitterns')
  expect(
    (await ask(`/presets/${target.id}`, 'PATCH', { parts: { panTilt: true, zoom: false, focus: false } }))
      .status,
  ).toBe(200)
  const before = await still(running)
  await answer(`/presets/${target.id}/recall`, 'POST')
  const after = await still(running)
  expect(Math.abs(after.panDeg - target.pose.panDeg)).toBeLessThan(0.1)
  expect(after.zoomPos).toBe(before.zoomPos)
  await ask(`/presets/${target.id}`, 'PATCH', { parts: { panTilt: true, zoom: true, focus: true } })
})

test('found across cameras by a few letters or a number; Enter recalls the first', async () => {
  const page = await openDesk(browser, running, WIDE)
  await page.keyboard.press('/')
  await page.waitForSelector(by('find-preset'))
  await page.keyboard.type('fidd')
  await page.waitForSelector(by('tile-4-2'))
  expect(await page.$$eval('[data-testid^="tile-"]', (tiles) => tiles.length)).toBe(1)
  await page.keyboard.press('Enter')
  const fiddle = await named('Fiddle', 'Interval trio')
  await eventually('the trio goes there', async () => {
    const t = await still(running, 'trio')
    return Math.abs(t.panDeg - fiddle.pose.panDeg) < 0.1
  })
  await page.keyboard.press('Escape')
  await eventually('back to the camera', async () => (await page.$(by('find-preset'))) === null)
})

test('tiles are dragged to another place, also under another heading', async () => {
  const page = await openDesk(browser, running, WIDE)
  await press(page, 'change-presets')
  const [from, to] = [await centre(page, 'tile-1'), await centre(page, 'tile-3')]
  await page.mouse.move(from.x, from.y)
  await page.mouse.down()
  await page.mouse.move(from.x + 20, from.y + 4, { steps: 3 })
  await page.mouse.move(to.x, to.y, { steps: 8 })
  await sleep(100)
  await page.mouse.up()
  const order = async () => {
    const view = await desk()
    const gallery = view.cameras[0]!.id
    return view.presets.filter((p) => p.cameraId === gallery).map((p) => p.number)
  }
  await eventually('1 stands after 3', async () => (await order()).slice(0, 3).join() === '2,3,1')
})

test("history: every version with its picture can be had back; a picture of one's own is made fit", async () => {
  const target = await named('Curlews')
  expect((await ask(`/presets/${target.id}/shot`, 'PUT')).status).toBe(200)
  const canvas = createCanvas(1600, 900)
  canvas.getContext('2d').fillRect(0, 0, 800, 450)
  const png = await canvas.encode('png')
  const put = (body: Buffer | string) =>
    fetch(`${running.address}/api/presets/${target.id}/picture`, {
      method: 'PUT',
      body: body as never,
      headers: { 'x-steady-heron': '1' },
    })
  expect((await put(png)).status).toBe(200)
  expect((await put('no picture')).status).toBe(400)
  const versions = (await (await ask(`/presets/${target.id}/versions`)).json()) as VersionView[]
  expect(versions.map((x) => x.version)).toEqual([3, 2, 1])
  const own = Buffer.from(await (await ask(`/pictures/${versions[0]!.pictureId}`)).arrayBuffer())
  expect(own.length).toBeLessThan(100_000)
  expect(own.readUInt16BE(0)).toBe(0xffd8)
  const page = await openDesk(browser, running, WIDE)
  await openSheet(page, 3)
  await pressIn(page, 'use-version-1')
  await eventually('the first one again', async () => (await named('Curlews')).version === 1)
  expect((await named('Curlews')).pose).toEqual(target.pose)
})

test('events have presets of their own; presets are copied between them and between cameras of one head', async () => {
  const before = await desk()
  const made = (await (await ask('/events', 'POST', { name: 'Rehearsal' })).json()) as { id: string }
  expect((await desk()).presets).toEqual([])
  expect((await ask(`/events/${before.event.id}/open`, 'POST')).status).toBe(200)
  expect((await desk()).presets).toEqual(before.presets)
  const ids = before.presets.slice(0, 5).map((p) => p.id)
  const copied = await answer<{ ids: string[] }>('/presets/copy', 'POST', {
    ids,
    eventId: made.id,
    cameraId: null,
  })
  expect(copied.ids).toHaveLength(5)
  const lectern = before.cameras.find((c) => c.name === 'Lectern')!
  const trio = before.cameras.find((c) => c.name === 'Interval trio')!
  const close = before.presets.find((p) => p.cameraId === lectern.id)!
  const to = (cameraId: string) =>
    ask('/presets/copy', 'POST', { ids: [close.id], eventId: before.event.id, cameraId })
  expect((await to(trio.id)).status).toBe(200)
  expect((await to(before.cameras[0]!.id)).status).toBe(409)
  const twin = (await desk()).presets.filter((p) => p.cameraId === trio.id && p.name === close.name)
  expect(twin.map((p) => p.pose)).toEqual([close.pose])
  // All of a camera's presets at once, by hand, and undone.
  const page = await openDesk(browser, running, WIDE)
  const had = (await presetsOf('Lectern')).length
  await press(page, 'camera-4')
  await eventually('the trio is chosen', async () => (await textOf(page, 'stage-title')).startsWith('4'))
  await openSheet(page, 1)
  await pressIn(page, 'copies-all')
  await pressIn(page, 'copy-to-camera-3')
  await eventually(
    'they are there',
    async () => (await presetsOf('Lectern')).length === had + (await presetsOf('Interval trio')).length,
  )
  const undo = await page.waitForSelector(`${by('notes-here')} [aria-label="Undo"]`)
  await undo!.click()
  await eventually('they are gone', async () => (await presetsOf('Lectern')).length === had)
  expect((await ask(`/events/${made.id}`, 'DELETE')).status).toBe(200)
  expect((await ask(`/events/${before.event.id}`, 'DELETE')).status).toBe(409)
})

test('a bumped camera: the shift is measured, and one touch mends all its presets; undone as well', async () => {
  const page = await openDesk(browser, running, WIDE)
  const target = await named('Scoreboard')
  await press(page, `tile-${target.number}`)
  await eventually('it matches', async () => /as stored/.test(await textOf(page, 'trust')), 12_000)
  const before = await presetsOf('Gallery')
  await running.faults({ bumpPanDeg: 1.3, bumpTiltDeg: -0.7 })
  await press(page, 'tile-5')
  await eventually('elsewhere', async () => (await tileText(page, 5)).includes('here'), 12_000)
  await press(page, `tile-${target.number}`)
  await eventually('the shift is told', async () => /shifted/.test(await textOf(page, 'trust')), 15_000)
  await press(page, 'mend')
  // Shown on three of them: moved as it was measured, and in its place.
  const sheet = await page.waitForSelector(by('mend-sheet'))
  const left = await sheet!.$$eval('img', (all) => all.map((e) => e.getBoundingClientRect().left))
  const framed = await sheet!.$$eval('[aria-label]', (all) =>
    all
      .filter((e) => /^(Before|After): /.test(e.getAttribute('aria-label')!))
      .map((e) => e.getBoundingClientRect().left),
  )
  expect(left).toHaveLength(6)
  for (let i = 0; i < 6; i += 2) {
    expect(left[i]! - framed[i]!).toBeLessThan(-4)
    expect(Math.abs(left[i + 1]! - framed[i + 1]!)).toBeLessThan(0.5)
  }
  await pressIn(page, 'mend-all')
  await eventually('mended', async () => (await named('Scoreboard')).pose.panDeg !== target.pose.panDeg)
  const after = await presetsOf('Gallery')
  const now = await named('Scoreboard')
  expect(Math.abs(now.pose.panDeg - target.pose.panDeg + 1.3)).toBeLessThan(0.1)
  expect(Math.abs(now.pose.tiltDeg - target.pose.tiltDeg - 0.7)).toBeLessThan(0.1)
  // A mount turns as a whole: between any two presets there is as much as before.
  const apart = (all: typeof before, i: number) => {
    const [a, b] = [all[i]!, all[0]!].map(({ pose }) => {
      const [pan, tilt] = [(pose.panDeg * Math.PI) / 180, (pose.tiltDeg * Math.PI) / 180]
      return [Math.cos(tilt) * Math.sin(pan), Math.sin(tilt), Math.cos(tilt) * Math.cos(pan)] as const
    })
    return (Math.acos(Math.min(1, a![0] * b![0] + a![1] * b![1] + a![2] * b![2])) * 180) / Math.PI
  }
  for (let i = 1; i < after.length; i++)
    expect(Math.abs(apart(after, i) - apart(before, i))).toBeLessThan(0.02)
  const undo = await page.waitForSelector(`${by('note')} [role="button"][aria-label="Undo"]`)
  await undo!.click()
  await eventually(
    'as before',
    async () => Math.abs((await named('Scoreboard')).pose.panDeg - target.pose.panDeg) < 1e-9,
  )
  await running.faults({})
}, 60_000)

test('a picture that stands still is not judged; as soon as one comes that was taken there, it is', async () => {
  const page = await openDesk(browser, running, WIDE)
  await page.keyboard.press('c')
  await page.keyboard.press('5')
  await page.waitForSelector(by('is-live'), { timeout: 15_000 })
  const [first, second] = await presetsOf('Benches')
  const here = (n: number) => () => tileText(page, n).then((text) => text.includes('here'))
  await press(page, `tile-${first!.number}`)
  await eventually('judged', async () => /as stored/.test(await textOf(page, 'trust')), 15_000)
  await running.faults({ videoStalls: true }, 'benches')
  await press(page, `tile-${second!.number}`)
  await eventually('it is there', here(second!.number), 12_000)
  await page.waitForSelector(by('not-live'), { timeout: 12_000 })
  // Longer than a comparison with what stands on the screen would take.
  await sleep(1500)
  expect(await textOf(page, 'trust')).toBe('')
  await running.faults({}, 'benches')
  await eventually('judged by a new one', async () => /as stored/.test(await textOf(page, 'trust')), 25_000)
}, 90_000)

test('the presets as CSV and JSON: out, changed, in again; a list with a fault changes nothing', async () => {
  const before = await desk()
  const get = async (kind: string) => (await ask(`/presets/list.${kind}`)).text()
  const take = (text: string) =>
    fetch(`${running.address}/api/presets/list`, {
      method: 'POST',
      body: text,
      headers: { 'x-steady-heron': '1' },
    })
  expect(await (await take(await get('csv'))).json()).toEqual({ added: 0, changed: 0 })
  expect(await (await take(await get('json'))).json()).toEqual({ added: 0, changed: 0 })
  const list = JSON.parse(await get('json')) as {
    presets: { name: string; number: number; panDeg: number }[]
  }
  list.presets[0]!.name = 'Renamed by a list'
  list.presets.push({ ...list.presets[1]!, number: 900, panDeg: -12.5, name: 'Added by a list' })
  expect(await (await take(JSON.stringify(list))).json()).toEqual({ added: 1, changed: 1 })
  const now = (await desk()).presets
  expect(now.find((p) => p.name === 'Added by a list')).toMatchObject({
    number: 900,
    pose: { panDeg: -12.5 },
  })
  expect(now.length).toBe(before.presets.length + 1)
  const bad = (await get('csv')).replace('-12.5', 'far left')
  const refused = await take(bad)
  expect(refused.status).toBe(400)
  expect(((await refused.json()) as { error: string }).error).toMatch(/Line \d+: panDeg/)
  expect((await desk()).presets).toEqual(now)
})

test('300 presets on six cameras: found, recalled by number, reordered, on a phone with nothing but presets', async () => {
  const { cameras } = await desk()
  const list = JSON.parse(await (await ask('/presets/list.json')).text()) as {
    presets: { camera: number; number: number }[]
  }
  // Fifty seats for each camera, each where one of its own presets stands.
  const seats = cameras.flatMap((camera) => {
    const own = list.presets.filter((p) => p.camera === camera.number)
    return Array.from({ length: 50 }, (_, i) => ({
      ...own[i % own.length]!,
      number: 1001 + i,
      name: `Seat ${camera.number}-${i + 1}`,
    }))
  })
  const text = JSON.stringify({ ...list, presets: seats })
  expect(await answer('/presets/list', 'POST', JSON.parse(text))).toEqual({ added: 300, changed: 0 })
  const page = await browser.newPage()
  await page.setViewport(PHONE)
  await page.goto(`${running.address}/presets`)
  await page.waitForSelector('[data-testid^="tile-"]')
  // Only what can be seen is there.
  expect(await page.$$eval('[data-testid^="tile-"]', (tiles) => tiles.length)).toBeLessThan(60)
  const last = await named('Seat 1-50')
  await page.keyboard.type('1050')
  await page.keyboard.press('Enter')
  await eventually('it is reached', async () => {
    const t = await still(running)
    return Math.abs(t.panDeg - last.pose.panDeg) < 0.1
  })
  await press(page, 'board-find')
  await page.type(by('find-preset'), 'seat')
  await eventually('there are more', async () => /36 of 300/.test(await textOf(page, 'more-found')))
  await page.type(by('find-preset'), ' 5-33')
  await page.waitForSelector(by('tile-5-1033'))
  expect(await page.$$eval('[data-testid^="tile-"]', (tiles) => tiles.length)).toBe(1)
  // The last of them is put first, for everyone.
  const trio = await presetsOf('Interval trio')
  const ids = trio.map((p) => p.id)
  await answer('/presets/order', 'POST', { ids: [ids.at(-1), ...ids.slice(0, -1)], board: 'own' })
  await press(page, 'board-camera')
  await press(page, 'camera-4')
  await eventually(
    'it stands first',
    async () =>
      (await page.$$eval('[data-testid^="tile-"]', (tiles) => tiles[0]?.getAttribute('data-testid'))) ===
      `tile-${trio.at(-1)!.number}`,
  )
})
