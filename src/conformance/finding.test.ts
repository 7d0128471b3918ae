/** Finding and trying cameras of the field over real sockets: each oddity is met, told, and coped with. */
import { connect } from 'node:net'
import { HEAD_PROFILES } from '../core/heads/registry'
import { Finder, type Search } from '../server/finding/finder'
import { tryCamera } from '../server/finding/tryCamera'
import { openTcp } from '../server/links/tcp'
import { FieldHead } from '../simulator/independent/fieldHead'
import { FieldVisca, type ViscaOddities } from '../simulator/independent/fieldVisca'
import { FieldViscaPort } from '../simulator/independent/fieldViscaPort'

const NET = '127.0.94'
const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms))
const open: { close(): void }[] = []
afterEach(() => {
  for (const one of open.splice(0)) one.close()
})

type PortOptions = ConstructorParameters<typeof FieldViscaPort>[2]

async function camera(
  over: 'framed' | 'raw' | 'tcp',
  host: string,
  port: number,
  visca: Partial<ViscaOddities> = {},
  options: PortOptions = {},
): Promise<FieldViscaPort> {
  const made = new FieldViscaPort(over, new FieldVisca(new FieldHead({}, performance.now()), visca), options)
  open.push(made)
  await made.listen(host, port)
  return made
}

async function searched(range: string, cameras: ReturnType<FinderCameras>): Promise<Search['found']> {
  const finder = new Finder({ lines: null as never, cameras: () => cameras })
  const search = finder.start({ onvif: false, range, serial: false })
  if (typeof search === 'string') throw new Error(search)
  while (search.state === 'running') await pause(50)
  return search.found
}
type FinderCameras = ConstructorParameters<typeof Finder>[0]['cameras']

test('a search finds what answers oddly, says how, and leaves alone what is in the list', async () => {
  await camera('framed', `${NET}.1`, 52381, { answersAs: 2 }, { answers: 'from another port' })
  await camera('framed', `${NET}.2`, 52381, {}, { framing: { numbers: 'own' } })
  await camera('raw', `${NET}.3`, 1259, { answersInSocket: true })
  const mine = await camera('tcp', `${NET}.4`, 5678, {}, { clients: 1 })
  const free = await camera('tcp', `${NET}.5`, 5678)
  const found = await searched(`${NET}.0/29`, [
    { number: 4, name: 'Stage', connection: { kind: 'visca-tcp', host: `${NET}.4`, port: 5678 } },
  ])
  const remarks = (host: number) =>
    found.find((c) => c.address.includes(`${NET}.${host}:`))?.remarks.join(' ')
  expect(remarks(1)).toMatch(/another camera than the one that was asked.*from another port/)
  expect(remarks(2)).toMatch(/matched by their order/)
  expect(remarks(3)).toMatch(/number of a socket/)
  expect(remarks(5)).toBe('')
  expect(found.find((c) => c.address.includes(`${NET}.4:`))?.known).toBe('4 Stage')
  expect([mine.connections, free.connections]).toEqual([0, 1])
})

const tried = (kind: 'visca-udp' | 'visca-udp-raw' | 'visca-tcp', host: string, port: number) =>
  tryCamera(
    { kind, host, port },
    {
      ...{ secrets: {}, commandSets: new Map(), headProfiles: [], own: null, others: [] },
      lines: null as never,
    },
  )

test('trying says which oddities were met', async () => {
  await camera(
    'framed',
    `${NET}.9`,
    52390,
    {},
    { answers: 'from another port', framing: { resets: 'never' } },
  )
  const { ok, remarks } = await tried('visca-udp', `${NET}.9`, 52390)
  expect(ok).toBe(true)
  expect(remarks.join(' ')).toMatch(/another port/)
  expect(remarks.join(' ')).toMatch(/does not answer when its packet numbers are reset/)
})

test('the version that a camera answers names its head profile', async () => {
  await camera('raw', `${NET}.10`, 1259)
  const base = { ...HEAD_PROFILES[0]!, id: 'mine', name: 'Mine' }
  const outcome = await tryCamera(
    { kind: 'visca-udp-raw', host: `${NET}.10`, port: 1259 },
    {
      ...{ secrets: {}, commandSets: new Map(), own: null, others: [], lines: null as never },
      headProfiles: [{ ...base, answers: { maker: 0x0099, model: 0x0f1e } }],
    },
  )
  expect(outcome.head).toEqual({ id: 'mine', name: 'Mine' })
})

test('a camera that somebody else holds is not fought over, and that is said', async () => {
  const held = await camera('tcp', `${NET}.11`, 5678, {}, { clients: 1 })
  const rival = connect({ host: `${NET}.11`, port: 5678 })
  open.push({ close: () => rival.destroy() })
  await new Promise((resolve) => rival.once('connect', resolve))
  const link = openTcp(`${NET}.11`, 5678)
  open.push(link)
  const said: (string | null)[] = []
  link.onTrouble((text) => said.push(text))
  while (!said.some((text) => /another controller seems to hold/.test(text ?? ''))) await pause(50)
  const before = held.connections
  await pause(2000)
  expect(held.connections).toBe(before)
})
