/** Setup: the list of cameras, venues, and the files in which they travel. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Browser, Page } from 'puppeteer-core'
import { apiOf, withApplication } from './application'
import { by, centre, eventually, frames, press, pressIn, type Running, reads, WIDE } from './harness'

let running: Running
let browser: Browser
let page: Page
const folder = mkdtempSync(join(tmpdir(), 'heron-files-'))

withApplication(
  async (r, b) => {
    ;[running, browser] = [r, b]
    page = await browser.newPage()
    await page.setViewport(WIDE)
    await page.goto(`${running.address}/setup`)
    await page.waitForSelector(by('row-6'))
  },
  { keepPages: true },
)
afterAll(() => {
  rmSync(folder, { recursive: true, force: true })
})

const get = (path: string) => fetch(`${running.address}/api${path}`)
const { desk } = apiOf(() => running)
const order = () =>
  page.$$eval('[data-testid^="row-"]:not([data-testid^="row-health"])', (rows) =>
    rows.map((r) => r.getAttribute('data-testid')!.slice(4)).join(''),
  )

/** Presses what asks for a file, and chooses one. */
async function choose(id: string, name: string, content: Buffer | string): Promise<void> {
  const path = join(folder, name)
  writeFileSync(path, content)
  const [chooser] = await Promise.all([page.waitForFileChooser(), press(page, id)])
  await chooser.accept([path])
}

test('cameras are reordered by dragging, numbered by address, switched off and on in the desk', async () => {
  expect(await order()).toBe('123456')
  // Until all have told how they are, the rows still change their height.
  for (let n = 1; n <= 6; n++) await reads(page, `row-health-${n}`, /ready/)
  const from = await centre(page, 'handle-6')
  const to = await centre(page, 'handle-2')
  await page.mouse.move(from.x, from.y)
  await page.mouse.down()
  await page.mouse.move(from.x, from.y - 20, { steps: 3 })
  await page.mouse.move(to.x, to.y - 10, { steps: 10 })
  await frames(page)
  await page.mouse.up()
  await eventually('6 stands second', async () => (await order()) === '162345')
  await eventually(
    'for everyone',
    async () => (await desk()).cameras.map((c) => c.number).join('') === '162345',
  )
  await press(page, 'number-by-address')
  await eventually('numbers follow the addresses', async () =>
    (await desk()).cameras.every((c, i) => c.number === i + 1),
  )
  await eventually('on the screen too', async () => (await order()) === '123456')
  await press(page, 'toggle-2')
  await reads(page, 'row-health-2', /off/i)
  expect((await desk()).cameras.find((c) => c.number === 2)!.enabled).toBe(false)
  await press(page, 'toggle-2')
  await reads(page, 'row-health-2', /ready/)
})

test('delete a camera and take it back: its presets are there again', async () => {
  const before = await desk()
  await press(page, 'edit-1')
  await pressIn(page, 'delete-camera')
  await eventually('gone', async () => (await desk()).cameras.length === 5)
  await page.waitForSelector(by('note'))
  const undo = await page.waitForSelector(`${by('note')} [role="button"][aria-label="Undo"]`)
  await undo!.click()
  await eventually('back', async () => (await desk()).cameras.length === 6)
  expect((await desk()).presets.length).toBe(before.presets.length)
})

test('a venue goes out to a file and comes back in, after a look at what changes; what was there is kept', async () => {
  const before = await desk()
  const zip = Buffer.from(await (await get(`/venues/${before.venue.id}/file`)).arrayBuffer())
  await press(page, 'part-Venues')
  await choose('take-venue', 'same.zip', zip)
  await reads(page, 'import-plan', /Nothing to change/)
  await page.keyboard.press('Escape')
  const camera = before.cameras[0]!
  const { id, passwords: _, warnings: __, ...settings } = camera
  await fetch(`${running.address}/api/cameras/${id}`, {
    method: 'PUT',
    headers: { 'x-steady-heron': '1', 'content-type': 'application/json' },
    body: JSON.stringify({ settings: { ...settings, name: 'Renamed' }, secrets: {} }),
  })
  await fetch(`${running.address}/api/presets/${before.presets[0]!.id}`, {
    method: 'DELETE',
    headers: { 'x-steady-heron': '1' },
  })
  await choose('take-venue', 'former.zip', zip)
  await reads(page, 'import-plan', /Changes the cameras .*Presets: 1 added, 0 changed, 0 removed/)
  await pressIn(page, 'import-mode-replace')
  await press(page, 'apply-import')
  await eventually('as it was', async () => {
    const now = await desk()
    return now.cameras[0]!.name === camera.name && now.presets.length === before.presets.length
  })
  const after = await desk()
  expect(after.presets.map((p) => [p.name, p.pose])).toEqual(before.presets.map((p) => [p.name, p.pose]))
  for (const { pictureId } of after.presets) expect((await get(`/pictures/${pictureId}`)).status).toBe(200)
  // Passwords are in no file, and those that were here still are.
  expect(zip.toString('latin1')).not.toContain('reed-warbler')
  expect(after.cameras.find((c) => c.connection.kind === 'onvif')!.passwords.link).toBe(true)
})

test('files that are damaged, too new or of another kind are refused in words, and nothing is changed', async () => {
  const before = await desk()
  const zip = Buffer.from(await (await get(`/venues/${before.venue.id}/file`)).arrayBuffer())
  const refuse = async (id: string, name: string, content: Buffer | string, why: RegExp) => {
    await choose(id, name, content)
    await eventually(`refused: ${why}`, () =>
      page.$$eval(
        by('note'),
        (notes, source) => notes.some((n) => new RegExp(source).test(n.textContent ?? '')),
        why.source,
      ),
    )
    expect(await page.$(by('import-sheet'))).toBeNull()
  }
  await refuse('take-venue', 'half.zip', zip.subarray(0, zip.length / 2), /damaged, or no zip/)
  await refuse('take-venue', 'picture.zip', Buffer.from('GIF89a'), /no zip/)
  await refuse('take-csv', 'list.csv', 'a,b\n1,2\n', /column "number" is missing/)
  await refuse('take-csv', 'list.csv', 'number,name,kind,host,port\n1,A,visca-udp,h,99999\n', /Line 2.*65535/)
  expect(await desk()).toEqual(before)
})

test('the list of cameras as CSV: out, changed in a line, in again; presets and passwords stay', async () => {
  const before = await desk()
  const csv = await (await get('/cameras/list.csv')).text()
  const line = csv.split('\r\n').find((l) => l.startsWith(`${before.cameras[1]!.number},`))!
  await choose(
    'take-csv',
    'cameras.csv',
    csv.replace(line, line.replace(before.cameras[1]!.name, 'North aisle')),
  )
  await reads(page, 'import-plan', /Changes the cameras \d North aisle\.$/)
  await press(page, 'apply-import')
  await eventually('renamed', async () => (await desk()).cameras.some((c) => c.name === 'North aisle'))
  const after = await desk()
  expect(after.presets).toEqual(before.presets)
  expect(after.cameras.map((c) => [c.picture, c.passwords])).toEqual(
    before.cameras.map((c) => [c.picture, c.passwords]),
  )
})

test('from one venue to the other in one step, and back with all that is in it', async () => {
  const before = await desk()
  await press(page, 'new-venue')
  await page.waitForSelector(by('venue-name'))
  await page.type(by('venue-name'), 'Village Hall')
  await press(page, 'save-venue-name')
  await eventually('the new one is open', async () => (await desk()).venue.name === 'Village Hall')
  expect((await desk()).cameras).toEqual([])
  await press(page, 'open-Osier Barn')
  await eventually('back', async () => (await desk()).venue.name === 'Osier Barn')
  expect((await desk()).cameras).toEqual(before.cameras)
  await press(page, 'delete-Village Hall')
  await press(page, 'delete-for-good')
  await eventually('deleted', async () => (await desk()).venues.length === before.venues.length)
})
