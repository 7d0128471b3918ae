/** A server opened to the network asks everyone for its access code. */
import type { Browser } from 'puppeteer-core'
import { withApplication } from './application'
import { by, type Running } from './harness'

let running: Running
let browser: Browser

withApplication(
  (r, b) => {
    ;[running, browser] = [r, b]
  },
  { env: { HOST: '0.0.0.0' } },
)

test('pages, routes and sockets are shut until the code is given', async () => {
  expect(running.accessCode).toMatch(/^[2-9A-Z]{8}$/)
  expect((await fetch(`${running.address}/api/desk`)).status).toBe(401)
  const page = await browser.newPage()
  await page.goto(running.address)
  const socket = await page.evaluate(
    () =>
      new Promise((resolve) => {
        const live = new WebSocket(`ws://${window.location.host}/live`)
        live.onopen = () => resolve('open')
        live.onerror = () => resolve('refused')
      }),
  )
  expect(socket).toBe('refused')
  await page.type('input', 'WRONGONE')
  await page.click('button')
  const alert = await page.waitForSelector('[role=alert]')
  expect(await alert!.evaluate((e) => e.textContent)).toContain('not the code')
  await page.type('input', running.accessCode!.toLowerCase())
  await page.click('button')
  await page.waitForSelector(by('is-live'), { timeout: 20_000 })
})
