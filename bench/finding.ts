/** Finding all cameras of a /24, and six live pictures. */
import { type Running, sleep } from '../e2e/harness'
import type { DeskView, Search } from '../src/server/api'
import { allReady, api, cpuSeconds, openSocket } from './rig'
import type { Figure } from './stats'

const PICTURE_SECONDS = 20
const PER_SEC = 10

export async function benchFinding(stack: Running): Promise<Figure[]> {
  const from = performance.now()
  const order = { onvif: true, serial: false, range: `${stack.net}.0/24` }
  let search = await api<Search>(stack, '/find', order)
  while (search.state === 'running') {
    await sleep(25)
    search = await api<Search>(stack, `/find/${search.id}`)
  }
  const seconds = (performance.now() - from) / 1000
  return [{ name: `finding on a /24: ${search.found.length} answers`, value: seconds, unit: 's', aim: 5 }]
}

/** All six of the barn; must run while the barn is the open venue. */
export async function benchPictures(stack: Running): Promise<Figure[]> {
  const { cameras } = await api<DeskView>(stack, '/desk')
  await allReady(stack, cameras.length)
  const socket = await openSocket(stack, '/live/pictures')
  const counts = new Map<string, number>()
  const decoder = new TextDecoder()
  socket.on('message', (data: Buffer, binary) => {
    if (!binary) return
    // The id stands behind ten bytes of head; see src/core/live/pictureFrame.ts.
    const camera = decoder.decode(data.subarray(10, 10 + data[1]!))
    counts.set(camera, (counts.get(camera) ?? 0) + 1)
    socket.send(JSON.stringify({ t: 'shown', camera }))
  })
  socket.send(JSON.stringify({ t: 'watch', cameras: cameras.map(({ id }) => ({ id, perSec: PER_SEC })) }))
  await sleep(3000)
  counts.clear()
  const [cpu, from] = [cpuSeconds(stack.serverPid), performance.now()]
  await sleep(PICTURE_SECONDS * 1000)
  const seconds = (performance.now() - from) / 1000
  const load = (cpuSeconds(stack.serverPid) - cpu) / seconds
  socket.terminate()
  const rates = cameras.map((c) => (counts.get(c.id) ?? 0) / seconds)
  return [
    { name: 'six live pictures: server and decoders, of one core', value: 100 * load, unit: '%', aim: 100 },
    { name: 'six live pictures: slowest, a second', value: Math.min(...rates), unit: '', aim: null },
    {
      name: 'six live pictures: mean, a second',
      value: rates.reduce((a, b) => a + b, 0) / rates.length,
      unit: '',
      aim: null,
    },
  ]
}
