/** Connecting cameras as an operator does: by hand, by finding, and reading what is wrong when one does not answer. */
import type { Browser, Page } from 'puppeteer-core'
import wharf from '../demo/wharf-lens.json'
import { apiOf, withApplication } from './application'
import {
  by,
  centre,
  eventually,
  fill,
  openDesk,
  press,
  pressIn,
  type Running,
  reads,
  sleep,
  still,
  textOf,
  tileText,
  WIDE,
} from './harness'

let running: Running
let browser: Browser
const host = (last: number) => `${running.net}.${last}`

withApplication((r, b) => {
  ;[running, browser] = [r, b]
})

const { ask, desk, named } = apiOf(() => running)

async function openSetup(): Promise<Page> {
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await page.goto(`${running.address}/setup`)
  await page.waitForSelector(by('add-camera'))
  return page
}

/** Opens an empty venue, so that nothing is in the list yet. */
async function newVenue(page: Page, name: string): Promise<void> {
  await press(page, 'part-Venues')
  await press(page, 'new-venue')
  await fill(page, 'venue-name', name)
  await press(page, 'save-venue-name')
  await page.waitForSelector(by(`venue-${name}`))
  await press(page, 'part-Cameras')
  await eventually('no cameras yet', async () => (await page.$(by('row-1'))) === null)
}

async function openNew(page: Page, name: string, kind: string): Promise<void> {
  await press(page, 'add-camera')
  await fill(page, 'camera-name', name)
  await pressIn(page, `link-kind-${kind}`)
}

async function closeSheet(page: Page): Promise<void> {
  await pressIn(page, 'close-sheet')
  await eventually('the sheet is closed', async () => (await page.$(by('camera-sheet'))) === null)
}

async function saved(page: Page, number: number): Promise<void> {
  await pressIn(page, 'save-camera')
  await eventually(
    `camera ${number} is kept`,
    async () => (await page.$(by('camera-sheet'))) === null && (await page.$(by(`row-${number}`))) !== null,
    12_000,
  ).catch(async (error: Error) => {
    throw new Error(
      `${error.message}: ${await textOf(page, 'outcome')} ${await textOf(page, 'first-problem')}`,
    )
  })
  await reads(page, `row-health-${number}`, /ready|unheard|sends/i, 12_000)
}

async function tried(page: Page, pattern: RegExp): Promise<void> {
  await pressIn(page, 'try-camera')
  await reads(page, 'outcome', pattern, 10_000)
}

test('each kind by hand: framed UDP, raw TCP, a serial chain, ONVIF with login and video, a rig of two', async () => {
  const page = await openSetup()
  await newVenue(page, 'Reed Hall')

  await openNew(page, 'Framed', 'visca-udp')
  await fill(page, 'link-host', host(11))
  await saved(page, 1)

  await openNew(page, 'Stream', 'visca-tcp')
  await fill(page, 'link-host', host(12))
  await saved(page, 2)

  for (const address of [1, 2]) {
    await openNew(page, `Chain ${address}`, 'visca-serial')
    await fill(page, 'link-path', running.serial)
    await pressIn(page, `link-address-${address}`)
    await saved(page, 2 + address)
  }

  await openNew(page, 'Login', 'onvif')
  await fill(page, 'link-host', host(15))
  await fill(page, 'link-port', '8000')
  await fill(page, 'link-user', 'operator')
  await fill(page, 'link-password', 'reed-warbler-41')
  await tried(page, /It answers/)
  await pressIn(page, 'picture-offer-rtsp')
  await saved(page, 5)

  // The command set belongs to the venue: it is shared as a file.
  expect((await ask('/command-sets', 'POST', wharf)).status).toBe(200)
  await openNew(page, 'Rig', 'visca-udp-raw')
  await press(page, 'camera-rig')
  await fill(page, 'link-host', host(16))
  await pressIn(page, 'lens-kind-commands')
  await fill(page, 'lens-host', host(16))
  await pressIn(page, 'lens-set-wharf-lens')
  await fill(page, 'lens-user', 'lens')
  await fill(page, 'lens-password', 'tidewater-7')
  await tried(page, /only in the open/)
  await pressIn(page, 'lens-openly')
  await saved(page, 6)

  const stored = (await desk()).cameras
  expect(stored.map((c) => c.connection.kind)).toEqual([
    'visca-udp',
    'visca-tcp',
    'visca-serial',
    'visca-serial',
    'onvif',
    'rig',
  ])
  // No password ever comes back.
  expect(JSON.stringify(stored)).not.toMatch(/reed-warbler|tidewater/)
  // The video that was offered plays.
  await page.goto(running.address)
  await page.waitForSelector(by('camera-5'))
  await press(page, 'camera-5')
  await page.waitForSelector(by('is-live'), { timeout: 12_000 })
}, 120_000)

test('each kind by finding: a subnet, ONVIF and the serial line; those of the list are known; a search is called off', async () => {
  const page = await openSetup()
  await newVenue(page, 'Sedge Room')
  await press(page, 'find-cameras')
  await fill(page, 'find-range', `${running.net}.0/24`)
  // What loads above it may move the key away just when it is pressed.
  await eventually('the search runs', async () => {
    await pressIn(page, 'start-search')
    await sleep(500)
    return (await page.$(by('search-state'))) !== null
  })
  await reads(page, 'search-state', /^\d+ found\.$/, 12_000)
  const found = await page.$$eval(by('found'), (rows) => rows.map((r) => r.textContent ?? ''))
  const one = (pattern: RegExp) => expect(found.filter((text) => pattern.test(text))).toHaveLength(1)
  one(new RegExp(`VISCA over IP, ${host(11)}:52381`))
  one(new RegExp(`raw TCP, ${host(12)}:5678`))
  one(new RegExp(`raw UDP, ${host(16)}:1259`))
  one(/Camera 1 of the chain/)
  one(/Camera 2 of the chain/)
  one(new RegExp(`Mere 18x.*ONVIF, ${host(15)}:8000`))
  await pressIn(page, 'choose-visca-tcp')
  await fill(page, 'camera-name', 'Found')
  await saved(page, 1)
  await press(page, 'find-cameras')
  await fill(page, 'find-range', `${host(12)} - ${host(12)}`)
  await press(page, 'start-search')
  await reads(page, 'search-state', /found\.$/, 12_000)
  expect(await page.$$eval(by('found'), (rows) => rows.map((r) => r.textContent).join())).toContain(
    'is 1 Found',
  )
  // A range that makes no sense is told; a running search can be stopped.
  await fill(page, 'find-range', '300.1.2.3/24')
  await press(page, 'start-search')
  await eventually('the range is refused', async () =>
    /as 10\.0\.0\.0\/24/.test(await textOf(page, 'find-sheet')),
  )
  await fill(page, 'find-range', `${running.net}.0/22`)
  await press(page, 'start-search')
  await press(page, 'stop-search')
  await reads(page, 'search-state', /Stopped/)
}, 90_000)

test('what is wrong is said precisely: name, route, port, protocol, login, clock, standby, taken', async () => {
  const page = await openSetup()
  await newVenue(page, 'Fault House')
  await openNew(page, 'Trial', 'visca-udp')
  await fill(page, 'link-host', 'no-such-camera.invalid')
  await tried(page, /name "no-such-camera\.invalid" is not known/)
  await pressIn(page, 'link-kind-visca-tcp')
  await fill(page, 'link-host', '255.255.255.255')
  await tried(page, /no route|cannot be reached from here/)
  await pressIn(page, 'link-kind-visca-udp')
  await fill(page, 'link-host', host(11))
  await fill(page, 'link-port', '52399')
  await tried(page, /Nothing listens on this port/)
  // It answers on another of the usual ports: one touch takes that.
  await pressIn(page, 'link-kind-visca-tcp')
  await fill(page, 'link-port', '5678')
  await tried(page, /Nothing listens on this port/)
  await pressIn(page, 'offer-visca-udp')
  await tried(page, /It answers/)
  // A web server is no camera.
  await pressIn(page, 'link-kind-visca-tcp')
  await fill(page, 'link-port', '8080')
  await tried(page, /does not (answer|speak this kind of) VISCA/)

  await pressIn(page, 'link-kind-onvif')
  await fill(page, 'link-host', host(15))
  await fill(page, 'link-port', '8000')
  await fill(page, 'link-user', 'operator')
  await fill(page, 'link-password', 'wrong')
  await tried(page, /refuses this login/)
  await fill(page, 'link-password', 'reed-warbler-41')
  await running.faults({ clockOffsetMs: 3 * 3_600_000, clockLies: true }, 'benches')
  await tried(page, /because of the time|clock/)
  // A clock that is off and says so is no hindrance: logins are adjusted to it.
  await running.faults({ clockOffsetMs: -3 * 3_600_000 }, 'benches')
  await pressIn(page, 'link-kind-onvif')
  await tried(page, /It answers.*clock is off/)
  await running.faults({}, 'benches')

  await pressIn(page, 'link-kind-visca-serial')
  await fill(page, 'link-path', '/dev/ttyHERON9')
  await tried(page, /serial port \/dev\/ttyHERON9 is not there/)
  await fill(page, 'link-path', running.serial)
  await pressIn(page, 'link-address-3')
  await tried(page, /has 2 cameras, so there is none with address 3/)

  await pressIn(page, 'link-kind-visca-udp')
  await fill(page, 'link-host', host(11))
  await fill(page, 'link-port', '52381')
  await saved(page, 1)
  await openNew(page, 'Twin', 'visca-udp')
  await fill(page, 'link-host', host(11))
  await tried(page, /Camera 1, Trial, already uses this address/)
  await closeSheet(page)

  await press(page, 'edit-1')
  await pressIn(page, 'power-off')
  await eventually('in standby', async () => !(await running.truth()).power)
  await tried(page, /It answers.*in standby/)
  await reads(page, 'health-lines', /standby/)
  await pressIn(page, 'power-on')
  await eventually('on again', async () => (await running.truth()).power)
  await closeSheet(page)

  // An empty password is pointed out.
  await openNew(page, 'Open door', 'onvif')
  await fill(page, 'link-host', host(15))
  await fill(page, 'link-port', '8000')
  await fill(page, 'link-user', 'admin')
  await tried(page, /refuses this login/)
  await pressIn(page, 'save-anyway')
  await page.waitForSelector(by('row-2'))
  await reads(page, 'row-health-2', /refused/i)
  await press(page, 'edit-2')
  await eventually('the password is pointed out', async () =>
    /password/i.test(await textOf(page, 'health-lines')),
  )
}, 120_000)

test('in the barn: the rig is recalled as one, a chain is driven while its other camera recalls, several at once', async () => {
  const venues = (await desk()).venues
  await ask(`/venues/${venues.find((v) => v.name === 'Osier Barn')!.id}/open`, 'POST')
  const page = await openDesk(browser, running, WIDE)
  await press(page, 'camera-6')
  await eventually('the rig is on the Desk', async () => /Scoreboard/.test(await textOf(page, 'stage-title')))
  await eventually('it is ready', async () => /ready/.test(await textOf(page, 'link')), 12_000)
  const target = await named('Top three', 'Scoreboard')
  await press(page, `tile-${target.number}`)
  await eventually(
    'the rig is there',
    async () => (await tileText(page, target.number)).includes('here'),
    12_000,
  )
  const rig = await still(running, 'scoreboard')
  expect(Math.abs(rig.panDeg - target.pose.panDeg)).toBeLessThan(0.1)
  expect(Math.abs(rig.zoomPos - target.pose.zoom)).toBeLessThan(40)

  await press(page, 'camera-3')
  await eventually(
    'it is ready',
    async () => /Lectern.*ready/.test(await textOf(page, 'stage-title')),
    12_000,
  )
  const fiddle = await named('Fiddle', 'Interval trio')
  const before = await running.truth('lectern')
  const pad = await centre(page, 'pad')
  await page.mouse.move(pad.x, pad.y)
  await page.mouse.down()
  await page.mouse.move(pad.x + 50, pad.y, { steps: 3 })
  expect((await ask(`/presets/${fiddle.id}/recall`, 'POST')).status).toBe(200)
  for (let i = 0; i < 20; i++) {
    await page.mouse.move(pad.x + 50 + (i % 2) * 4, pad.y)
    await sleep(60)
  }
  expect((await running.truth('lectern')).panDeg).toBeGreaterThan(before.panDeg + 1)
  await page.mouse.up()
  await still(running, 'lectern')
  const trio = await still(running, 'trio')
  expect(Math.abs(trio.panDeg - fiddle.pose.panDeg)).toBeLessThan(0.1)
  expect(Math.abs(trio.zoomPos - fiddle.pose.zoom)).toBeLessThan(40)

  // Two at once; the one that hangs upside down goes the same way in its picture.
  await press(page, 'several')
  await press(page, 'camera-4')
  await reads(page, 'along', /3, 4/)
  const [lectern, hung] = [await running.truth('lectern'), await running.truth('trio')]
  await page.keyboard.down('ArrowRight')
  await sleep(700)
  await page.keyboard.up('ArrowRight')
  await still(running, 'trio')
  expect((await still(running, 'lectern')).panDeg).toBeGreaterThan(lectern.panDeg + 1)
  expect((await running.truth('trio')).panDeg).toBeLessThan(hung.panDeg - 1)
}, 90_000)
