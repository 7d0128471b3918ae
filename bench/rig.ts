/** The application under measurement: its API, its sockets, its database, its processes' time. */
import { readdirSync, readFileSync } from 'node:fs'
import { Client } from 'pg'
import WebSocket from 'ws'
import { type Running, sleep } from '../e2e/harness'
import type { Connection, Picture } from '../src/core/cameras/connection'

export async function openSocket(stack: Running, path: string): Promise<WebSocket> {
  const socket = new WebSocket(`${stack.address.replace('http', 'ws')}${path}`, { origin: stack.address })
  await new Promise((resolve, reject) => socket.once('open', resolve).once('error', reject))
  return socket
}

export async function api<T>(
  stack: Running,
  path: string,
  body?: unknown,
  method = body === undefined ? 'GET' : 'POST',
): Promise<T> {
  const answer = await fetch(`${stack.address}/api${path}`, {
    method,
    headers: { 'x-steady-heron': '1', 'content-type': 'application/json' },
    body: body === undefined ? undefined : JSON.stringify(body),
  })
  if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`)
  return (await answer.json()) as T
}

/** Opens an empty venue. */
export async function openVenue(stack: Running, name: string): Promise<void> {
  await api(stack, '/venues', { name })
}

export async function addCamera(
  stack: Running,
  number: number,
  connection: Connection,
  picture: Picture = { kind: 'none' },
): Promise<string> {
  const settings = {
    number,
    name: `Camera ${number}`,
    enabled: true,
    connection,
    headProfile: 'marsh-20x',
    picture,
    mount: { upsideDown: false, mirrored: false },
    pageUrl: null,
  }
  return (await api<{ id: string }>(stack, '/cameras', { settings })).id
}

/** Two presets for each camera, far apart; the server is restarted so that it knows them. */
export async function givePresets(stack: Running, cameras: readonly string[]): Promise<string[][]> {
  const database = new Client(stack.databaseUrl)
  await database.connect()
  const event = (
    await database.query('select e.id from event e join venue v on v.id = e.venue_id where v.open and e.open')
  ).rows[0].id
  const made: string[][] = []
  for (const camera of cameras) {
    const ids: string[] = []
    for (const [n, pan] of [
      [1, -20],
      [2, 20],
    ] as const) {
      const { rows } = await database.query(
        `insert into preset (event_id, camera_id, number, "order", name, current_version)
         values ($1, $2, $3::int, $3::int, 'Bench', 1) returning id`,
        [event, camera, n],
      )
      await database.query(
        `insert into preset_version (preset_id, version, pan_deg, tilt_deg, zoom, focus_auto)
         values ($1, 1, $2, 5, $3, true)`,
        [rows[0].id, pan, n * 3000],
      )
      ids.push(rows[0].id)
    }
    made.push(ids)
  }
  await database.end()
  await stack.restart('SIGTERM')
  return made
}

/** Waits until all cameras of the open venue answer. */
export async function allReady(stack: Running, count: number): Promise<void> {
  for (let i = 0; i < 200; i++) {
    const { cameras } = await api<{ cameras: { health: { state: string } }[] }>(stack, '/health')
    if (cameras.length === count && cameras.every((c) => ['ready', 'slow'].includes(c.health.state))) return
    await sleep(100)
  }
  throw new Error('the cameras do not get ready')
}

const TICKS_PER_S = 100

/** Seconds of processor that a process and its children (as they are now) have used. */
export function cpuSeconds(pid: number): number {
  const all = readdirSync('/proc').filter((name) => /^\d+$/.test(name))
  const stats = new Map<number, { parent: number; ticks: number }>()
  for (const name of all) {
    try {
      const text = readFileSync(`/proc/${name}/stat`, 'utf8')
      const fields = text.slice(text.lastIndexOf(')') + 2).split(' ')
      stats.set(Number(name), { parent: Number(fields[1]), ticks: Number(fields[11]) + Number(fields[12]) })
    } catch {
      // It has ended meanwhile.
    }
  }
  let ticks = 0
  for (const [id, stat] of stats) if (id === pid || stat.parent === pid) ticks += stat.ticks
  return ticks / TICKS_PER_S
}

export const residentMB = (pid: number) =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024
