/**
 * The VISCA cameras of the field over real sockets against the whole server, each with an oddity of its own, all at
 * once: they connect, are driven, stand when they are let go, and go back to what was stored.
 */
import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { CASES, offBy } from '../src/conformance/oddities'
import type { Stored } from '../src/server/api'
import { FieldHead } from '../src/simulator/independent/fieldHead'
import { FieldSerial } from '../src/simulator/independent/fieldSerial'
import { FieldVisca } from '../src/simulator/independent/fieldVisca'
import { FieldViscaPort } from '../src/simulator/independent/fieldViscaPort'
import { apiOf } from './application'
import { Hands } from './hands'
import { eventually, type Running, sleep, startApplication } from './harness'

const NETWORK = {
  framed: { kind: 'visca-udp', port: 52381 },
  raw: { kind: 'visca-udp-raw', port: 1259 },
  tcp: { kind: 'visca-tcp', port: 5678 },
} as const
/** A released camera stands within this, ms. */
const STANDS_WITHIN_MS = 600
/** What a thread that is late adds here. */
const LATE_MS = 150

let running: Running
const folder = mkdtempSync(join(tmpdir(), 'heron-lines-'))
beforeAll(async () => {
  running = await startApplication({ HERON_EMPTY: '1' })
}, 60_000)
afterAll(() => running?.stop())

const { answer, ask } = apiOf(() => running)

type Case = (typeof CASES)[number]

/** The names of those of which something is not so. */
const failing = <T extends { name: string }>(all: readonly T[], holds: (one: T) => boolean): string[] =>
  all.filter((one) => !holds(one)).map(({ name }) => name)

/** All that concern numbered packets; of the others, which are proved in virtual time, a part over each link. */
const MET = CASES.filter(({ over }, i) => over === 'framed' || i % 3 === 0)

/** @param n makes its address, or its line, its own */
async function camera({ over, odd }: Case, n: number) {
  const head = new FieldHead(odd.head ?? {}, performance.now())
  const visca = new FieldVisca(head, odd.visca)
  const truth = () => head.read(performance.now())
  if (over === 'serial') {
    const path = join(folder, `line-${n}`)
    const port = new FieldSerial(visca, odd.fixedAddress ?? null)
    await port.listen(path)
    const line = { path, baud: 9600, format: '8N1', address: odd.fixedAddress ?? 1 } as const
    return { port, truth, connection: { kind: 'visca-serial', ...line } as const }
  }
  const host = `127.0.96.${n}`
  const way = NETWORK[over]
  const port = new FieldViscaPort(over, visca, odd.framing ? { framing: odd.framing } : {})
  await port.listen(host, way.port)
  return { port, truth, connection: { host, ...way } }
}

test('a venue of oddities', async () => {
  await answer('/venues', 'POST', { name: 'Field House' })
  const hands = await Hands.open(running.address)
  const all = await Promise.all(
    MET.map(async (one, i) => {
      const field = await camera(one, i + 1)
      const settings = {
        ...{
          number: i + 1,
          name: `Camera ${i + 1}`,
          enabled: true,
          headProfile: 'common-20x',
          pageUrl: null,
        },
        connection: field.connection,
        picture: { kind: 'none' },
        mount: { upsideDown: false, mirrored: false },
      }
      const { id } = await answer<{ id: string }>('/cameras', 'POST', { settings, secrets: {} })
      return { ...field, id, name: `${one.over}: ${one.name}`, odd: one.odd }
    }),
  )
  const told = (id: string) => hands.facts('pose', id).at(-1) ?? null
  await eventually(
    'all answer and tell where they stand',
    async () => all.every(({ id }) => told(id)),
    25_000,
  ).catch(() => expect(failing(all, ({ id }) => told(id) !== null)).toEqual([]))
  const drive = async (pan: number, ms: number) => {
    const before = all.map(({ truth }) => truth())
    hands.hold(new Map(all.map(({ id }) => [id, { pan, tilt: pan / 2, zoom: 0 }])))
    await sleep(ms)
    const driven = all.map(({ truth }) => truth())
    hands.release(all.map(({ id }) => id))
    await sleep(STANDS_WITHIN_MS + LATE_MS)
    const wrongWay = all.filter((_, i) => !((driven[i]!.pan - before[i]!.pan) * pan > 0.1))
    expect(wrongWay.map(({ name }) => name)).toEqual([])
    for (let i = 0; i < 10; i++) {
      expect(failing(all, ({ truth }) => !truth().moving)).toEqual([])
      await sleep(50)
    }
  }
  await drive(0.5, 1200)
  await drive(-0.4, 900)
  const stored = await Promise.all(
    all.map(async (one) => {
      const made = await answer<Stored>('/presets', 'POST', { cameraId: one.id, name: 'Kept' }).catch(
        (error: Error) => {
          throw new Error(`${one.name}: ${error.message}`)
        },
      )
      return { preset: made.preset.id, at: one.truth() }
    }),
  )
  await drive(-0.6, 1300)
  // The hand that drove has them for two seconds more.
  await Promise.all(
    stored.map(({ preset }) =>
      eventually('it is recalled', async () => (await ask(`/presets/${preset}/recall`, 'POST', {})).ok),
    ),
  )
  const back = (one: (typeof all)[number]) => {
    const { at } = stored[all.indexOf(one)]!
    const { pan, tilt, moving } = one.truth()
    return !moving && Math.max(Math.abs(pan - at.pan), Math.abs(tilt - at.tilt)) <= offBy(one.odd)
  }
  await eventually('all are back', async () => all.every(back), 20_000).catch(() =>
    expect(failing(all, back)).toEqual([]),
  )
  const travel = (one: (typeof all)[number]) => hands.facts('travel', one.id).at(-1)
  const arrived = (one: (typeof all)[number]) => travel(one)?.state === 'arrived'
  await eventually('all say that they are', async () => all.every(arrived), 5000).catch(() =>
    expect(all.filter((one) => !arrived(one)).map((one) => [one.name, travel(one)])).toEqual([]),
  )
  hands.close()
  for (const { port } of all) port.close()
}, 120_000)
