/**
 * The bench. Settings: BENCH_MESSAGES (stick messages, default 10,000 at 30 ms, which is five minutes),
 * BENCH_JSON (where the figures go, default bench-results.json).
 */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { Client } from 'pg'
import WebSocket from 'ws'
import { by, PHONE, type Running, sleep, startApplication, startBrowser } from '../e2e/harness'
import { type Baseline, startBaseline } from './baseline'
import { type Figure, quantile, table } from './stats'
import { WireCamera } from './wireCamera'

const MESSAGES = Number(process.env.BENCH_MESSAGES ?? 10_000)
const EVERY_MS = 30
const RECALLS = 200
const OPENINGS = 5
const root = join(__dirname, '..')

/** How late a timer of an otherwise idle process is, ms: what the machine itself adds to all figures. */
async function machineLateness(): Promise<number[]> {
  const late: number[] = []
  for (let i = 0; i < 400; i++) {
    const from = performance.now()
    await sleep(5)
    late.push(performance.now() - from - 5)
  }
  return late
}

/** Opening the page to the first live picture, in a browser that has never seen it, ms. */
async function openings(stack: Running): Promise<number[]> {
  const browser = await startBrowser()
  const times: number[] = []
  for (let i = 0; i <= OPENINGS; i++) {
    const context = await browser.createBrowserContext()
    const page = await context.newPage()
    await page.setViewport(PHONE)
    const from = performance.now()
    await page.goto(stack.address, { waitUntil: 'domcontentloaded' })
    await page.waitForSelector(by('is-live'))
    // The first opening warms up the browser itself.
    if (i > 0) times.push(performance.now() - from)
    await context.close()
  }
  await browser.close()
  return times
}

async function openSocket(stack: Running, path: string): Promise<WebSocket> {
  const socket = new WebSocket(`${stack.address.replace('http', 'ws')}${path}`, { origin: stack.address })
  await new Promise((resolve, reject) => socket.once('open', resolve).once('error', reject))
  return socket
}

async function drive(live: WebSocket, camera: string, wire: WireCamera, baseline: Baseline) {
  const latencies: number[] = []
  const bare: number[] = []
  let sentMs: number | null = null
  wire.onCommand = (command, atMs) => {
    if (command.kind !== 'ptDrive' || sentMs === null) return
    latencies.push(atMs - sentMs)
    sentMs = null
  }
  for (let i = 0; i < MESSAGES; i++) {
    // Never the same speed twice, so that each message makes a packet.
    const pan = (i % 2 ? 1 : -1) * (0.35 + 0.6 * ((i * 0.618) % 1))
    sentMs = performance.now()
    live.send(JSON.stringify({ t: 'stick', camera, pan, tilt: 0, zoom: 0, focus: 0 }))
    await sleep(EVERY_MS / 2)
    bare.push(await baseline.once())
    await sleep(EVERY_MS / 2)
  }
  live.send(JSON.stringify({ t: 'letGo' }))
  return { sticks: latencies, bare }
}

async function recalls(live: WebSocket, presets: string[], wire: WireCamera): Promise<number[]> {
  const latencies: number[] = []
  for (let i = 0; i < RECALLS; i++) {
    const from = performance.now()
    const arrived = new Promise<number>((resolve) => {
      wire.onCommand = (command, atMs) => command.kind === 'ptAbsolute' && resolve(atMs)
    })
    live.send(JSON.stringify({ t: 'recall', request: i, preset: presets[i % presets.length] }))
    latencies.push((await arrived) - from)
    await sleep(60)
  }
  return latencies
}

const residentMB = (pid: number) =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024

function bundleKB(): number {
  const folder = join(root, 'dist/_expo/static/js/web')
  const scripts = readdirSync(folder).filter((name) => name.endsWith('.js'))
  return (
    scripts.reduce((sum, name) => sum + gzipSync(readFileSync(join(folder, name)), { level: 9 }).length, 0) /
    1000
  )
}

const say = (text: string) => console.log(`- ${text}`)

async function main() {
  say('Starting the application')
  const stack = await startApplication()
  const late = await machineLateness()
  say('Opening the page')
  const opened = await openings(stack)
  say('Putting a camera on the wire')
  const wire = new WireCamera()
  const database = new Client(stack.databaseUrl)
  await database.connect()
  await database.query(`update camera set host = '127.0.0.1', port = ${await wire.listen()}`)
  const camera = String((await database.query('select id from camera')).rows[0].id)
  const presets = (await database.query('select id from preset')).rows.map((r) => String(r.id))
  await database.end()
  await stack.restart('SIGTERM')
  const pid = stack.serverPid
  await sleep(1500)
  const pictures = await openSocket(stack, '/live/pictures')
  let frames = 0
  pictures.on('message', () => {
    frames += 1
    pictures.send(JSON.stringify({ t: 'shown', camera }))
  })
  pictures.send(JSON.stringify({ t: 'watch', cameras: [camera] }))
  const live = await openSocket(stack, '/live')
  const baseline = await startBaseline()
  live.on('message', () => {})
  await sleep(1000)
  const before = residentMB(pid)
  frames = 0
  const from = performance.now()
  say(`Driving: ${MESSAGES} stick messages, ${Math.round((MESSAGES * EVERY_MS) / 1000)} s`)
  const { sticks, bare } = await drive(live, camera, wire, baseline)
  const seconds = (performance.now() - from) / 1000
  const memory = residentMB(pid)
  const picturesPerSec = frames / seconds
  await sleep(500)
  say('Recalling')
  const recalled = await recalls(live, presets, wire)
  baseline.close()
  live.terminate()
  pictures.terminate()
  await stack.stop()
  wire.close()

  const figures: Figure[] = [
    {
      name: 'the machine: lateness of an idle timer, p99',
      value: quantile(late, 0.99),
      unit: 'ms',
      aim: null,
    },
    { name: `stick to packet, p50 of ${sticks.length}`, value: quantile(sticks, 0.5), unit: 'ms', aim: null },
    { name: `stick to packet, p99 of ${sticks.length}`, value: quantile(sticks, 0.99), unit: 'ms', aim: 2 },
    {
      name: 'beside it, a bare relay of the same message, p50',
      value: quantile(bare, 0.5),
      unit: 'ms',
      aim: null,
    },
    {
      name: 'beside it, a bare relay of the same message, p99',
      value: quantile(bare, 0.99),
      unit: 'ms',
      aim: null,
    },
    { name: 'stick messages without a packet', value: MESSAGES - sticks.length, unit: '', aim: null },
    { name: 'recall to packet, p50', value: quantile(recalled, 0.5), unit: 'ms', aim: null },
    { name: 'recall to packet, p99', value: quantile(recalled, 0.99), unit: 'ms', aim: null },
    { name: 'pictures a second meanwhile', value: picturesPerSec, unit: '', aim: null },
    { name: 'server memory before driving', value: before, unit: 'MB', aim: null },
    { name: `server memory after ${Math.round(seconds)} s of driving`, value: memory, unit: 'MB', aim: null },
    { name: 'web bundle, gzipped', value: bundleKB(), unit: 'kB', aim: 650 },
    { name: 'page opened to live picture, median', value: quantile(opened, 0.5), unit: 'ms', aim: 2000 },
  ]
  const file = process.env.BENCH_JSON ?? join(root, 'bench-results.json')
  writeFileSync(file, `${JSON.stringify(figures, null, 2)}\n`)
  console.log(`\n${table(figures)}\n\nAs JSON: ${file}`)
  process.exit(0)
}

main().catch((error) => {
  console.error(error)
  process.exit(1)
})
