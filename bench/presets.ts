/** Ten thousand presets in one event: found, shown, scrolled, recalled by a touch; and the comparison after an arrival. */
import { Client } from 'pg'
import type { Browser, Page } from 'puppeteer-core'
import { by, PHONE, press, type Running, sleep, startBrowser, WIDE } from '../e2e/harness'
import type { DeskView } from '../src/server/api'
import { clockOffset, lastEvent, watchEvents } from './pageClock'
import { addCamera, allReady, api, openVenue } from './rig'
import { type Figure, quantile, row } from './stats'
import { WireCamera } from './wireCamera'

const CAMERAS = 6
const PRESETS = 10_000
const SEARCHES = ['seat 4', 'host', '777', 'alto', 'row', 'seat 99', 'c', 'bench 12']
const OPENINGS = 24
const TOUCHES = 120
const CHECKS = 8
const SCROLL_S = 6

const NAMES = ['Seat', 'Host', 'Alto', 'Row', 'Bench', 'Choir', 'Lectern']

/** From an act to the frame in which what it leads to has been drawn, ms, in the page itself. */
const UNTIL_DRAWN = `window.__untilDrawn = (act, shown) => new Promise((resolve) => {
  const from = performance.now()
  act()
  const look = () => {
    if (!shown()) return requestAnimationFrame(look)
    // After the next frame has begun the last one has been drawn.
    requestAnimationFrame(() => resolve(performance.now() - from))
  }
  look()
})`

async function fill(stack: Running): Promise<void> {
  const presets = Array.from({ length: PRESETS }, (_, i) => ({
    camera: 1 + (i % CAMERAS),
    number: 1 + Math.floor(i / CAMERAS),
    name: `${NAMES[i % NAMES.length]} ${1 + Math.floor(i / NAMES.length)}`,
    section: `Block ${1 + Math.floor(i / CAMERAS / 60)}`,
    mark: '',
    panDeg: Math.round(((i * 37) % 1600) - 800) / 10,
    tiltDeg: Math.round(((i * 13) % 400) - 200) / 10,
    magnification: 1 + (i % 18),
    focusAuto: true,
    focus: null,
  }))
  await api(stack, '/presets/list', { format: 'steady-heron/presets', version: 1, presets })
}

/** A picture each: those of the demo, again and again. */
async function givePictures(stack: Running): Promise<void> {
  const database = new Client(stack.databaseUrl)
  await database.connect()
  await database.query(`
    with pictures as (select id, row_number() over () - 1 as n, count(*) over () as all from picture)
    update preset_version v set picture_id = p.id
      from preset, pictures p
      where preset.id = v.preset_id and v.picture_id is null and p.n = preset.number % p.all`)
  await database.end()
  await stack.restart('SIGTERM')
}

async function searches(page: Page): Promise<number[]> {
  await press(page, 'board-find')
  await page.waitForSelector(by('find-preset'))
  const times: number[] = []
  for (const text of SEARCHES) {
    const before = await page.evaluate(
      (selector) => document.querySelector(selector)?.getAttribute('data-testid') ?? '',
      '[data-testid^="tile-"]',
    )
    times.push(
      (await page.evaluate(
        `__untilDrawn(() => {
          const field = document.querySelector('[data-testid="find-preset"]')
          Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, ${JSON.stringify(text)})
          field.dispatchEvent(new Event('input', { bubbles: true }))
        }, () => {
          const first = document.querySelector('[data-testid^="tile-"]')
          return first && first.getAttribute('data-testid') !== ${JSON.stringify(before)}
        })`,
      )) as number,
    )
    await sleep(250)
  }
  await press(page, 'board-camera')
  return times
}

async function openings(page: Page): Promise<number[]> {
  const times: number[] = []
  for (let i = 0; i < OPENINGS; i++) {
    const number = 2 + (i % (CAMERAS - 1))
    times.push(
      (await page.evaluate(
        `__untilDrawn(
          () => document.querySelector('[data-testid="camera-${number}"]').click(),
          () => document.querySelector('[data-testid="stage-title"]').textContent.startsWith('${number}')
            && document.querySelectorAll('[data-testid^="tile-"]').length > 6)`,
      )) as number,
    )
    await sleep(300)
  }
  return times
}

/** Rolls through the board as fast as a hand would, there and back. */
async function scrolled(page: Page): Promise<number[]> {
  return (await page.evaluate(`new Promise((resolve) => {
    const board = document.querySelector('[data-testid="board"]')
    const times = []
    const from = performance.now()
    let last = from
    requestAnimationFrame(function tick(now) {
      if (now > from) times.push(now - last)
      last = now
      const s = (now - from) / 1000
      if (s > ${SCROLL_S}) return resolve(times.slice(2))
      board.scrollTop += (s < ${SCROLL_S / 2} ? 1 : -1) * 60
      requestAnimationFrame(tick)
    })
  })`)) as number[]
}

/** From a thumb on a tile to the first packet of its recall. */
async function touches(page: Page, wire: WireCamera): Promise<number[]> {
  const session = await page.createCDPSession()
  const places = []
  for (const number of [1, 2]) {
    const box = await (await page.waitForSelector(by(`tile-${number}`)))!.boundingBox()
    places.push({ x: box!.x + box!.width / 2, y: box!.y + box!.height / 2 })
  }
  const times: number[] = []
  const offset = await clockOffset(page)
  await watchEvents(page)
  for (let i = 0; i < TOUCHES; i++) {
    const at = places[i % 2]!
    await session.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [at] })
    await sleep(40)
    const came = new Promise<number>((resolve) => {
      const timer = setTimeout(() => resolve(Number.NaN), 800)
      wire.onCommand = (command, atMs) => {
        if (command.kind !== 'ptAbsolute') return
        clearTimeout(timer)
        wire.onCommand = () => {}
        resolve(atMs)
      }
    })
    await session.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] })
    times.push((await came) + offset - (await lastEvent(page)))
    await sleep(120)
  }
  return times.filter(Number.isFinite)
}

/** In the barn, since a comparison needs something to see. */
async function checks(stack: Running, browser: Browser): Promise<number[]> {
  const { venues } = await api<DeskView>(stack, '/desk')
  await api(stack, `/venues/${venues.find((v) => v.name === 'Osier Barn')!.id}/open`, {})
  await allReady(stack, CAMERAS)
  const page = await browser.newPage()
  await page.setViewport(WIDE)
  await page.goto(stack.address)
  await page.waitForSelector(by('is-live'), { timeout: 20_000 })
  for (let i = 0; i < CHECKS; i++) {
    await press(page, `tile-${1 + (i % 6)}`)
    await sleep(600)
    await page.waitForSelector(by('trust'), { timeout: 20_000 }).catch(() => null)
  }
  const times = (await page.evaluate(
    `performance.getEntriesByName('trust check').map((entry) => entry.duration)`,
  )) as number[]
  await page.close()
  return times
}

export async function benchPresets(stack: Running): Promise<Figure[]> {
  await openVenue(stack, 'Bench of presets')
  const wires = Array.from({ length: CAMERAS }, () => new WireCamera())
  for (const [i, wire] of wires.entries()) {
    const port = await wire.listen()
    await addCamera(stack, i + 1, { kind: 'visca-udp', host: '127.0.0.1', port })
  }
  await fill(stack)
  await givePictures(stack)
  await allReady(stack, CAMERAS)
  const browser = await startBrowser()
  const page = await browser.newPage()
  await page.setViewport(PHONE)
  await page.evaluateOnNewDocument(UNTIL_DRAWN)
  await page.goto(stack.address)
  await page.waitForSelector(by('tile-1'), { timeout: 30_000 })
  await sleep(2500)
  const touched = await touches(page, wires[0]!)
  const found = await searches(page)
  const opened = await openings(page)
  await page.goto(`${stack.address}/presets`)
  await page.waitForSelector('[data-testid^="tile-"]', { timeout: 30_000 })
  await sleep(1500)
  const frames = await scrolled(page)
  await page.close()
  const checked = await checks(stack, browser)
  await browser.close()
  for (const wire of wires) wire.close()
  return [
    row(`touch on a tile to the first packet, p50 of ${touched.length}`, quantile(touched, 0.5), 'ms'),
    row('touch on a tile to the first packet, p99', quantile(touched, 0.99), 'ms', 25),
    row(`search in ${PRESETS} presets, typed to drawn, median`, quantile(found, 0.5), 'ms'),
    row('search, longest', Math.max(...found), 'ms', 50),
    row('a board of 1667 opens, median', quantile(opened, 0.5), 'ms'),
    row('a board of 1667 opens, longest', Math.max(...opened), 'ms', 300),
    row('scrolling it: a frame, p99', quantile(frames, 0.99), 'ms'),
    row('scrolling it: longest frame', Math.max(...frames), 'ms', 33.4),
    row(`scrolling it: frames over 33 ms, of ${frames.length}`, frames.filter((t) => t > 33.4).length, ''),
    row(`trust check in the worker, longest of ${checked.length}`, Math.max(...checked), 'ms', 150),
  ]
}
