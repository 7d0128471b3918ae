/** A secure connection: the server's own certificate, and a TLS proxy of Debian's before it. */
import { type ChildProcess, spawn } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { request } from 'node:https'
import { connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Browser } from 'puppeteer-core'
import { ownCertificate } from '../src/server/http/ownCertificate'
import { by, eventually, type Running, startApplication, startBrowser } from './harness'

let browser: Browser
beforeAll(async () => {
  // The proxy's certificate is made for the test; the server's own is checked below without the browser.
  browser = await startBrowser([
    '--ignore-certificate-errors',
    '--host-resolver-rules=MAP desk.test 127.0.0.1',
  ])
}, 60_000)
afterAll(() => browser?.close())

async function becomeOwner(running: Running, address: string) {
  const page = await browser.newPage()
  await page.goto(`${address}${running.ownerPath}`)
  await page.type('input[name=name]', 'Wren')
  await page.type('input[name=password]', 'curlews call at dusk')
  await page.click('button')
  await page.waitForSelector(by('is-live'), { timeout: 20_000 })
  return page
}

test('HTTPS=1: the page that shows how to trust it hands out what makes the desk trusted, by each of its names', async () => {
  const trustPort = 20_000 + (process.pid % 10_000)
  const running = await startApplication({ HTTPS: '1', HOST: '0.0.0.0', HERON_TRUST_PORT: String(trustPort) })
  try {
    expect(running.address).toMatch(/^https:/)
    const trust = `http://127.0.0.1:${trustPort}`
    const text = await (await fetch(trust)).text()
    expect(text).toMatch(/iPhone[\s\S]*Android[\s\S]*Windows/)
    expect((await fetch(`${trust}/api/desk`)).status).toBe(404)
    const ca = await (await fetch(`${trust}/steady-heron.crt`)).text()
    const asked = await new Promise<number | string>((resolve) => {
      const { port } = new URL(running.address)
      const sent = request(
        { host: '127.0.0.1', port, servername: 'localhost', ca, path: '/api/desk' },
        (answer) => resolve(answer.statusCode!),
      )
      sent.on('error', (error) => resolve(error.message))
      sent.end()
    })
    expect(asked).toBe(401)
    const page = await becomeOwner(running, running.address)
    expect(await page.evaluate(() => window.isSecureContext && 'serviceWorker' in navigator)).toBe(true)
    const cookie = (await browser.cookies()).find(({ name }) => name === 'heron_session')
    expect(cookie).toMatchObject({ secure: true, httpOnly: true, sameSite: 'Strict' })
    // On a home screen: what a browser wants to know for that.
    const manifest = (await page.evaluate(async () => (await fetch('/manifest.webmanifest')).json())) as {
      display: string
      icons: { src: string; sizes: string }[]
    }
    expect(manifest.display).toBe('fullscreen')
    for (const { src, sizes } of manifest.icons) {
      const size = await page.evaluate(async (path) => {
        const image = await createImageBitmap(await (await fetch(path)).blob())
        return `${image.width}x${image.height}`
      }, src)
      expect(size).toBe(sizes)
    }
    await page.close()
  } finally {
    await running.stop()
  }
}, 90_000)

const listens = (port: number) =>
  new Promise<boolean>((resolve) => {
    const socket = connect(port, '127.0.0.1', () => {
      socket.destroy()
      resolve(true)
    })
    socket.on('error', () => resolve(false))
  })

async function proxyTo(port: number): Promise<{ address: string; child: ChildProcess }> {
  const folder = mkdtempSync(join(tmpdir(), 'heron-proxy-'))
  const { cert, key } = await ownCertificate(folder, ['desk.test'], Date.now())
  writeFileSync(join(folder, 'both.pem'), `${cert}\n${key}`)
  const own = 30_000 + (process.pid % 10_000)
  const settings = `
defaults
  mode http
  timeout connect 3s
  timeout client 1h
  timeout server 1h
frontend desk
  bind 127.0.0.1:${own} ssl crt ${join(folder, 'both.pem')}
  option forwardfor
  default_backend heron
backend heron
  server one 127.0.0.1:${port}
`
  writeFileSync(join(folder, 'haproxy.cfg'), settings)
  const child = spawn('/usr/sbin/haproxy', ['-f', join(folder, 'haproxy.cfg'), '-db'], { stdio: 'ignore' })
  await eventually('the proxy listens', () => listens(own))
  return { address: `https://desk.test:${own}`, child }
}

test('behind a TLS proxy: pictures, sticks and sign-in work under its name, over a secure connection', async () => {
  const own = 30_000 + (process.pid % 10_000)
  const running = await startApplication({ PUBLIC_URL: `https://desk.test:${own}`, TRUST_PROXY: '1' })
  const { address, child } = await proxyTo(Number(new URL(running.address).port))
  try {
    const page = await becomeOwner(running, address)
    expect(await page.evaluate(() => window.isSecureContext)).toBe(true)
    const before = await running.truth('gallery')
    const pad = (await (await page.waitForSelector(by('pad')))!.boundingBox())!
    await page.mouse.move(pad.x + pad.width / 2, pad.y + pad.height / 2)
    await page.mouse.down()
    await page.mouse.move(pad.x + pad.width * 0.8, pad.y + pad.height / 2)
    await eventually(
      'it is driven',
      async () => Math.abs((await running.truth('gallery')).panDeg - before.panDeg) > 1,
    )
    await page.mouse.up()
    await eventually('it stands', async () => !(await running.truth('gallery')).moving)
    const answer = await page.evaluate(async () => {
      const got = await fetch('/api/people')
      const { sessions, addresses } = (await got.json()) as {
        sessions: { address: string }[]
        addresses: string[]
      }
      return {
        from: sessions[0]!.address,
        addresses,
        hsts: got.headers.get('strict-transport-security'),
        csp: got.headers.get('content-security-policy'),
      }
    })
    expect(answer).toEqual({
      from: '127.0.0.1',
      addresses: [address],
      hsts: 'max-age=15552000',
      csp: expect.stringMatching(/script-src 'self';/),
    })
    // Another name, or a page of another origin, is still turned away.
    const { port } = new URL(running.address)
    expect((await fetch(`http://127.0.0.1:${port}/api/me`)).status).toBe(401)
    await page.close()
  } finally {
    child.kill()
    await running.stop()
  }
}, 90_000)
