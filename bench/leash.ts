/** Driving on a leash beside plain driving: how soon the head moves, and how evenly, read from the page of truth. */
import { Hands } from '../e2e/hands'
import { type Running, sleep, still } from '../e2e/harness'
import type { DeskView } from '../src/server/api'
import { type Figure, quantile, row } from './stats'

const DRIVES = 8
const DRIVE_MS = 2500
const PUSHES = [0.35, 0.5, 0.65, 0.8]

interface Drive {
  delayMs: number
  /** Spread of its speed once it runs, share of the mean. */
  uneven: number
  /** The largest change of its speed between two looks, share of the mean. */
  jump: number
}

async function drive(stack: Running, hands: Hands, camera: string, push: number): Promise<Drive> {
  await still(stack)
  const begin = await stack.truth()
  const sign = begin.panDeg > 0 ? -1 : 1
  const from = performance.now()
  hands.hold(new Map([[camera, { pan: sign * push, tilt: 0, zoom: 0 }]]))
  const looks: { ms: number; deg: number }[] = []
  let delayMs = Number.NaN
  while (performance.now() - from < DRIVE_MS) {
    const before = performance.now()
    const t = await stack.truth()
    const ms = (before + performance.now()) / 2 - from
    if (Number.isNaN(delayMs) && t.panDeg !== begin.panDeg) delayMs = ms
    looks.push({ ms, deg: t.panDeg })
    await sleep(15)
  }
  hands.release([camera])
  // Speeds over 80 ms, when it has got going.
  const speeds: number[] = []
  for (let i = 0, j = 0; i < looks.length; i++) {
    while (j < looks.length - 1 && looks[j]!.ms - looks[i]!.ms < 80) j++
    const [a, b] = [looks[i]!, looks[j]!]
    if (a.ms > 900 && b.ms - a.ms >= 80) speeds.push(Math.abs(b.deg - a.deg) / ((b.ms - a.ms) / 1000))
  }
  const mean = speeds.reduce((x, y) => x + y, 0) / speeds.length
  const spread = Math.sqrt(speeds.reduce((x, y) => x + (y - mean) ** 2, 0) / speeds.length)
  const jumps = speeds.slice(1).map((speed, i) => Math.abs(speed - speeds[i]!))
  return { delayMs, uneven: spread / mean, jump: Math.max(...jumps) / mean }
}

export async function benchLeash(stack: Running): Promise<Figure[]> {
  const desk = (await (await fetch(`${stack.address}/api/desk`)).json()) as DeskView
  const camera = desk.cameras.find((c) => c.name === 'Gallery')!.id
  const hands = await Hands.open(stack.address)
  const found = { plain: [] as Drive[], leash: [] as Drive[] }
  for (let i = 0; i < DRIVES; i++) {
    for (const leash of [false, true]) {
      await fetch(`${stack.address}/api/cameras/${camera}/habits`, {
        method: 'PATCH',
        body: JSON.stringify({ leash }),
        headers: { 'content-type': 'application/json', 'x-steady-heron': '1' },
      })
      found[leash ? 'leash' : 'plain'].push(await drive(stack, hands, camera, PUSHES[i % PUSHES.length]!))
    }
  }
  await fetch(`${stack.address}/api/cameras/${camera}/habits`, {
    method: 'PATCH',
    body: JSON.stringify({ leash: false }),
    headers: { 'content-type': 'application/json', 'x-steady-heron': '1' },
  })
  hands.close()
  return (['plain', 'leash'] as const).flatMap((kind) => {
    const of = (key: keyof Drive) =>
      quantile(
        found[kind].map((d) => d[key]),
        0.5,
      )
    const word = kind === 'plain' ? 'plain drive' : 'on a leash'
    return [
      row(`${word}: stick to movement, median`, of('delayMs'), 'ms'),
      row(`${word}: spread of its speed, median`, of('uneven') * 100, '%'),
      row(`${word}: largest change of speed between two looks, median`, of('jump') * 100, '%'),
    ]
  })
}
