/** Twenty cameras at once: sticks at 50 Hz, a recall to all, and what the server needs for it. */
import type WebSocket from 'ws'
import { type Running, sleep } from '../e2e/harness'
import { type Baseline, startBaseline } from './baseline'
import { addCamera, allReady, cpuSeconds, givePresets, openSocket, openVenue } from './rig'
import { type Figure, quantile, ratio } from './stats'
import { WireCamera } from './wireCamera'

const CAMERAS = 20
const EVERY_MS = 20
const SECONDS = Number(process.env.BENCH_FLEET_SECONDS ?? 30)
const WARM_UP_S = 3
/** Ours and the bare relay take turns, so that a noisy moment falls on both, s. */
const TURN_S = 3
const RECALLS = 30

async function drive(live: WebSocket, cameras: string[], wires: WireCamera[], seconds: number) {
  const latencies: number[] = []
  const sentMs = new Array<number | null>(CAMERAS).fill(null)
  for (const [i, wire] of wires.entries())
    wire.onCommand = (command, atMs) => {
      if (command.kind !== 'ptDrive' || sentMs[i] === null) return
      latencies.push(atMs - sentMs[i]!)
      sentMs[i] = null
    }
  let sent = 0
  const end = performance.now() + seconds * 1000
  for (let n = 0, next = performance.now(); next < end; n++, next += EVERY_MS) {
    for (const [i, camera] of cameras.entries()) {
      const pan = (n % 2 ? 1 : -1) * (0.35 + 0.6 * (((n + i) * 0.618) % 1))
      sentMs[i] = performance.now()
      sent += 1
      live.send(JSON.stringify({ t: 'stick', camera, pan, tilt: 0, zoom: 0, focus: 0 }))
    }
    await sleep(Math.max(0, next + EVERY_MS - performance.now()))
  }
  live.send(JSON.stringify({ t: 'letGo' }))
  return { latencies, sent }
}

/** The same number of messages at the same rate through a relay that does nothing else. */
async function bareTurn(baseline: Baseline, seconds: number): Promise<number[]> {
  const took: number[] = []
  const end = performance.now() + seconds * 1000
  for (let next = performance.now(); next < end; next += EVERY_MS) {
    took.push(...(await baseline.burst(CAMERAS)))
    await sleep(Math.max(0, next + EVERY_MS - performance.now()))
  }
  return took
}

async function recallAll(live: WebSocket, presets: string[][], wires: WireCamera[]): Promise<number[]> {
  const spans: number[] = []
  for (let n = 0; n < RECALLS; n++) {
    const arrivals: number[] = []
    const all = wires.map(
      (wire) =>
        new Promise<void>((resolve) => {
          wire.onCommand = (command, atMs) => {
            if (command.kind !== 'ptAbsolute') return
            arrivals.push(atMs)
            resolve()
          }
        }),
    )
    for (const [i, pair] of presets.entries())
      live.send(JSON.stringify({ t: 'recall', request: n * 100 + i, preset: pair[n % 2] }))
    await Promise.all(all)
    spans.push(Math.max(...arrivals) - Math.min(...arrivals))
    await sleep(200)
  }
  return spans
}

export async function benchFleet(stack: Running): Promise<Figure[]> {
  await openVenue(stack, 'Bench of twenty')
  const wires = Array.from({ length: CAMERAS }, () => new WireCamera())
  const cameras: string[] = []
  for (const [i, wire] of wires.entries()) {
    const port = await wire.listen()
    cameras.push(await addCamera(stack, i + 1, { kind: 'visca-udp', host: '127.0.0.1', port }))
  }
  const presets = await givePresets(stack, cameras)
  await allReady(stack, CAMERAS)
  const live = await openSocket(stack, '/live')
  live.on('message', () => {})
  await sleep(500)
  // A server that has just started compiles what it runs for the first time.
  await drive(live, cameras, wires, WARM_UP_S)
  const baseline = await startBaseline()
  const latencies: number[] = []
  const bare: number[] = []
  let [sent, cpu, busyMs] = [0, 0, 0]
  for (let done = 0; done < SECONDS; done += TURN_S) {
    const [before, from] = [cpuSeconds(stack.serverPid), performance.now()]
    const turn = await drive(live, cameras, wires, TURN_S)
    cpu += cpuSeconds(stack.serverPid) - before
    busyMs += performance.now() - from
    latencies.push(...turn.latencies)
    sent += turn.sent
    await sleep(400)
    bare.push(...(await bareTurn(baseline, TURN_S)))
  }
  baseline.close()
  const load = cpu / (busyMs / 1000)
  await sleep(1500)
  const spans = await recallAll(live, presets, wires)
  live.terminate()
  for (const wire of wires) wire.close()
  return [
    {
      name: `20 cameras at 50 Hz: stick to wire, p50 of ${latencies.length}`,
      value: quantile(latencies, 0.5),
      unit: 'ms',
      aim: null,
    },
    {
      name: '20 cameras at 50 Hz: stick to wire, p99',
      value: quantile(latencies, 0.99),
      unit: 'ms',
      aim: null,
    },
    {
      name: 'beside it, the bare relay at the same rate, p99',
      value: quantile(bare, 0.99),
      unit: 'ms',
      aim: null,
    },
    {
      name: '20 cameras at 50 Hz: p99 by the bare relay',
      value: ratio(latencies, bare, 0.99),
      unit: 'times',
      aim: 1.5,
    },
    {
      name: '20 cameras at 50 Hz: sticks without a packet of their own',
      value: (100 * (sent - latencies.length)) / sent,
      unit: '%',
      aim: null,
    },
    { name: '20 cameras at 50 Hz: server, of one core', value: 100 * load, unit: '%', aim: 100 },
    {
      name: 'recall to 20 cameras: first to last packet, median',
      value: quantile(spans, 0.5),
      unit: 'ms',
      aim: 10,
    },
    {
      name: 'recall to 20 cameras: first to last packet, longest',
      value: Math.max(...spans),
      unit: 'ms',
      aim: null,
    },
  ]
}
