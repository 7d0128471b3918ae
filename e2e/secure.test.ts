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

/** @param base the path under which it passes the desk on; there is nothing else */
async function proxyTo(port: number, base = ''): Promise<{ address: string; child: ChildProcess }> {
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
  use_backend heron if { path_beg ${base}/ }
backend heron
  server one 127.0.0.1:${port}
`
  writeFileSync(join(folder, 'haproxy.cfg'), settings)
  const child = spawn('/usr/sbin/haproxy', ['-f', join(folder, 'haproxy.cfg'), '-db'], { stdio: 'ignore' })
  await eventually('the proxy listens', () => listens(own))
  return { address: `https://desk.test:${own}${base}`, child }
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

test('under a path behind the proxy: sign-in, every place, pictures, sticks, files and the way back stay below it', async () => {
  const own = 30_000 + (process.pid % 10_000)
  const running = await startApplication({
    PUBLIC_URL: `https://desk.test:${own}/barn/heron`,
    TRUST_PROXY: '1',
  })
  const { address, child } = await proxyTo(Number(new URL(running.address).port), '/barn/heron')
  try {
    const page = await browser.newPage()
    const missed: string[] = []
    page.on('response', (response) => {
      if (response.status() >= 400 && !response.url().endsWith('/enter')) missed.push(response.url())
    })
    await page.goto(`${address}${running.ownerPath}`)
    await page.type('input[name=name]', 'Wren')
    await page.type('input[name=password]', 'curlews call at dusk')
    await page.click('button')
    await page.waitForSelector(by('is-live'), { timeout: 20_000 })
    expect(new URL(page.url()).pathname).toBe('/barn/heron/')
    const before = await running.truth('gallery')
    await page.keyboard.down('ArrowRight')
    await eventually(
      'it is driven',
      async () => Math.abs((await running.truth('gallery')).panDeg - before.panDeg) > 1,
    )
    await page.keyboard.up('ArrowRight')
    for (const place of ['cues', 'picture', 'sightlines', 'setup', '']) {
      await (await page.waitForSelector(`a[href="/barn/heron/${place}"]`))!.click()
      await eventually(place, async () => new URL(page.url()).pathname === `/barn/heron/${place}`)
    }
    // Opened there at once, not only gone to.
    await page.goto(`${address}/setup`)
    await page.waitForSelector(by('row-1'))
    await page.goto(`${address}/presets`)
    await page.waitForSelector(by('tile-1'))
    const manifest = await page.evaluate(async () => {
      const link = document.querySelector<HTMLLinkElement>('link[rel=manifest]')!
      return ((await (await fetch(link.href)).json()) as { start_url: string }).start_url
    })
    expect(manifest).toBe('/barn/heron/')
    expect(missed).toEqual([])
    await page.close()
  } finally {
    child.kill()
    await running.stop()
  }
}, 90_000)

test('a passkey: made in Setup, it signs in without a password, once for each challenge; removed, it opens nothing', async () => {
  const own = 30_000 + (process.pid % 10_000)
  const running = await startApplication({ PUBLIC_URL: `https://desk.test:${own}`, TRUST_PROXY: '1' })
  const { address, child } = await proxyTo(Number(new URL(running.address).port))
  try {
    const page = await becomeOwner(running, address)
    const devtools = await page.createCDPSession()
    await devtools.send('WebAuthn.enable')
    const { authenticatorId } = await devtools.send('WebAuthn.addVirtualAuthenticator', {
      options: {
        ...{ protocol: 'ctap2', transport: 'internal', hasResidentKey: true, hasUserVerification: true },
        isUserVerified: true,
      },
    })
    await page.goto(`${address}/setup`)
    await (await page.waitForSelector(by('part-Controls')))!.click()
    await (await page.waitForSelector(by('add-passkey')))!.click()
    await page.waitForSelector(by('passkey'))
    const { credentials } = await devtools.send('WebAuthn.getCredentials', { authenticatorId })
    expect(credentials.map(({ rpId }) => rpId)).toEqual(['desk.test'])

    let sent: { url: string; body: string } | null = null
    page.on('request', (request) => {
      if (request.method() === 'POST' && request.url().endsWith('/enter/passkey'))
        sent = { url: request.url(), body: request.postData() ?? '' }
    })
    await page.click(by('sign-out'))
    await (await page.waitForSelector('#passkey:not([hidden])'))!.click()
    await page.waitForSelector(by('is-live'), { timeout: 20_000 })
    const again = await page.evaluate(async ({ url, body }) => {
      const headers = { 'content-type': 'application/json' }
      return (await fetch(url, { method: 'POST', headers, body })).status
    }, sent!)
    // Whoever has seen the answer pass cannot use it.
    expect(again).toBe(401)

    await page.goto(`${address}/setup`)
    await (await page.waitForSelector(by('part-Controls')))!.click()
    await (await page.waitForSelector(by('remove-passkey')))!.click()
    await eventually('it is gone', async () => (await page.$(by('passkey'))) === null)
    await page.click(by('sign-out'))
    await (await page.waitForSelector('#passkey:not([hidden])'))!.click()
    await eventually('it says why', async () =>
      /does not belong to this desk/.test(await page.$eval('#passkey-said', (e) => e.textContent ?? '')),
    )
    await page.close()
  } finally {
    child.kill()
    await running.stop()
  }
}, 90_000)
