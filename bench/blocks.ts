/** The longest block of the server's loop by anything that can be sent to it, while a hand drives. */
import { type ChildProcess, fork } from 'node:child_process'
import { join } from 'node:path'
import { createCanvas } from '@napi-rs/canvas'
import { Hands } from '../e2e/hands'
import { type Running, sleep } from '../e2e/harness'
import type { DeskView } from '../src/server/api'
import { type Figure, row } from './stats'

const ROUNDS = 3
const H = { 'x-steady-heron': '1' }
const J = { ...H, 'content-type': 'application/json' }

interface Measured {
  longest: number
  own: number
}

function startPinger(address: string): Promise<{ take(): Promise<Measured>; child: ChildProcess }> {
  const child = fork(join(__dirname, 'pinger.ts'), [address], { execArgv: ['--import', 'tsx'] })
  let answered: (m: Measured) => void = () => {}
  return new Promise((resolve) => {
    child.on('message', (message: Measured & { ready?: boolean }) => {
      if (message.ready)
        resolve({
          child,
          take: () =>
            new Promise((done) => {
              answered = done
              child.send('take')
            }),
        })
      else answered(message)
    })
  })
}

async function picture(): Promise<Buffer> {
  const canvas = createCanvas(6000, 4000)
  const pen = canvas.getContext('2d')
  for (let i = 0; i < 3000; i++) {
    pen.fillStyle = `hsl(${i}, 80%, 50%)`
    pen.fillRect((i * 131) % 6000, (i * 71) % 4000, 220, 190)
  }
  return canvas.encode('png')
}

export async function benchBlocks(stack: Running): Promise<Figure[]> {
  const { address } = stack
  const desk = (await (await fetch(`${address}/api/desk`)).json()) as DeskView
  const preset = `${address}/api/presets/${desk.presets[0]!.id}`
  const png = await picture()
  const rows = Array.from({ length: 9000 }, (_, i) => ({
    ...{ camera: 1 + (i % 6), number: 100 + Math.floor(i / 6), name: `Seat ${i}`, section: '', mark: '' },
    ...{ panDeg: i / 500, tiltDeg: -5, magnification: 1, focusAuto: true, focus: null },
  }))
  const list = JSON.stringify({ format: 'steady-heron/presets', version: 1, presets: rows })
  const send = (url: string, method: string, body: BodyInit, headers: Record<string, string> = H) =>
    fetch(url, { method, body, headers }).then((r) => r.arrayBuffer())
  let zip: ArrayBuffer = new ArrayBuffer(0)
  const inputs: Record<string, () => Promise<unknown>> = {
    'nothing at all': () => sleep(1500),
    'a drawing instead of a picture': () =>
      send(
        `${preset}/picture`,
        'PUT',
        '<svg xmlns="http://www.w3.org/2000/svg" width="9000" height="9000"/>',
      ),
    'a picture of 24 megapixels': () => send(`${preset}/picture`, 'PUT', new Uint8Array(png)),
    '20 MB of nothing as a picture': () => send(`${preset}/picture`, 'PUT', new Uint8Array(20_000_000)),
    'a list of 9,000 presets': () => send(`${address}/api/presets/list`, 'POST', list),
    'a list of 700,000 lines': () =>
      send(
        `${address}/api/presets/list`,
        'POST',
        `camera,number,name,pan_deg,tilt_deg\n${'1,1,a,2,3\n'.repeat(700_000)}`,
      ),
    'the Desk, five times at once': () =>
      Promise.all([1, 2, 3, 4, 5].map(() => fetch(`${address}/api/desk`).then((r) => r.arrayBuffer()))),
    '20,000 presets in another order': () =>
      send(
        `${address}/api/presets/order`,
        'POST',
        JSON.stringify({ ids: Array.from({ length: 20_000 }, () => crypto.randomUUID()), board: 'own' }),
        J,
      ),
    'the venue as a file': async () => {
      zip = await fetch(`${address}/api/venues/${desk.venue.id}/file`).then((r) => r.arrayBuffer())
    },
    'that file looked at': () => send(`${address}/api/venues/imports/zip`, 'POST', zip),
    '100 MB of nothing as a venue file': () =>
      send(`${address}/api/venues/imports/zip`, 'POST', new Uint8Array(100_000_000)),
    '64 kB of brackets': () => send(`${address}/api/events`, 'POST', '['.repeat(64_000), J),
  }
  const hands = await Hands.open(address)
  const { id } = desk.cameras[0]!
  let right = true
  const swing = setInterval(() => {
    right = !right
    hands.hold(new Map([[id, { pan: right ? 0.3 : -0.3, tilt: 0, zoom: 0 }]]))
  }, 700)
  const pinger = await startPinger(address)
  await sleep(1500)
  const figures: Figure[] = []
  for (const [name, act] of Object.entries(inputs)) {
    const all: Measured[] = []
    for (let i = 0; i < (/9,000/.test(name) ? 1 : ROUNDS); i++) {
      await pinger.take()
      await act()
      await sleep(250)
      all.push(await pinger.take())
    }
    // Of several the shortest: the machine's own pauses come on top of what was sent.
    const best = all.reduce((a, b) => (a.longest < b.longest ? a : b))
    figures.push(row(`loop blocked by ${name}`, best.longest, 'ms', 50))
    figures.push(row('  meanwhile a process that does nothing else', best.own, 'ms'))
  }
  clearInterval(swing)
  hands.release([id])
  hands.close()
  pinger.child.kill()
  return figures
}
