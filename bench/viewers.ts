/**
 * Fifty who look at one camera, whose video is decoded for all of them once: what they cost the server, whether all
 * of them see it, and whether a hand notices. Its latency is measured beside a bare relay's, without viewers and with
 * them, in the same run.
 */
import type WebSocket from 'ws'
import { Hands } from '../e2e/hands'
import { type Running, sleep } from '../e2e/harness'
import { decodePictureFrame } from '../src/core/live/pictureFrame'
import { startBaseline } from './baseline'
import { addCamera, api, cpuSeconds, openSocket } from './rig'
import { type Figure, quantile, ratio, row } from './stats'
import { WireCamera } from './wireCamera'

const VIEWERS = 50
const PER_SEC = 12
const WATCH_MS = 8000
const TURNS = Number(process.env.BENCH_TURNS ?? 250)

interface Seen {
  frames: number
  ages: number[]
}

async function viewer(stack: Running, camera: string): Promise<{ socket: WebSocket; seen: Seen }> {
  const socket = await openSocket(stack, '/live/pictures')
  const seen: Seen = { frames: 0, ages: [] }
  socket.on('message', (data: Buffer, binary: boolean) => {
    if (!binary) return
    const frame = decodePictureFrame(Uint8Array.from(data).buffer)
    if (!frame) return
    seen.frames += 1
    seen.ages.push(frame.ageMs)
    socket.send(JSON.stringify({ t: 'shown', camera }))
  })
  socket.send(JSON.stringify({ t: 'watch', cameras: [{ id: camera, perSec: PER_SEC }] }))
  return { socket, seen }
}

export async function benchViewers(stack: Running): Promise<Figure[]> {
  const { cameras } = await api<{ cameras: { id: string; name: string }[] }>(stack, '/desk')
  const benches = cameras.find(({ name }) => name === 'Benches')!.id
  const wire = new WireCamera()
  const driven = await addCamera(stack, 99, {
    kind: 'visca-udp',
    host: '127.0.0.1',
    port: await wire.listen(),
  })
  await sleep(3000)
  const hands = await Hands.open(stack.address)
  const baseline = await startBaseline()
  let request = 1
  const turn = (key: string, value: string | number) =>
    hands.send({ t: 'setting', camera: driven, key, value, request: request++ } as never)
  turn('exposureMode', '3')
  await sleep(1500)
  const latencies = async () => {
    const [ours, bare]: [number[], number[]] = [[], []]
    for (let i = 0; i < TURNS; i++) {
      const arrived = new Promise<number>((resolve) => {
        wire.onCommand = (command, atMs) => {
          if (command.kind === 'set' && command.setting === 'iris') resolve(atMs)
        }
      })
      const from = performance.now()
      turn('iris', 6 + (i % 8))
      const atMs = await Promise.race([arrived, sleep(2000).then(() => Number.NaN)])
      if (Number.isNaN(atMs)) throw new Error('a turn of the knob was lost')
      ours.push(atMs - from)
      bare.push(...(await baseline.burst(1)))
      await sleep(25)
    }
    return { ours, bare }
  }
  const alone = await latencies()
  const idleFrom = cpuSeconds(stack.serverPid)
  await sleep(WATCH_MS)
  const idle = (cpuSeconds(stack.serverPid) - idleFrom) / (WATCH_MS / 1000)
  const all = await Promise.all(Array.from({ length: VIEWERS }, () => viewer(stack, benches)))
  await sleep(2000)
  for (const { seen } of all) Object.assign(seen, { frames: 0, ages: [] })
  const from = cpuSeconds(stack.serverPid)
  await sleep(WATCH_MS)
  const busy = (cpuSeconds(stack.serverPid) - from) / (WATCH_MS / 1000)
  const rates = all.map(({ seen }) => seen.frames / (WATCH_MS / 1000))
  const ages = all.flatMap(({ seen }) => seen.ages)
  const watched = await latencies()
  for (const { socket } of all) socket.close()
  baseline.close()
  wire.close()
  await api(stack, `/cameras/${driven}`, undefined, 'DELETE')
  return [
    row(`${VIEWERS} viewers of one camera: processor time of the server`, busy, 'cores', 0.5),
    row('the same without viewers', idle, 'cores'),
    row('pictures a second, the viewer that gets fewest', Math.min(...rates), '/s'),
    row('age of their pictures when sent, p99', quantile(ages, 0.99), 'ms'),
    row(
      'a hand’s latency to a bare relay’s, median, without viewers',
      ratio(alone.ours, alone.bare, 0.5),
      'x',
    ),
    row('the same with them', ratio(watched.ours, watched.bare, 0.5), 'x'),
    row('the same, p99, without viewers', ratio(alone.ours, alone.bare, 0.99), 'x'),
    row('the same, p99, with them', ratio(watched.ours, watched.bare, 0.99), 'x'),
  ]
}
