/** The whole way from a finger in the browser to the packet on the wire, with four live pictures on the screen. */
import type { CDPSession, Page } from 'puppeteer-core'
import { by, PHONE, type Running, sleep, startBrowser } from '../e2e/harness'
import type { DeskView } from '../src/server/api'
import { clockOffset, lastEvent, watchEvents } from './pageClock'
import { addCamera, allReady, api, openVenue } from './rig'
import { type Figure, quantile, row } from './stats'
import { WireCamera } from './wireCamera'

const MOVES = Number(process.env.BENCH_MOVES ?? 400)
const RELEASES = 60
const DRIVE_S = 10
const CAMERAS = 4

type Touch = (
  type: 'touchStart' | 'touchMove' | 'touchEnd',
  points: { x: number; y: number }[],
) => Promise<unknown>

async function latencies(page: Page, touch: Touch, wire: WireCamera, pad: { x: number; y: number }) {
  const offset = await clockOffset(page)
  await watchEvents(page)
  let stops = true
  const arrival = () =>
    new Promise<number>((resolve) => {
      const timer = setTimeout(() => resolve(Number.NaN), 800)
      wire.onCommand = (command, atMs) => {
        if (command.kind !== 'ptDrive' || (command.pan === 0 && command.tilt === 0) !== stops) return
        clearTimeout(timer)
        wire.onCommand = () => {}
        resolve(atMs)
      }
    })
  const moved: number[] = []
  const released: number[] = []
  stops = false
  await touch('touchStart', [pad])
  for (let i = 0; i < MOVES; i++) {
    // To the other side each time, so that it is another drive.
    const side = i % 2 ? 1 : -1
    const came = arrival()
    await touch('touchMove', [{ x: pad.x + side * (30 + ((i * 7) % 40)), y: pad.y + ((i * 5) % 20) - 10 }])
    const at = await came
    if (Number.isFinite(at)) moved.push(at + offset - (await lastEvent(page)))
    await sleep(25)
  }
  await touch('touchEnd', [])
  await sleep(300)
  for (let i = 0; i < RELEASES; i++) {
    await touch('touchStart', [pad])
    await touch('touchMove', [{ x: pad.x + (i % 2 ? 60 : -60), y: pad.y }])
    await sleep(180)
    stops = true
    const came = arrival()
    await touch('touchEnd', [])
    const at = await came
    if (Number.isFinite(at)) released.push(at + offset - (await lastEvent(page)))
    stops = false
    await sleep(120)
  }
  return { moved, released }
}

/** How long each frame of the page took while a thumb drove. */
async function frames(page: Page, touch: Touch, pad: { x: number; y: number }): Promise<number[]> {
  // As text: what compiles this file puts helpers into functions that a page does not have.
  await page.evaluate(`{
    const times = (window.__frames = [])
    let last = performance.now()
    requestAnimationFrame(function tick(now) {
      times.push(now - last)
      last = now
      requestAnimationFrame(tick)
    })
  }`)
  await touch('touchStart', [pad])
  const end = performance.now() + DRIVE_S * 1000
  for (let i = 0; performance.now() < end; i++) {
    await touch('touchMove', [{ x: pad.x + 60 * Math.sin(i / 9), y: pad.y + 40 * Math.cos(i / 13) }])
    await sleep(16)
  }
  await touch('touchEnd', [])
  return page.evaluate(() => (window as unknown as { __frames: number[] }).__frames.slice(3))
}

export async function benchDesk(stack: Running): Promise<Figure[]> {
  const barn = (await api<DeskView>(stack, '/desk')).cameras.map((c) => c.picture)
  const open = barn.filter((p) => (p.kind === 'mjpeg' && p.user === '') || p.kind === 'cut-stream')
  await openVenue(stack, 'Bench of the Desk')
  const wires = Array.from({ length: CAMERAS }, () => new WireCamera())
  for (const [i, wire] of wires.entries()) {
    const port = await wire.listen()
    await addCamera(stack, i + 1, { kind: 'visca-udp', host: '127.0.0.1', port }, open[i % open.length])
  }
  await allReady(stack, CAMERAS)
  const browser = await startBrowser()
  const page = await browser.newPage()
  await page.setViewport(PHONE)
  await page.goto(stack.address)
  await page.waitForSelector(by('is-live'), { timeout: 20_000 })
  await sleep(3000)
  const box = await (await page.waitForSelector(by('pad')))!.boundingBox()
  const pad = { x: box!.x + box!.width / 2, y: box!.y + box!.height / 2 }
  const session: CDPSession = await page.createCDPSession()
  const touch: Touch = (type, touchPoints) => session.send('Input.dispatchTouchEvent', { type, touchPoints })
  const { moved, released } = await latencies(page, touch, wires[0]!, pad)
  await sleep(500)
  const times = await frames(page, touch, pad)
  await browser.close()
  for (const wire of wires) wire.close()
  return [
    row(
      `finger to packet, four pictures on the screen, p50 of ${moved.length}`,
      quantile(moved, 0.5),
      'ms',
      8,
    ),
    row('finger to packet, p99', quantile(moved, 0.99), 'ms', 20),
    row(`release to stop on the wire, p50 of ${released.length}`, quantile(released, 0.5), 'ms'),
    row('release to stop on the wire, p99', quantile(released, 0.99), 'ms', 20),
    row(`frames of the page in a drive of ${DRIVE_S} s, a second`, times.length / DRIVE_S, ''),
    row('a frame of the page, p99', quantile(times, 0.99), 'ms'),
    row('a frame of the page, longest', Math.max(...times), 'ms', 33),
    row('frames of the page over 33 ms', times.filter((t) => t > 33).length, ''),
  ]
}
