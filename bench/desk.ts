/** The whole way from a finger in the browser to the packet on the wire, with four live pictures on the screen. */
import type { CDPSession, Page } from 'puppeteer-core'
import { by, PHONE, type Running, sleep, startBrowser } from '../e2e/harness'
import type { DeskView } from '../src/server/api'
import { startBaseline } from './baseline'
import { clockOffset, lastEvent, watchEvents } from './pageClock'
import { addCamera, allReady, api, openVenue } from './rig'
import { type Figure, quantile, ratio, row } from './stats'
import { WireCamera } from './wireCamera'

const MOVES = Number(process.env.BENCH_MOVES ?? 400)
const RELEASES = 60
const DRIVE_S = 10
const CAMERAS = 4

type Touch = (
  type: 'touchStart' | 'touchMove' | 'touchEnd',
  points: { x: number; y: number }[],
) => Promise<unknown>

/** A page with a pad, and how a packet of it is heard. */
interface Way {
  page: Page
  touch: Touch
  pad: { x: number; y: number }
  offset: number
  /** The next packet of a move, or of a release. @returns when it came, by our clock */
  arrival(up: boolean): Promise<number>
}

const ARRIVES_WITHIN_MS = 800

function heard(listen: (heard: ((atMs: number, up: boolean) => void) | null) => void) {
  return (up: boolean) =>
    new Promise<number>((resolve) => {
      const timer = setTimeout(() => resolve(Number.NaN), ARRIVES_WITHIN_MS)
      listen((atMs, wasUp) => {
        if (wasUp !== up) return
        clearTimeout(timer)
        listen(null)
        resolve(atMs)
      })
    })
}

/** One move, to the other side each time, so that it is another drive. @returns ms from the event to the packet */
async function moveOnce({ page, touch, pad, offset, arrival }: Way, i: number): Promise<number> {
  const side = i % 2 ? 1 : -1
  const came = arrival(false)
  await touch('touchMove', [{ x: pad.x + side * (30 + ((i * 7) % 40)), y: pad.y + ((i * 5) % 20) - 10 }])
  const at = await came
  return at + offset - (await lastEvent(page))
}

async function releaseOnce({ page, touch, pad, offset, arrival }: Way, i: number): Promise<number> {
  await touch('touchStart', [pad])
  await touch('touchMove', [{ x: pad.x + (i % 2 ? 60 : -60), y: pad.y }])
  await sleep(180)
  const came = arrival(true)
  await touch('touchEnd', [])
  const at = await came
  return at + offset - (await lastEvent(page))
}

/** Both in turn, so that a noisy moment falls on both. */
async function latencies(ours: Way, bare: Way) {
  const took = {
    moved: [] as number[],
    released: [] as number[],
    bareMoved: [] as number[],
    bareReleased: [] as number[],
  }
  const keep = (list: number[], ms: number) => Number.isFinite(ms) && list.push(ms)
  await ours.touch('touchStart', [ours.pad])
  await bare.touch('touchStart', [bare.pad])
  for (let i = 0; i < MOVES; i++) {
    keep(took.moved, await moveOnce(ours, i))
    await sleep(12)
    keep(took.bareMoved, await moveOnce(bare, i))
    await sleep(12)
  }
  await ours.touch('touchEnd', [])
  await bare.touch('touchEnd', [])
  await sleep(300)
  for (let i = 0; i < RELEASES; i++) {
    keep(took.released, await releaseOnce(ours, i))
    await sleep(100)
    keep(took.bareReleased, await releaseOnce(bare, i))
    await sleep(20)
  }
  return took
}

async function wayOf(page: Page, pad: { x: number; y: number }, arrival: Way['arrival']): Promise<Way> {
  const session: CDPSession = await page.createCDPSession()
  const touch: Touch = (type, touchPoints) => session.send('Input.dispatchTouchEvent', { type, touchPoints })
  const offset = await clockOffset(page)
  await watchEvents(page)
  return { page, touch, pad, offset, arrival }
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
  const ours = await wayOf(
    page,
    pad,
    heard((listener) => {
      wires[0]!.onCommand = (command, atMs) => {
        if (command.kind === 'ptDrive') listener?.(atMs, command.pan === 0 && command.tilt === 0)
      }
    }),
  )
  // In a browser of its own: a page in the background would be throttled.
  const other = await startBrowser()
  const barePage = await other.newPage()
  const baseline = await startBaseline()
  await barePage.setViewport(PHONE)
  await barePage.goto(baseline.address)
  await barePage.waitForFunction('window.__open === true')
  const bare = await wayOf(
    barePage,
    pad,
    heard((listener) => {
      baseline.onPacket = (atMs, up) => listener?.(atMs, up)
    }),
  )
  const { moved, released, bareMoved, bareReleased } = await latencies(ours, bare)
  await other.close()
  baseline.close()
  await sleep(500)
  const times = await frames(page, ours.touch, pad)
  await browser.close()
  for (const wire of wires) wire.close()
  const over = (a: number[], b: number[]) => quantile(a, 0.5) - quantile(b, 0.5)
  return [
    row(`finger to packet, four pictures on the screen, p50 of ${moved.length}`, quantile(moved, 0.5), 'ms'),
    row('finger to packet, p99', quantile(moved, 0.99), 'ms'),
    row('beside it, a bare page, p50', quantile(bareMoved, 0.5), 'ms'),
    row('beside it, a bare page, p99', quantile(bareMoved, 0.99), 'ms'),
    row('finger to packet over the bare page, p50', over(moved, bareMoved), 'ms', 2.5),
    row('finger to packet, p99 by the bare page', ratio(moved, bareMoved, 0.99), 'times', 3),
    row(`release to stop on the wire, p50 of ${released.length}`, quantile(released, 0.5), 'ms'),
    row('release to stop on the wire, p99', quantile(released, 0.99), 'ms'),
    row('beside it, a bare page, p50', quantile(bareReleased, 0.5), 'ms'),
    row('beside it, a bare page, p99', quantile(bareReleased, 0.99), 'ms'),
    row('release to stop over the bare page, p50', over(released, bareReleased), 'ms', 2.5),
    row('release to stop, p99 by the bare page', ratio(released, bareReleased, 0.99), 'times', 3),
    row(`frames of the page in a drive of ${DRIVE_S} s, a second`, times.length / DRIVE_S, ''),
    row('a frame of the page, p99', quantile(times, 0.99), 'ms'),
    row('a frame of the page, longest', Math.max(...times), 'ms', 33),
    row('frames of the page over 33 ms', times.filter((t) => t > 33).length, ''),
  ]
}
