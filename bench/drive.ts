/** One camera: stick message to packet, beside a relay that does nothing else; recalls; memory. */
import type WebSocket from 'ws'
import { type Running, sleep } from '../e2e/harness'
import type { DeskView } from '../src/server/api'
import { type Baseline, startBaseline } from './baseline'
import { addCamera, allReady, api, givePresets, openSocket, openVenue, residentMB } from './rig'
import { type Figure, quantile, ratio, row } from './stats'
import { WireCamera } from './wireCamera'

const MESSAGES = Number(process.env.BENCH_MESSAGES ?? 3000)
const EVERY_MS = 30
const RECALLS = 200

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

export async function benchDrive(stack: Running): Promise<Figure[]> {
  const barn = (await api<DeskView>(stack, '/desk')).cameras
  const shown = barn.find((c) => c.connection.kind === 'visca-udp')!
  await openVenue(stack, 'Bench of one')
  const wire = new WireCamera()
  const port = await wire.listen()
  // With a picture beside it, as on the Desk.
  const camera = await addCamera(stack, 1, { kind: 'visca-udp', host: '127.0.0.1', port }, shown.picture)
  const [presets] = await givePresets(stack, [camera])
  await allReady(stack, 1)
  const pictures = await openSocket(stack, '/live/pictures')
  let frames = 0
  pictures.on('message', () => {
    frames += 1
    pictures.send(JSON.stringify({ t: 'shown', camera }))
  })
  pictures.send(JSON.stringify({ t: 'watch', cameras: [{ id: camera, perSec: 30 }] }))
  const live = await openSocket(stack, '/live')
  const baseline = await startBaseline()
  live.on('message', () => {})
  await sleep(1000)
  const before = residentMB(stack.serverPid)
  frames = 0
  const from = performance.now()
  const { sticks, bare } = await drive(live, camera, wire, baseline)
  const seconds = (performance.now() - from) / 1000
  const memory = residentMB(stack.serverPid)
  await sleep(500)
  const recalled = await recalls(live, presets!, wire)
  baseline.close()
  live.terminate()
  pictures.terminate()
  wire.close()
  return [
    row(`stick to packet, p50 of ${sticks.length}`, quantile(sticks, 0.5), 'ms'),
    row('stick to packet, p99', quantile(sticks, 0.99), 'ms'),
    row('beside it, a bare relay of the same message, p50', quantile(bare, 0.5), 'ms'),
    row('beside it, a bare relay of the same message, p99', quantile(bare, 0.99), 'ms'),
    row('stick to packet over the bare relay, p50', quantile(sticks, 0.5) - quantile(bare, 0.5), 'ms', 0.4),
    row('stick to packet, p99 by the bare relay', ratio(sticks, bare, 0.99), 'times', 1.5),
    row('stick messages without a packet', MESSAGES - sticks.length, ''),
    row('recall to packet, p50', quantile(recalled, 0.5), 'ms'),
    row('recall to packet, p99', quantile(recalled, 0.99), 'ms', 25),
    row('pictures a second meanwhile', frames / seconds, ''),
    row('server memory before driving', before, 'MB'),
    row(`server memory after ${Math.round(seconds)} s of driving`, memory, 'MB'),
  ]
}
