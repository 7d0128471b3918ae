/** What guardian and limits cost: the same messages through an application with them and one without a guardian, in turn, beside a bare relay. */
import { type Running, sleep, startApplication } from '../e2e/harness'
import { startBaseline } from './baseline'
import { addCamera, allReady, openSocket, openVenue } from './rig'
import { type Figure, quantile, row } from './stats'
import { WireCamera } from './wireCamera'

const MESSAGES = Number(process.env.BENCH_GUARDED ?? 1500)
const GAP_MS = 12

async function oneOf(stack: Running) {
  await openVenue(stack, 'Bench of the guardian')
  const wire = new WireCamera()
  const port = await wire.listen()
  const camera = await addCamera(stack, 1, { kind: 'visca-udp', host: '127.0.0.1', port })
  await allReady(stack, 1)
  const live = await openSocket(stack, '/live')
  live.on('message', () => {})
  const times: number[] = []
  return {
    times,
    async once(pan: number) {
      const from = performance.now()
      const arrived = new Promise<number>((resolve) => {
        wire.onCommand = (command, atMs) => command.kind === 'ptDrive' && command.pan !== 0 && resolve(atMs)
      })
      live.send(JSON.stringify({ t: 'stick', camera, pan, tilt: 0, zoom: 0, focus: 0 }))
      const at = await Promise.race([arrived, sleep(500).then(() => null)])
      if (at !== null) times.push(at - from)
    },
    close() {
      live.terminate()
      wire.close()
    },
  }
}

export async function benchGuarded(stack: Running): Promise<Figure[]> {
  const bare = await startApplication({ HERON_UNGUARDED: '1' })
  const [withIt, without] = [await oneOf(stack), await oneOf(bare)]
  const baseline = await startBaseline()
  const relay: number[] = []
  await sleep(1000)
  for (let i = 0; i < MESSAGES; i++) {
    const pan = (i % 2 ? 1 : -1) * (0.35 + 0.6 * ((i * 0.618) % 1))
    for (const part of i % 2 ? [withIt, without] : [without, withIt]) {
      await part.once(pan)
      await sleep(GAP_MS)
    }
    relay.push(await baseline.once())
    await sleep(GAP_MS)
  }
  withIt.close()
  without.close()
  baseline.close()
  await bare.stop()
  const ratio = (q: number) => quantile(withIt.times, q) / quantile(without.times, q)
  return [
    row('stick to packet with guardian, p50', quantile(withIt.times, 0.5), 'ms'),
    row('stick to packet without, p50', quantile(without.times, 0.5), 'ms'),
    row('beside them, a bare relay, p50', quantile(relay, 0.5), 'ms'),
    row('stick to packet with guardian, p99', quantile(withIt.times, 0.99), 'ms'),
    row('stick to packet without, p99', quantile(without.times, 0.99), 'ms'),
    row('beside them, a bare relay, p99', quantile(relay, 0.99), 'ms'),
    row('with guardian to without, p50', ratio(0.5), 'times', 1.15),
    row('with guardian to without, p99', ratio(0.99), 'times', 1.5),
  ]
}
