/** ONVIF cameras of the field in the browser: what they can do works, and what they cannot is said. */
import type { Browser, Page } from 'puppeteer-core'
import { generate } from 'selfsigned'
import { FieldHead } from '../src/simulator/independent/fieldHead'
import type { OnvifOddities } from '../src/simulator/independent/fieldOnvif'
import { FieldOnvifServer, LOGIN, type SocketOddities } from '../src/simulator/independent/fieldOnvifServer'
import { apiOf, withApplication } from './application'
import { by, eventually, fill, press, pressIn, type Running, reads, sleep, WIDE } from './harness'

const HOST = '127.0.95.1'

let running: Running
let browser: Browser
const servers: FieldOnvifServer[] = []

withApplication((r, b) => {
  ;[running, browser] = [r, b]
})
afterAll(() => {
  for (const server of servers) server.close()
})

const { answer } = apiOf(() => running)

async function camera(onvif: Partial<OnvifOddities>, socket: Partial<SocketOddities> = {}) {
  const head = new FieldHead({}, performance.now())
  const server = new FieldOnvifServer(head, onvif, socket)
  servers.push(server)
  const port = await server.listen(HOST)
  return { server, port, truth: () => head.read(performance.now()) }
}

async function added(number: number, name: string, port: number): Promise<void> {
  const settings = {
    ...{ number, name, enabled: true, headProfile: 'common-20x', pageUrl: null },
    connection: { kind: 'onvif', host: HOST, port, user: LOGIN.user },
    picture: { kind: 'none' },
    mount: { upsideDown: false, mirrored: false },
  }
  await answer('/cameras', 'POST', { settings, secrets: { link: LOGIN.password } })
}

/** Drives by the keys to the right, up and in, and lets go. */
async function driven(page: Page, truth: () => ReturnType<FieldHead['read']>): Promise<void> {
  const from = truth()
  const keys = ['ArrowRight', 'ArrowUp', 'PageUp'] as const
  for (const key of keys) await page.keyboard.down(key)
  await eventually('it turns and zooms', async () => {
    const { pan, tilt, zoom } = truth()
    return pan > from.pan + 1 && tilt > from.tilt + 0.5 && zoom > from.zoom
  })
  for (const key of keys) await page.keyboard.up(key)
  await sleep(600)
  expect(truth().moving).toBe(false)
}

test('imaging broken, no focus, no positions: pan, tilt and zoom work, and presets where they can', async () => {
  await answer('/venues', 'POST', { name: 'Field House' })
  const odd = [
    await camera({ imaging: 'broken' }),
    await camera({ imaging: 'no focus' }),
    await camera({ status: 'no positions' }),
  ]
  for (const [i, { port }] of odd.entries()) await added(i + 1, `Odd ${i + 1}`, port)
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await page.goto(running.address)
  for (const [i, { truth }] of odd.entries()) {
    await press(page, `camera-${i + 1}`)
    await reads(page, 'link', /ready/, 12_000)
    await driven(page, truth)
    if (i === 2) continue
    const stored = truth()
    await press(page, 'store')
    await page.waitForSelector(by('tile-1'))
    await page.keyboard.down('ArrowLeft')
    await sleep(700)
    await page.keyboard.up('ArrowLeft')
    await sleep(600)
    await press(page, 'tile-1')
    await eventually('it is back', async () => Math.abs(truth().pan - stored.pan) < 0.2, 12_000)
  }
  // The third tells no position, so that what is stored goes into a memory of its own.
  await press(page, 'store')
  await page.waitForSelector(by('memory-store-sheet'))
}, 120_000)

async function openNew(page: Page, name: string, port: number): Promise<void> {
  await page.goto(`${running.address}/setup`)
  await press(page, 'add-camera')
  await fill(page, 'camera-name', name)
  await pressIn(page, 'link-kind-onvif')
  await fill(page, 'link-host', HOST)
  await fill(page, 'link-port', String(port))
  await fill(page, 'link-user', LOGIN.user)
  await fill(page, 'link-password', LOGIN.password)
}

test('HTTPS with a certificate of its own: shown when it is tried, and another one must be trusted by hand', async () => {
  const make = async (name: string) => {
    const { cert, private: key } = await generate([{ name: 'commonName', value: name }])
    return { cert, key }
  }
  const first = await camera({}, { tls: await make('camera') })
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await openNew(page, 'Secure', first.port)
  await pressIn(page, 'link-secure')
  await pressIn(page, 'try-camera')
  await reads(page, 'outcome', /certificate is remembered: ([0-9A-F]{2} ?){8}/, 12_000)
  first.server.close()
  const other = new FieldOnvifServer(new FieldHead({}, performance.now()), {}, { tls: await make('other') })
  servers.push(other)
  await other.listen(HOST, first.port)
  await pressIn(page, 'try-camera')
  await reads(page, 'outcome', /another certificate than before/, 12_000)
  await pressIn(page, 'trust-certificate')
  await reads(page, 'outcome', /It answers/, 12_000)
})

test('a password in the open: said, allowed by one touch, and sent only then', async () => {
  const { port, server } = await camera({}, { login: 'basic' })
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await openNew(page, 'Open', port)
  await pressIn(page, 'try-camera')
  await reads(page, 'outcome', /takes its password only in the open/, 12_000)
  expect(server.logins).toEqual([])
  await pressIn(page, 'allow-openly')
  await pressIn(page, 'try-camera')
  await reads(page, 'outcome', /It answers/, 12_000)
  expect(server.logins[0]).toMatch(/^Basic /)
})
