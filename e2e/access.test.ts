/** A server opened to the network: the first owner, signing in, an invitation, and who is turned away. */
import type { Browser, Page } from 'puppeteer-core'
import { withApplication } from './application'
import { by, type Running, tap } from './harness'

let running: Running
let browser: Browser

withApplication(
  (r, b) => {
    ;[running, browser] = [r, b]
  },
  { env: { HOST: '0.0.0.0' } },
)

const socketOpens = (page: Page, path: string) =>
  page.evaluate(
    (to) =>
      new Promise((resolve) => {
        const live = new WebSocket(`ws://${window.location.host}${to}`)
        live.onopen = () => resolve('open')
        live.onerror = () => resolve('refused')
      }),
    path,
  )

test('pages, routes and sockets are shut; the printed link makes the owner, once', async () => {
  expect(running.ownerPath).toMatch(/^\/owner\/[\w-]{32}$/)
  for (const path of ['/api/desk', '/api/me', '/api/people', '/api/openapi.json'])
    expect((await fetch(`${running.address}${path}`)).status).toBe(401)
  const page = await browser.newPage()
  await page.goto(running.address)
  expect(await socketOpens(page, '/live')).toBe('refused')
  expect(await socketOpens(page, '/live/pictures')).toBe('refused')
  await page.type('input[name=name]', 'Wren')
  await page.type('input[name=password]', 'a guess')
  await page.click('button')
  const alert = await page.waitForSelector('[role=alert]')
  expect(await alert!.evaluate((e) => e.textContent)).toContain('do not belong together')
  await page.goto(`${running.address}${running.ownerPath}`)
  await page.type('input[name=name]', 'Wren')
  await page.type('input[name=password]', 'curlews call at dusk')
  await page.click('button')
  await page.waitForSelector(by('is-live'), { timeout: 20_000 })
  expect((await fetch(`${running.address}${running.ownerPath}`)).status).toBe(404)
  const cookies = await browser.cookies()
  expect(cookies.find(({ name }) => name === 'heron_session')).toMatchObject({
    httpOnly: true,
    sameSite: 'Strict',
  })
})

test('signing out shuts the page, and its cookie is of no use any more', async () => {
  const context = await browser.createBrowserContext()
  const page = await context.newPage()
  await page.goto(`${running.address}/enter`)
  await page.type('input[name=name]', 'wren')
  await page.type('input[name=password]', 'curlews call at dusk')
  await page.click('button')
  await page.waitForSelector(by('is-live'), { timeout: 20_000 })
  const cookie = (await context.cookies()).find(({ name }) => name === 'heron_session')!
  const asked = () =>
    fetch(`${running.address}/api/desk`, { headers: { cookie: `heron_session=${cookie.value}` } })
  expect((await asked()).status).toBe(200)
  await page.goto(`${running.address}/setup`)
  await tap(page, 'part-Controls')
  await page.waitForSelector(by('sign-out'))
  await page.click(by('sign-out'))
  await page.waitForSelector('input[name=password]')
  expect((await asked()).status).toBe(401)
  await context.close()
})
