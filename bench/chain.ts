/** A stop on a serial line of seven cameras at 9600 baud that all others keep full. */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Running, sleep } from '../e2e/harness'
import { headProfile } from '../src/core/heads/registry'
import { PacketStream } from '../src/core/visca/stream'
import { Head } from '../src/simulator/body/head'
import { SerialChain } from '../src/simulator/protocol/serialChain'
import { addCamera, allReady, openSocket, openVenue } from './rig'
import { type Figure, quantile } from './stats'

const CAMERAS = 7
const STOPS = 150
const BITS_PER_BYTE = 10
const BAUD = 9600

export async function benchChain(stack: Running): Promise<Figure[]> {
  const folder = mkdtempSync(join(tmpdir(), 'heron-line-'))
  const path = join(folder, 'line')
  const heads = Array.from(
    { length: CAMERAS },
    () => new Head(headProfile('marsh-20x'), { panDeg: 0, tiltDeg: 0, zoom: 0 }, () => 8, performance.now()),
  )
  let bytes = 0
  let waiting: { address: number; fromMs: number } | null = null
  const waits: number[] = []
  const stream = new PacketStream()
  const chain = new SerialChain(heads, path, BAUD, (written) => {
    bytes += written.length
    for (const packet of stream.push(written)) {
      const drive = packet[1] === 0x01 && packet[2] === 0x06 && packet[3] === 0x01
      if (!drive || packet[6] !== 3 || packet[0] !== 0x80 + (waiting?.address ?? 0)) continue
      waits.push(performance.now() - waiting!.fromMs)
      waiting = null
    }
  })
  await chain.listen()
  await openVenue(stack, 'Bench of a chain')
  const cameras: string[] = []
  for (let address = 1; address <= CAMERAS; address++)
    cameras.push(
      await addCamera(stack, address, { kind: 'visca-serial', path, baud: BAUD, format: '8N1', address }),
    )
  await allReady(stack, CAMERAS)
  const live = await openSocket(stack, '/live')
  live.on('message', () => {})
  const stick = (i: number, pan: number) =>
    live.send(JSON.stringify({ t: 'stick', camera: cameras[i], pan, tilt: 0, zoom: 0, focus: 0 }))
  let n = 0
  const hold = setInterval(() => {
    n += 1
    for (let i = 0; i < CAMERAS; i++)
      if (waiting?.address !== i + 1) stick(i, (n % 2 ? 1 : -1) * (0.35 + 0.6 * (((n + i) * 0.618) % 1)))
  }, 20)
  await sleep(1500)
  const [from, before] = [performance.now(), bytes]
  for (let i = 0; i < STOPS; i++) {
    await sleep(60 + ((i * 37) % 41))
    waiting = { address: 1 + (i % CAMERAS), fromMs: performance.now() }
    stick(i % CAMERAS, 0)
    await sleep(60)
  }
  const full = ((bytes - before) * BITS_PER_BYTE) / BAUD / ((performance.now() - from) / 1000)
  clearInterval(hold)
  live.send(JSON.stringify({ t: 'letGo' }))
  await sleep(800)
  live.terminate()
  await openVenue(stack, 'Bench without a chain')
  chain.close()
  rmSync(folder, { recursive: true, force: true })
  return [
    {
      name: `chain of 7 at 9600 baud, ${Math.round(100 * full)} % full: stop on the wire, p50 of ${waits.length}`,
      value: quantile(waits, 0.5),
      unit: 'ms',
      aim: null,
    },
    {
      name: 'chain of 7 at 9600 baud: stop on the wire, longest',
      value: Math.max(...waits),
      unit: 'ms',
      aim: 25,
    },
    { name: 'chain of 7: stops that did not come', value: STOPS - waits.length, unit: '', aim: 1 },
  ]
}
