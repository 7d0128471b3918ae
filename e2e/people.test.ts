/** Three people at once: an owner, an operator, and a helper who is invited, drives, and is ended in mid-drive. */
import type { Browser, BrowserContext, Page } from 'puppeteer-core'
import type { DeskView } from '../src/server/api'
import { withApplication } from './application'
import {
  by,
  centre,
  eventually,
  fill,
  PHONE,
  press,
  type Running,
  reads,
  sleep,
  startBrowser,
  tap,
  WIDE,
} from './harness'

let running: Running
let browser: Browser

withApplication((r) => {
  running = r
})
// Of its own: these pages stay open from one test to the next.
beforeAll(async () => {
  browser = await startBrowser()
}, 30_000)
afterAll(() => browser?.close())

async function opened(path: string, shape: typeof PHONE | typeof WIDE) {
  const context = await browser.createBrowserContext()
  const page = await context.newPage()
  await page.setViewport(shape)
  await page.goto(`${running.address}${path}`)
  return { context, page }
}

async function signIn(page: Page, name: string, password: string) {
  await page.type('input[name=name]', name)
  await page.type('input[name=password]', password)
  await page.click('button')
}

const ask = (page: Page, path: string, method = 'GET', body?: object) =>
  page.evaluate(
    async (to, how, sent) => {
      const answer = await fetch(`/api${to}`, {
        method: how,
        headers: { 'x-steady-heron': '1', 'content-type': 'application/json' },
        ...(sent ? { body: JSON.stringify(sent) } : {}),
      })
      return { status: answer.status, body: (await answer.json().catch(() => null)) as unknown }
    },
    path,
    method,
    body ?? null,
  )
const deskOf = async (page: Page) => (await ask(page, '/desk')).body as DeskView

let owner: { context: BrowserContext; page: Page }
let helper: { context: BrowserContext; page: Page }
let operator: { context: BrowserContext; page: Page }

test('this computer goes on without asking until somebody becomes the owner; then everybody signs in', async () => {
  owner = await opened('/setup', WIDE)
  const { page } = owner
  await tap(page, 'part-People')
  await fill(page, 'owner-name', 'Wren')
  await fill(page, 'owner-password', 'curlews call at dusk')
  await press(page, 'become-owner')
  await page.waitForSelector(by('person-Wren'))
  await reads(page, 'signed-in', /You are Wren, owner/)
  expect((await fetch(`${running.address}/api/desk`)).status).toBe(401)
})

test('an operator is added, signs in, drives and stores, and is not offered the set-up', async () => {
  const { page } = owner
  await press(page, 'add-person')
  await fill(page, 'account-name', 'Rook')
  await fill(page, 'account-password', 'reeds in the wind')
  await press(page, 'keep-account')
  await page.waitForSelector(by('person-Rook'))
  operator = await opened('/', WIDE)
  await signIn(operator.page, 'Rook', 'reeds in the wind')
  await operator.page.waitForSelector(by('is-live'), { timeout: 20_000 })
  const desk = await deskOf(operator.page)
  const camera = desk.cameras[1]!.id
  await sleep(2500)
  expect((await ask(operator.page, '/presets', 'POST', { cameraId: camera, name: 'By Rook' })).status).toBe(
    200,
  )
  const refused = await ask(operator.page, '/events', 'POST', { name: 'Mine' })
  expect(refused).toMatchObject({
    status: 403,
    body: { error: expect.stringMatching(/may not change the set-up/) },
  })
  await operator.page.goto(`${running.address}/setup`)
  await operator.page.waitForSelector(by('part-Controls'))
  expect(await operator.page.$(by('part-People'))).toBeNull()
})

test('a helper comes by the square code’s link to the desk that was made for them, and finds nothing else', async () => {
  const { page } = owner
  await press(page, 'invite')
  await fill(page, 'invitation-name', 'Tables tonight')
  await page.waitForSelector(by('grant-desk-'))
  const tables = (await deskOf(page)).show.desks[0]!
  await press(page, `grant-desk-${tables.id}`)
  await press(page, 'make-invitation')
  await page.waitForSelector(by('square-code'))
  const link = await page.$eval(by('invitation-link'), (e) => e.textContent ?? '')
  await page.keyboard.press('Escape')
  helper = await opened(new URL(link).pathname, PHONE)
  await helper.page.type('input[name=name]', 'Robin')
  await helper.page.click('button')
  await helper.page.waitForSelector(by('helper-Bitterns'), { timeout: 20_000 })
  // Wherever they go, it is this page.
  await helper.page.goto(`${running.address}/setup`)
  await helper.page.waitForSelector(by('helper-Bitterns'))
  const seen = await deskOf(helper.page)
  expect(seen.cameras.map(({ name }) => name).sort()).toEqual(['Benches', 'Gallery'])
  expect(seen.presets).toHaveLength(6)
  expect(JSON.stringify(seen)).not.toMatch(/Lectern|Interval trio/)
  // It was good for once.
  expect((await fetch(link)).status).toBe(404)
})

test('the helper recalls, and is refused a store and what is not on the desk, in a sentence', async () => {
  const before = await running.truth('gallery')
  await tap(helper.page, 'helper-Snipes')
  await eventually(
    'it moves',
    async () => Math.abs((await running.truth('gallery')).panDeg - before.panDeg) > 1,
  )
  const desk = await deskOf(owner.page)
  const gallery = desk.cameras.find(({ name }) => name === 'Gallery')!
  const scoreboard = desk.presets.find((p) => p.cameraId === gallery.id && p.name === 'Scoreboard')!
  const stored = await ask(helper.page, '/presets', 'POST', { cameraId: gallery.id })
  expect(stored).toMatchObject({ status: 403, body: { error: expect.stringMatching(/may not store/) } })
  const other = await ask(helper.page, `/presets/${scoreboard.id}/recall`, 'POST', {})
  expect(other).toMatchObject({ status: 403, body: { error: expect.stringMatching(/not one of yours/) } })
  const picture = await helper.page.evaluate(
    async (id) => (await fetch(`/api/pictures/${id}`)).status,
    scoreboard.pictureId!,
  )
  expect(picture).toBe(404)
})

test('ended in mid-drive, the helper’s camera stands within a second and the page is out', async () => {
  const { page } = helper
  const { x, y } = await centre(page, 'pad')
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x + 60, y)
  const moves = async () => (await running.truth('benches')).moving
  await eventually('it is driven', moves)
  await press(owner.page, 'end-Tables tonight')
  await eventually('it stands', async () => !(await moves()), 1500)
  await page.waitForSelector('input[name=password]', { timeout: 5000 })
  await page.mouse.up()
  expect((await ask(page, '/desk')).status).toBe(401)
})

test('the owner reads who did what, what was refused and why', async () => {
  const { page } = owner
  await tap(page, 'part-Log')
  await reads(page, 'log', /Robin/)
  await reads(page, 'log', /Recalled \d+ Snipes/)
  await reads(page, 'log', /Rook.*Stored a new preset/s)
  await reads(page, 'log', /may not store/)
  await fill(page, 'log-find', 'Rook')
  await eventually('only Rook', async () => {
    const text = await page.$eval(by('log'), (e) => (e as HTMLElement).innerText)
    return text.includes('Rook') && !text.includes('Robin')
  })
  const csv = await page.evaluate(async () => (await fetch('/api/journal/csv?kind=people')).text())
  expect(csv).toMatch(/Wren.*Ended an invitation/)
  await helper.context.close()
  await operator.context.close()
  await owner.context.close()
})
