/** TSL 3.1 over a real serial line, byte by byte as a desk sends it, and its adapter pulled out in the middle. */
import { type ChildProcess, spawn } from 'node:child_process'
import { appendFileSync, existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Signal } from '../../core/tally/signal'
import type { TallySource } from '../../core/tally/sources'
import { TallyListeners } from './listeners'

const WITHIN_MS = 15_000
const folder = mkdtempSync(join(tmpdir(), 'tally-'))
const [desk, ours] = [join(folder, 'desk'), join(folder, 'ours')]
let cable: ChildProcess | null = null

async function until(what: () => boolean, name: string): Promise<void> {
  for (const from = Date.now(); !what(); ) {
    if (Date.now() - from > WITHIN_MS) throw new Error(`not within ${WITHIN_MS} ms: ${name}`)
    await new Promise((resolve) => setTimeout(resolve, 20))
  }
}
const plug = async () => {
  cable = spawn('socat', [`pty,raw,echo=0,link=${desk}`, `pty,raw,echo=0,link=${ours}`])
  await until(() => existsSync(desk) && existsSync(ours), 'the line is there')
}
const unplug = async () => {
  const ended = new Promise((resolve) => cable?.once('exit', resolve))
  cable?.kill('SIGKILL')
  await ended
  for (const link of [desk, ours]) rmSync(link, { force: true })
}
afterAll(async () => {
  await unplug()
  rmSync(folder, { recursive: true, force: true })
})

/** Display 5, lamps as given, and sixteen characters. */
const display = (lamps: number) => [0x85, 0x30 | lamps, ...Buffer.from('Gallery         ')]

test('what a desk sends in pieces is heard; a line that is pulled out is lost, and heard again when it is back', async () => {
  await plug()
  const heard: Signal[] = []
  const told: (string | null)[] = []
  let lost = 0
  const listeners = new TallyListeners({
    heard: (_, signals) => heard.push(...signals),
    lost: () => {
      lost += 1
    },
    trouble: (_, text) => told.push(text),
  })
  const source: TallySource = {
    ...{ id: 's', name: 'Desk', enabled: true, silentAfterSeconds: null, cameras: {} },
    ...{ kind: 'tsl31-serial', path: ours, program: 2, preview: 1 },
  }
  listeners.configure([source])
  await until(() => told.includes(null), 'the line is open')
  // Noise first, as when a desk is switched on in the middle of a packet.
  const bytes = Buffer.from([0x20, 0x41, ...display(2), ...display(1)])
  for (const piece of [bytes.subarray(0, 7), bytes.subarray(7, 21), bytes.subarray(21)])
    appendFileSync(desk, piece)
  await until(() => heard.length >= 2, 'both were heard')
  const first = JSON.stringify(heard)
  expect(heard).toMatchObject([{ address: '5' }, { address: '5' }])
  await unplug()
  await until(() => lost > 0, 'it is lost')
  expect(told.at(-1)).toMatch(/Plug the adapter in/)
  heard.length = 0
  await plug()
  await until(() => told.at(-1) === null, 'it is open again')
  appendFileSync(desk, Buffer.from([...display(2), ...display(1)]))
  await until(() => heard.length >= 2, 'heard again')
  expect(JSON.stringify(heard)).toBe(first)
  listeners.close()
}, 60_000)
