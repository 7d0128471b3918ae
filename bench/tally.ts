/** From a TSL packet to the page that shows it, with twenty cameras driven at once, beside a message that only passes. */
import { createSocket } from 'node:dgram'
import type WebSocket from 'ws'
import type { Running } from '../e2e/harness'
import { sleep } from '../e2e/harness'
import { startBaseline } from './baseline'
import { addCamera, allReady, api, cpuSeconds, openSocket, openVenue } from './rig'
import { type Figure, quantile, ratio, row } from './stats'
import { WireCamera } from './wireCamera'

const CAMERAS = 20
const CUTS = 400
const PORT = 28_811
const PAUSE_MS = 20
const FOLLOWED = 8
const FOLLOW_S = 10

/** What the server needs while so many cameras follow a plan, cores. */
async function followed(stack: Running, live: WebSocket, cameras: readonly string[]): Promise<number> {
  const pose = { panDeg: 60, tiltDeg: 20, zoom: 9000, focusAuto: true, focus: null, encoder: null }
  const pace = { kind: 'timed', seconds: 20 }
  for (const [i, camera] of cameras.entries())
    live.send(JSON.stringify({ t: 'goToPose', request: 9000 + i, camera, pose, pace }))
  await sleep(1000)
  const [before, from] = [cpuSeconds(stack.serverPid), performance.now()]
  await sleep(FOLLOW_S * 1000)
  return (cpuSeconds(stack.serverPid) - before) / ((performance.now() - from) / 1000)
}

export async function benchTally(stack: Running): Promise<Figure[]> {
  await openVenue(stack, 'Bench of tally')
  const wires = Array.from({ length: CAMERAS }, () => new WireCamera())
  const cameras: string[] = []
  for (const [i, wire] of wires.entries()) {
    const port = await wire.listen()
    cameras.push(await addCamera(stack, i + 1, { kind: 'visca-udp', host: '127.0.0.1', port }))
  }
  await allReady(stack, CAMERAS)
  const source = {
    ...{ id: 'bench', name: 'Bench', kind: 'tsl31-udp', port: PORT, enabled: true, program: 2, preview: 1 },
    ...{ silentAfterSeconds: null, cameras: Object.fromEntries(cameras.map((id, i) => [i + 1, id])) },
  }
  await api(stack, '/tally/settings', { sources: [source], byHand: false, lampsOff: cameras }, 'PUT')
  const socket = createSocket('udp4')
  const live = await openSocket(stack, '/live')
  let seen: ((atMs: number) => void) | null = null
  let wanted = ''
  live.on('message', (data) => {
    const atMs = performance.now()
    const text = String(data)
    if (text.includes('"kind":"tally"') && text.includes(wanted) && text.includes('"program"')) seen?.(atMs)
  })
  const baseline = await startBaseline()
  const [took, bare]: [number[], number[]] = [[], []]
  let next = performance.now()
  for (let n = 0; n < CUTS; n++) {
    const camera = n % CAMERAS
    for (const id of cameras)
      live.send(
        JSON.stringify({ t: 'stick', camera: id, pan: n % 2 ? 0.4 : -0.4, tilt: 0, zoom: 0, focus: 0 }),
      )
    wanted = cameras[camera]!
    const told = new Promise<number>((resolve) => {
      seen = resolve
    })
    const from = performance.now()
    for (const [i, lamps] of [
      [camera, 2],
      [(camera + CAMERAS - 1) % CAMERAS, 0],
    ] as const)
      socket.send(Buffer.concat([Buffer.of(0x81 + i, lamps), Buffer.alloc(16, 0x20)]), PORT, '127.0.0.1')
    const at = await Promise.race([told, sleep(1000).then(() => Number.NaN)])
    if (Number.isNaN(at)) throw new Error('the page was never told')
    took.push(at - from)
    bare.push(...(await baseline.burst(1)))
    next = Math.max(next + PAUSE_MS, performance.now())
    await sleep(Math.max(0, next - performance.now()))
  }
  live.send(JSON.stringify({ t: 'letGo' }))
  await sleep(3000)
  const load = await followed(stack, live, cameras.slice(0, FOLLOWED))
  live.close()
  socket.close()
  baseline.close()
  for (const wire of wires) wire.close()
  return [
    row('TSL packet to the page, 20 cameras driven, p50', quantile(took, 0.5), 'ms'),
    row('TSL packet to the page, 20 cameras driven, p99', quantile(took, 0.99), 'ms', 50),
    row(`${FOLLOWED} followed moves at once`, load, 'cores', 0.5),
    row('the same to a bare relay, p99', ratio(took, bare, 0.99), 'x'),
  ]
}
