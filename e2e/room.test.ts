/**
 * The room: touched in several cameras, it tells where these stand, and turns any of them to what another sees.
 * Where they really hang, and where they then look, is the stand-ins' own truth.
 */
import type { Browser, Page } from 'puppeteer-core'
import { Gallery, screenOf } from './gallery'
import {
  by,
  eventually,
  PHONE,
  press,
  pressIn,
  type Running,
  reads,
  type StandInId,
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

type V = [number, number, number]
/** Where they hang in the barn, metres, and which way their pan 0 looks. */
const HANGS: Record<number, { id: StandInId; at: V; yawDeg: number }> = {
  1: { id: 'gallery', at: [0, 3.4, 7], yawDeg: 0 },
  2: { id: 'stage-left', at: [-8.2, 3, 10.2], yawDeg: 40 },
  6: { id: 'scoreboard', at: [2.4, 3.1, 10.6], yawDeg: -12 },
}
const POINTS: V[] = [
  [-4.4, 1.8, 15.6],
  [4.4, 1.8, 15.6],
  [-3.7, 0.8, 12.4],
  [3.7, 0.8, 12.9],
  [-6.2, 2.6, 17.3],
  [0, 4.2, 21.6],
  [1.5, 0.7, 13.4],
]
const RAD = Math.PI / 180
function seen(camera: number, [x, y, z]: V) {
  const { at, yawDeg } = HANGS[camera]!
  const [dx, dy, dz] = [x - at[0], y - at[1], z - at[2]]
  return { panDeg: Math.atan2(dx, dz) / RAD - yawDeg, tiltDeg: Math.atan2(dy, Math.hypot(dx, dz)) / RAD }
}

interface Room {
  version: number
  points: { id: string; marks: { cameraId: string; panDeg: number; tiltDeg: number }[] }[]
  solved: {
    measured: boolean
    cameras: { cameraId: string; at: V }[]
    points: { pointId: string; at: V }[]
  } | null
  picture: { width: number } | null
  pins: unknown[]
  placed: { presetId: string }[]
}
const gallery = new Gallery(() => running)
const { get, send, idOf } = gallery
const room = () => get<Room>('/room')

/** A touch of a slip, 0.1 degrees at most, the same in each run. */
const slip = (i: number, k: number) => 0.1 * Math.sin(i * 7.3 + k * 3.1)

async function opened(size: { width: number; height: number }): Promise<Page> {
  const page = await browser.newPage()
  await page.setViewport(size)
  await page.goto(`${running.address}/sightlines`)
  return page
}

test('a point is where the camera looks; what another desk touches comes in; the cameras are where they hang', async () => {
  await gallery.goTo('Bitterns')
  const page = await opened(WIDE)
  await press(page, 'open-room')
  await reads(page, 'room-says', /Nobody knows yet/)
  await press(page, 'to-points')
  await press(page, 'new-point')
  await reads(page, 'touch-says', /Touch point 1 in 1 Gallery/)
  await pressIn(page, 'mark-here')
  await reads(page, 'point-1', /seen by 1/)
  const { panDeg, tiltDeg } = await still(running)
  const first = await room()
  expect(first.points[0]!.marks).toEqual([
    expect.objectContaining({
      panDeg: expect.closeTo(panDeg, 0),
      tiltDeg: expect.closeTo(tiltDeg, 0),
    }),
  ])
  expect(first.solved).toBeNull()
  const numbers = Object.keys(HANGS).map(Number)
  const ids = await Promise.all(numbers.map(idOf))
  const kept = {
    points: POINTS.map((at, i) => ({
      ...{ id: `p${i}`, name: '' },
      marks: numbers.map((number, k) => {
        const to = seen(number, at)
        return { cameraId: ids[k]!, panDeg: to.panDeg + slip(i, k), tiltDeg: to.tiltDeg + slip(k, i) }
      }),
    })),
    length: {
      from: { kind: 'camera', id: ids[0] },
      to: { kind: 'camera', id: ids[1] },
      metres: Math.hypot(...HANGS[1]!.at.map((x, k) => x - HANGS[2]!.at[k]!)),
      upright: false,
    },
    ...{ pins: [], placed: [] },
  }
  expect((await send('/room', 'PUT', { version: first.version - 1, room: kept })).status).toBe(409)
  expect((await send('/room', 'PUT', { version: first.version, room: kept })).status).toBe(200)
  await reads(page, 'points-say', /Placed: cameras 1, 2, 6\. Touches fit within 0\.\d°/)
  const { solved } = await room()
  const at = (k: number) => solved!.cameras.find(({ cameraId }) => cameraId === ids[k])!.at
  for (const [a, b] of [
    [0, 1],
    [0, 2],
    [1, 2],
  ] as const) {
    const truth = Math.hypot(...HANGS[numbers[a]!]!.at.map((x, k) => x - HANGS[numbers[b]!]!.at[k]!))
    const found = Math.hypot(...at(a).map((x, k) => x - at(b)[k]!))
    // Of a barn of 16 by 24 m.
    expect(Math.abs(found - truth)).toBeLessThan(0.02 * Math.hypot(16, 24))
  }
  await page.close()
}, 120_000)

/** In the middle of what a test id is on. */
const middleOf = (page: Page, id: string) =>
  page.$eval(by(id), (e) => {
    const { left, top, width, height } = e.getBoundingClientRect()
    return { x: left + width / 2, y: top + height / 2 }
  })

async function looksAt(number: number, place: V, withinDeg: number) {
  const to = seen(number, place)
  await eventually(`camera ${number} looks there`, async () => {
    const { panDeg, tiltDeg, moving } = await running.truth(HANGS[number]!.id)
    return !moving && Math.hypot(panDeg - to.panDeg, tiltDeg - to.tiltDeg) < withinDeg
  })
}

test('on the plan: who shows a place, and a camera that nobody touched it in turns there', async () => {
  const page = await opened(WIDE)
  await press(page, 'open-room')
  await page.waitForSelector(by('plan-camera-2'))
  // Between two touched points.
  const spot = await middleOf(page, 'plan-point-7')
  await page.mouse.click(spot.x, spot.y)
  await reads(page, 'place-name', /is shown by/)
  await reads(page, 'showing-2', /2 Stage left.*°.* m wide/)
  await press(page, 'show-2')
  await looksAt(2, POINTS[6]!, 1)
  await page.close()
}, 60_000)

test('a touch in one camera’s Sightlines offers the others that see the same; they turn to it', async () => {
  await gallery.limitToTables()
  const page = await gallery.survey(browser)
  await eventually('it is back', async () => !(await still(running)).moving)
  const [survey] = await gallery.surveys()
  const at = await screenOf(page, survey!.map, seen(1, POINTS[3]!))
  await page.mouse.click(at.x, at.y)
  await page.waitForSelector(by('show-2'))
  await press(page, 'show-2')
  await looksAt(2, POINTS[3]!, 1)
  await looksAt(1, POINTS[3]!, 0.5)
  await page.close()
}, 180_000)

test('on a phone a picture of the hall takes presets by itself, and two pins lay it under the room', async () => {
  const page = await opened(PHONE)
  await page.waitForSelector(by('live-frame'))
  await press(page, 'open-room')
  await pressIn(page, 'room-part-picture')
  const [chooser] = await Promise.all([page.waitForFileChooser(), pressIn(page, 'choose-plan')])
  await chooser.accept(['docs/screenshots/desk-wide.png'])
  await eventually('the picture is there', async () => (await room()).picture !== null)
  const preset = await gallery.named('Bitterns')
  const camera = preset.cameraId
  await pressIn(page, `place-${preset.id}`)
  const touch = async (u: number, v: number) => {
    const box = await page.$eval(`${by('room-plan')} image`, (e) => {
      const { left, top, width, height } = e.getBoundingClientRect()
      return { left, top, width, height }
    })
    await page.mouse.click(box.left + u * box.width, box.top + v * box.height)
  }
  await touch(0.3, 0.4)
  await page.waitForSelector(by(`placed-${preset.number}`))
  expect((await room()).placed).toEqual([expect.objectContaining({ presetId: preset.id })])
  await touch(0.3, 0.4)
  await eventually(
    'a touch recalls it',
    async () => Math.abs((await running.truth('gallery')).panDeg - preset.pose.panDeg) < 0.3,
  )
  for (const [spot, u, v] of [
    [`camera ${camera}`, 0.5, 0.9],
    ['point p5', 0.5, 0.1],
  ] as const) {
    await pressIn(page, `pin-${spot}`)
    await touch(u, v)
  }
  await eventually('it is pinned', async () => (await room()).pins.length === 2)
  await page.waitForSelector(by('plan-camera-6'))
  // It takes further presets as before.
  const other = await gallery.named('Curlews')
  await pressIn(page, `place-${other.id}`)
  await touch(0.7, 0.4)
  await eventually('both are placed', async () => (await room()).placed.length === 2)
  await page.waitForSelector(by(`placed-${other.number}`))
  await pressIn(page, 'remove-plan')
  await eventually('it is gone', async () => (await room()).picture === null)
  await page.close()
}, 90_000)

test('surveys and the room are in the venue file, and come back from it', async () => {
  const { venue } = await gallery.desk()
  const before = await room()
  const [survey] = await gallery.surveys()
  const tile = async (id: string) =>
    Buffer.from(await (await fetch(`${running.address}/api/surveys/${id}/tiles/0/0/0`)).arrayBuffer())
  const piece = await tile(survey!.id)
  const zip = await (await fetch(`${running.address}/api/venues/${venue.id}/file`)).arrayBuffer()
  await send(`/surveys/${survey!.id}`, 'DELETE')
  const { version } = before
  await send('/room', 'PUT', { version, room: { points: [], length: null, pins: [], placed: [] } })
  expect((await room()).solved).toBeNull()
  const looked = (await (
    await fetch(`${running.address}/api/venues/imports/zip`, {
      method: 'POST',
      headers: { 'x-steady-heron': '1' },
      body: zip,
    })
  ).json()) as { id: string; plan: { merge: { surveys: string[]; rooms: string[] } } }
  expect(looked.plan.merge).toMatchObject({ surveys: ['1 Gallery'], rooms: ['Fenland Quiz Final'] })
  expect((await send(`/venues/imports/${looked.id}`, 'POST', { mode: 'merge' })).status).toBe(200)
  const [back] = await gallery.surveys()
  expect(back).toMatchObject({ takenAt: survey!.takenAt, map: survey!.map })
  expect((await tile(back!.id)).equals(piece)).toBe(true)
  expect((await room()).solved).toEqual(before.solved)
  expect((await room()).points).toEqual(before.points)
}, 60_000)
