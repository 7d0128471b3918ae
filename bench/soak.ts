/**
 * The soak: six cameras driven and recalled from a seed, stores, pages that come and go, and a fault every
 * minute. What must hold is looked at after each fault and at the end; growth is reported.
 * Settings: SOAK_MINUTES (60), SOAK_SEED (1), SOAK_JSON (soak-results.json).
 */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import WebSocket from 'ws'
import { Hands, inward, type Push, standstills } from '../e2e/hands'
import { eventually, type Running, sleep, startApplication } from '../e2e/harness'
import { NAMES, type StandIns, startStandIns } from '../e2e/standIns'
import { decodePictureFrame } from '../src/core/live/pictureFrame'
import { seeded } from '../src/core/seeded'
import type { DeskView, Stored } from '../src/server/api'
import { quantile } from './stats'

const MINUTES = Number(process.env.SOAK_MINUTES ?? 60)
const SEED = Number(process.env.SOAK_SEED ?? 1)
const FAULT_EVERY_MS = 60_000
const STANDS_WITHIN_MS = 1000
/** A link that was away: its camera is stopped so soon after it is back. */
const AFTER_LINK_MS = 2500

const random = seeded(SEED)
const pick = <T>(all: readonly T[]): T => all[Math.floor(random() * all.length)]!

interface FaultRow {
  minute: number
  fault: string
  longestMs: number
  furthestDeg: number
  ranOn: string[]
}
interface SizeRow {
  minute: number
  serverMB: number
  serverHandles: number
  guardianMB: number
  guardianHandles: number
  pingP50Ms: number
  pingP99Ms: number
}

const faults: FaultRow[] = []
const sizes: SizeRow[] = []
const confirmed: string[] = []
const problems: string[] = []
const stores = { asked: 0, refused: 0 }
const recalls = { asked: 0, refused: 0 }
let pings: number[] = []
let pictures = 0

let running: Running
let standIns: StandIns
let cameras: DeskView['cameras']
const idOf = (standIn: string) => cameras.find((c) => c.name === NAMES[standIn])!.id
const H = { 'content-type': 'application/json', 'x-steady-heron': '1' }
const post = (path: string, body: object, method = 'POST') =>
  fetch(`${running.address}/api${path}`, { method, headers: H, body: JSON.stringify(body) })

function sizeOf(pid: number | null): { mb: number; handles: number } {
  try {
    const status = readFileSync(`/proc/${pid}/status`, 'utf8')
    const kb = Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0)
    return { mb: Math.round(kb / 1024), handles: readdirSync(`/proc/${pid}/fd`).length }
  } catch {
    return { mb: 0, handles: 0 }
  }
}

/** Hands that come back after whatever happened to the server. */
async function hands(): Promise<Hands> {
  for (let i = 0; i < 200; i++) {
    try {
      return await Hands.open(running.address)
    } catch {
      await sleep(100)
    }
  }
  throw new Error('the server does not come back')
}

async function pushes(): Promise<Map<string, Push>> {
  const truth = await standIns.truth()
  return new Map(
    truth.map((t) => {
      const push = inward(t, 0.15 + random() * 0.5)
      const sign = t.id === 'trio' ? -1 : 1
      return [idOf(t.id), { pan: sign * push.pan, tilt: sign * push.tilt, zoom: push.zoom * 0.5 }]
    }),
  )
}

/** What goes wrong with the application, while all six are driven; the hands are not taken off. */
const DEATHS: Record<string, () => Promise<void> | void> = {
  'server killed': () => void process.kill(running.serverPid, 'SIGKILL'),
  'server stopped': () => void process.kill(running.serverPid, 'SIGSTOP'),
  'exception in the server': () => running.fault('throw'),
  'loop blocked': () => running.fault('block'),
  'heap exhausted': () => running.fault('heap'),
}
/** What goes wrong around it; the hands are taken off meanwhile. */
const TROUBLES: Record<string, (on: boolean) => Promise<void>> = {
  'a fifth of all packets lost': async (on) => {
    for (const id of ['gallery', 'scoreboard'])
      await standIns.faults(id, on ? { dropRate: 0.2, seed: 7 } : {})
  },
  'delay and jitter': async (on) => {
    for (const id of ['gallery', 'scoreboard'])
      await standIns.faults(id, on ? { delayMs: 60, jitterMs: 90 } : {})
  },
  'cameras silent for 4 s': async (on) => {
    for (const id of ['gallery', 'stage-left', 'benches']) await standIns.faults(id, { mute: on })
    if (on) await sleep(4000)
  },
  'adapter pulled out': async (on) => {
    await standIns.faults('lectern', { unplugged: on })
    if (on) await sleep(1500)
  },
  'a camera power cycled': async (on) => {
    if (on) await standIns.faults('gallery', { rebootMs: 1500 })
    if (on) await sleep(2500)
  },
  'guardian killed': async (on) => {
    if (on) process.kill((await running.pids()).guardian!, 'SIGKILL')
  },
  'database killed': async (on) => {
    if (on) process.kill((await running.pids()).database!, 'SIGKILL')
  },
}

async function note(fault: string, minute: number, withinMs: number): Promise<void> {
  const runs = await standstills(standIns.truth, { withinMs: Math.max(5000, withinMs + 1500) })
  const ranOn = runs.filter((r) => r.ms > withinMs).map((r) => `${r.id} ${r.ms} ms`)
  const row = {
    minute,
    fault,
    longestMs: Math.max(...runs.map((r) => r.ms)),
    furthestDeg: Math.round(Math.max(...runs.map((r) => r.deg)) * 10) / 10,
    ranOn,
  }
  faults.push(row)
  console.log(
    `  ${minute} min: ${fault}: all stand after ${row.longestMs} ms, ${row.furthestDeg}° at most${ranOn.length ? ` RAN ON: ${ranOn.join(', ')}` : ''}`,
  )
}

async function allReady(page: Hands): Promise<void> {
  await eventually(
    'all cameras answer',
    async () => cameras.every((c) => /ready|slow/.test(page.health(c.id) ?? '')),
    40_000,
  )
}

async function oneFault(minute: number): Promise<void> {
  const page = await hands()
  await allReady(page)
  page.hold(await pushes())
  await sleep(600 + random() * 900)
  if (random() < 0.5) {
    const fault = pick(Object.keys(DEATHS))
    await DEATHS[fault]!()
    await note(fault, minute, STANDS_WITHIN_MS)
    page.close()
    await eventually(
      'the server is back',
      async () => (await fetch(`${running.address}/api/health`).catch(() => null))?.status === 200,
      20_000,
    )
    running.serverPid = (await running.pids()).server!
    return
  }
  const fault = pick(Object.keys(TROUBLES))
  await TROUBLES[fault]!(true)
  const link = /silent|adapter|powered/.test(fault)
  if (!link) await sleep(2000)
  page.release(cameras.map((c) => c.id))
  if (link) await TROUBLES[fault]!(false)
  await note(fault, minute, link ? AFTER_LINK_MS : STANDS_WITHIN_MS)
  await TROUBLES[fault]!(false)
  page.close()
}

/** Looks at two cameras as a page does; ends without a word, as pages do. */
function look(): () => void {
  const socket = new WebSocket(`${running.address.replace('http', 'ws')}/live/pictures`, {
    origin: running.address,
  })
  const watched = [pick(cameras), pick(cameras)].map(({ id }) => ({ id, perSec: 5 }))
  socket.on('error', () => {})
  socket.on('open', () => socket.send(JSON.stringify({ t: 'watch', cameras: watched })))
  socket.on('message', (data, binary) => {
    const frame = binary ? decodePictureFrame(new Uint8Array(data as Buffer).buffer) : null
    if (!frame || socket.readyState !== WebSocket.OPEN) return
    pictures += 1
    socket.send(JSON.stringify({ t: 'shown', camera: frame.camera }))
  })
  return () => socket.terminate()
}

/** Stores, recalls and pages between the faults. */
async function ordinary(untilMs: number): Promise<void> {
  while (performance.now() < untilMs) {
    const page = await hands()
    const leave = look()
    const view = (await (
      await fetch(`${running.address}/api/desk`)
    )
      .json()
      .catch(() => null)) as DeskView | null
    for (let i = 0; i < 6 && performance.now() < untilMs; i++) {
      const camera = pick(cameras)
      const preset = view?.presets.filter((p) => p.cameraId === camera.id).at(Math.floor(random() * 5))
      if (preset) {
        recalls.asked += 1
        const from = performance.now()
        const answer = await post(`/presets/${preset.id}/recall`, {}).catch(() => null)
        pings.push(performance.now() - from)
        if (answer?.status !== 200) recalls.refused += 1
      }
      await sleep(400 + random() * 1200)
      const driven = pick(cameras)
      page.hold(
        new Map([[driven.id, { pan: random() - 0.5, tilt: (random() - 0.5) * 0.3, zoom: random() - 0.5 }]]),
      )
      await sleep(300 + random() * 900)
      page.release([driven.id])
      if (random() < 0.4) {
        stores.asked += 1
        const answer = await post('/presets', { cameraId: pick(cameras).id }).catch(() => null)
        if (answer?.status === 200) confirmed.push(((await answer.json()) as Stored).preset.id)
        else stores.refused += 1
      }
    }
    page.close()
    leave()
  }
}

async function measure(minute: number): Promise<void> {
  const pids = await running.pids()
  const [server, guardian] = [sizeOf(pids.server), sizeOf(pids.guardian)]
  sizes.push({
    minute,
    serverMB: server.mb,
    serverHandles: server.handles,
    guardianMB: guardian.mb,
    guardianHandles: guardian.handles,
    pingP50Ms: Math.round(quantile(pings, 0.5) * 10) / 10,
    pingP99Ms: Math.round(quantile(pings, 0.99) * 10) / 10,
  })
  pings = []
}

async function atTheEnd(): Promise<void> {
  const view = (await (await fetch(`${running.address}/api/desk`)).json()) as DeskView
  const there = new Set(view.presets.map((p) => p.id))
  const lost = confirmed.filter((id) => !there.has(id))
  if (lost.length > 0) problems.push(`${lost.length} confirmed stores are lost`)
  if (faults.some((f) => f.ranOn.length > 0)) problems.push('a camera ran on')
  if (view.presets.length - confirmed.length > 400) problems.push('there are more presets than were stored')
}

async function main(): Promise<void> {
  standIns = await startStandIns(null)
  running = await startApplication({ ...standIns.env, HERON_FAULTS: '1' })
  cameras = ((await (await fetch(`${running.address}/api/desk`)).json()) as DeskView).cameras
  const from = performance.now()
  const minuteNow = () => Math.round((performance.now() - from) / 60_000)
  console.log(`- Soaking for ${MINUTES} minutes, seed ${SEED}`)
  for (
    let next = from + FAULT_EVERY_MS;
    performance.now() - from < MINUTES * 60_000;
    next += FAULT_EVERY_MS
  ) {
    try {
      await ordinary(next - 15_000)
      if (minuteNow() % 5 === 0 || minuteNow() === 1) await measure(minuteNow())
      await oneFault(minuteNow())
    } catch (error) {
      problems.push(`${minuteNow()} min: ${(error as Error).message}`)
      console.log(`  ${minuteNow()} min: ${(error as Error).message}`)
    }
  }
  const last = await hands()
  await allReady(last)
  last.close()
  await sleep(3000)
  await measure(minuteNow())
  await atTheEnd()
  const result = {
    minutes: MINUTES,
    seed: SEED,
    stores: { ...stores, confirmed: confirmed.length },
    recalls,
    pictures,
    faults,
    sizes,
    problems,
  }
  writeFileSync(
    process.env.SOAK_JSON ?? join(__dirname, '../soak-results.json'),
    `${JSON.stringify(result, null, 2)}\n`,
  )
  console.table(sizes)
  console.log(
    `stores: ${stores.asked} asked, ${confirmed.length} confirmed, ${stores.refused} refused; recalls: ${recalls.asked} asked, ${recalls.refused} refused; pictures: ${pictures}; faults: ${faults.length}`,
  )
  console.log(
    problems.length === 0 ? 'No camera ran on, and no confirmed store was lost.' : problems.join('\n'),
  )
  await running.stop()
  standIns.stop()
  process.exit(problems.length === 0 ? 0 : 1)
}

void main()
