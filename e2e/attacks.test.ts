/** What anybody can send to the server, while a hand drives: nothing falls, nothing is held up, nothing is given away. */
import { createSocket } from 'node:dgram'
import { readdirSync } from 'node:fs'
import { connect, type Socket } from 'node:net'
import { deflateRawSync } from 'node:zlib'
import pg from 'pg'
import type { Outcome, Search } from '../src/server/api'
import { apiOf } from './application'
import { Hands } from './hands'
import { eventually, type Running, sleep, startApplication } from './harness'

let running: Running
let hands: Hands
let galleryId: string
/** Of the server, before anything was sent to it. */
let handles: number
const handlesOf = (pid: number) => readdirSync(`/proc/${pid}/fd`).length
const { ask, answer, desk, camera } = apiOf(() => running)

const answers = async () => (await ask('/health')).status === 200
const port = () => Number(new URL(running.address).port)

beforeAll(async () => {
  running = await startApplication()
  galleryId = (await camera()).id
  await sleep(2000)
  handles = handlesOf(running.serverPid)
}, 60_000)
afterAll(() => running?.stop(), 20_000)

/** Each attack comes while the gallery is driven back and forth; that must go on as if nothing were. */
let swing: ReturnType<typeof setInterval>
beforeEach(async () => {
  hands = await Hands.open(running.address)
  let right = true
  const push = () => hands.hold(new Map([[galleryId, { pan: right ? 0.4 : -0.4, tilt: 0, zoom: 0 }]]))
  push()
  swing = setInterval(() => {
    right = !right
    push()
  }, 700)
  await eventually('the head moves', async () => (await running.truth()).moving)
})
afterEach(async () => {
  clearInterval(swing)
  expect((await running.truth()).moving).toBe(true)
  // Nobody had to stop it, since the loop was never held up for long.
  expect(hands.notices.filter((text) => /held up|restarted/.test(text))).toEqual([])
  hands.release([galleryId])
  hands.close()
  expect(await answers()).toBe(true)
  expect((await running.pids()).server).toBe(running.serverPid)
})

const UPGRADE = (path: string, origin: string) =>
  `GET ${path} HTTP/1.1\r\nHost: 127.0.0.1:${port()}\r\nOrigin: ${origin}\r\nConnection: Upgrade\r\nUpgrade: websocket\r\nSec-WebSocket-Version: 13\r\nSec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\n\r\n`

const open = () =>
  new Promise<Socket>((resolve) => {
    const socket = connect(port(), '127.0.0.1', () => resolve(socket))
    socket.on('error', () => {})
  })

test('upgrade requests that are reset, from pages of ours and of others', async () => {
  for (let i = 0; i < 60; i++) {
    const socket = await open()
    const path = ['/live', '/live/pictures', '/elsewhere'][i % 3]!
    socket.write(UPGRADE(path, i % 2 ? running.address : 'http://evil.example'))
    if (i % 5 === 0) await sleep(2)
    socket.resetAndDestroy()
  }
  for (let i = 0; i < 20; i++) {
    const socket = await open()
    socket.write('GET / HTTP/1.1\r\nHost: ')
    socket.resetAndDestroy()
  }
  await sleep(200)
})

test('a connection that is opened ahead of need, as browsers do, is closed without a word', async () => {
  const ahead = await open()
  let said = ''
  ahead.on('data', (bytes) => {
    said += bytes.toString()
  })
  await new Promise((resolve) => ahead.on('close', resolve))
  // Any word would be taken for the answer to a request that was just on its way.
  expect(said).toBe('')
}, 20_000)

test('half a request, and a picture socket that never reads, do not get to stay', async () => {
  const half = await open()
  half.write('GET /api/desk HTTP/1.1\r\nHost: 127.0.0.1\r\n')
  const mute = await open()
  mute.write(UPGRADE('/live/pictures', running.address))
  await new Promise((resolve) => mute.once('data', resolve))
  mute.pause()
  // A masked text message: watch the gallery at full rate, and never confirm a frame.
  const text = Buffer.from(JSON.stringify({ t: 'watch', cameras: [{ id: galleryId, perSec: 60 }] }))
  mute.write(
    Buffer.concat([Buffer.from([0x81, 0x80 | 126, text.length >> 8, text.length & 255, 0, 0, 0, 0]), text]),
  )
  const ended = (socket: Socket) => new Promise<void>((resolve) => socket.on('close', () => resolve()))
  const closed = Promise.all([ended(half), ended(mute)])
  half.resume()
  setTimeout(() => mute.resume(), 11_000)
  await closed
}, 30_000)

test('malformed, empty, far too large, and with what no database can keep: refused with a sentence, and without the input', async () => {
  const { presets, cameras } = await desk()
  const preset = `/presets/${presets[0]!.id}`
  const raw = (path: string, method: string, body: string, type = 'application/json') =>
    fetch(`${running.address}/api${path}`, {
      method,
      body,
      headers: { 'content-type': type, 'x-steady-heron': '1' },
    })
  const evil = 'Zq7'.repeat(4000)
  const many = JSON.stringify({ ids: Array.from({ length: 800 }, () => evil.slice(0, 14)), board: 'own' })
  for (const [path, method, body, status] of [
    [preset, 'PATCH', '{"name":', 400],
    [preset, 'PATCH', '{}', 400],
    [preset, 'PATCH', '{"name":"a\\u0000b"}', 400],
    [preset, 'PATCH', `{"name":"${evil}"}`, 400],
    [preset, 'PATCH', `{"name":"${'x'.repeat(70_000)}"}`, 413],
    [`/cameras/${cameras[0]!.id}/habits`, 'PATCH', '{}', 400],
    ['/persons', 'POST', '{"name":"\\u0000"}', 400],
    ['/presets/order', 'POST', many, 400],
    ['/presets/order', 'POST', JSON.stringify({ ids: [evil], board: evil }), 400],
    ['/command-sets', 'POST', `{"id":"${evil}"}`, 400],
    ['/command-sets', 'POST', '['.repeat(100_000), 400],
    ['/venues/imports/csv', 'POST', `${evil}\n${evil}`, 400],
    ['/presets/list', 'POST', `{"presets":[${`{"a":"${evil}"},`.repeat(20)}1]}`, 400],
  ] as const) {
    const refused = await raw(path, method, body)
    const text = await refused.text()
    expect([path, refused.status]).toEqual([path, status])
    expect(JSON.parse(text)).toMatchObject({ error: expect.stringMatching(/\w+ \w+/) })
    expect(text.length).toBeLessThan(500)
    expect(text).not.toContain('Zq7Zq7Zq7Zq7Zq7')
  }
  expect((await desk()).presets).toEqual(presets)
})

/** A zip of one file that says it is small and unpacks to a lot. */
function bomb(name: string, bytes: number): Buffer {
  const packed = deflateRawSync(Buffer.alloc(bytes))
  const local = Buffer.alloc(30)
  local.writeUInt32LE(0x04034b50, 0)
  local.writeUInt16LE(20, 4)
  local.writeUInt16LE(8, 8)
  local.writeUInt32LE(packed.length, 18)
  local.writeUInt32LE(bytes, 22)
  local.writeUInt16LE(name.length, 26)
  const central = Buffer.alloc(46)
  central.writeUInt32LE(0x02014b50, 0)
  central.writeUInt16LE(20, 6)
  central.writeUInt16LE(8, 10)
  central.writeUInt32LE(packed.length, 20)
  central.writeUInt32LE(bytes, 24)
  central.writeUInt16LE(name.length, 28)
  const at = local.length + name.length + packed.length
  const end = Buffer.alloc(22)
  end.writeUInt32LE(0x06054b50, 0)
  end.writeUInt16LE(1, 8)
  end.writeUInt16LE(1, 10)
  end.writeUInt32LE(central.length + name.length, 12)
  end.writeUInt32LE(at, 16)
  return Buffer.concat([local, Buffer.from(name), packed, central, Buffer.from(name), end])
}

test('pictures and files that would take for ever to read hold nothing up', async () => {
  const { presets } = await desk()
  const put = (body: Buffer) =>
    fetch(`${running.address}/api/presets/${presets[0]!.id}/picture`, {
      method: 'PUT',
      body: new Uint8Array(body),
      headers: { 'x-steady-heron': '1' },
    })
  // A drawing that a reader of vectors would work at for seconds: patterns within patterns.
  const levels = Array.from(
    { length: 12 },
    (_, i) => `<g id="g${i + 1}">${`<use href="#g${i}"/>`.repeat(10)}</g>`,
  ).join('')
  const svg = Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" width="9000" height="9000"><defs><g id="g0"><rect width="9" height="9"/></g>${levels}</defs><use href="#g12"/></svg>`,
  )
  // A picture that says it is 60,000 pixels wide and high.
  const png = Buffer.concat([
    Buffer.from('89504e470d0a1a0a0000000d494844520000ea600000ea600802000000', 'hex'),
    Buffer.alloc(4000),
  ])
  for (const file of [svg, png, Buffer.from('ffd8ffe0', 'hex'), Buffer.alloc(100_000), Buffer.alloc(0)])
    expect((await put(file)).status).toBe(400)
  const zip = (body: Buffer) =>
    fetch(`${running.address}/api/venues/imports/zip`, {
      method: 'POST',
      body: new Uint8Array(body),
      headers: { 'x-steady-heron': '1', 'content-type': 'application/zip' },
    })
  for (const file of [
    bomb('venue.json', 400 * 1024 * 1024),
    bomb('venue.json', 30 * 1024 * 1024),
    bomb('../../evil', 10),
    Buffer.from('PK'),
    Buffer.alloc(0),
  ])
    expect((await zip(file)).status).toBe(400)
}, 60_000)

test('a device that answers a search with nonsense is no camera, and ends nothing', async () => {
  const liar = createSocket({ type: 'udp4', reuseAddr: true })
  const says = [
    'http://0.0.0.0:0/onvif/device_service',
    'http://a.300/x',
    `http://${'a'.repeat(300)}/`,
    'http://',
    'urn:x',
    'http://127.0.0.1:99999/',
    'http://%00/',
  ]
  const match = (id: string) =>
    `<s:Envelope xmlns:s="http://www.w3.org/2003/05/soap-envelope" xmlns:d="http://schemas.xmlsoap.org/ws/2005/04/discovery" xmlns:a="http://schemas.xmlsoap.org/ws/2004/08/addressing"><s:Header><a:RelatesTo>${id}</a:RelatesTo></s:Header><s:Body><d:ProbeMatches>${says
      .map(
        (x) =>
          `<d:ProbeMatch><d:XAddrs>${x}</d:XAddrs><d:Scopes>onvif://www.onvif.org/name/%ZZ</d:Scopes></d:ProbeMatch>`,
      )
      .join('')}</d:ProbeMatches></s:Body></s:Envelope>`
  let asked = 0
  liar.on('error', () => {})
  liar.on('message', (bytes, peer) => {
    asked += 1
    const id = /MessageID>([^<]*)</.exec(bytes.toString())?.[1] ?? ''
    for (const text of [match(id), '<x', '\0\0\0', `<!DOCTYPE x [<!ENTITY a "b">]>${match(id)}`])
      liar.send(Buffer.from(text), peer.port, peer.address)
  })
  await new Promise<void>((resolve) =>
    liar.bind(3702, () => {
      liar.addMembership('239.255.255.250', '127.0.0.1')
      resolve()
    }),
  )
  const started = await answer<Search>('/find', 'POST', { onvif: true, range: null, serial: false })
  await eventually(
    'the search ends',
    async () => (await answer<Search>(`/find/${started.id}`)).state === 'done',
  )
  liar.close()
  expect(asked).toBeGreaterThan(0)
  const { found } = await answer<Search>(`/find/${started.id}`)
  // Stand-ins of other runs on this computer may answer too; none of what it said is among them.
  expect(
    found.map((f) => f.address).filter((address) => !/^ONVIF, 127\.\d+\.\d+\.1[15]:8000$/.test(address)),
  ).toEqual([])
})

test('a page that sends nonsense, or orders for cameras that are not there, is put out', async () => {
  const rude = await Hands.open(running.address)
  const before = rude.heard.length
  for (let i = 0; i < 900; i++)
    rude.send({ t: 'stick', camera: 'nobody', pan: 1, tilt: 0, zoom: 0, focus: 0 })
  await eventually('it is put out', async () => rude.closed)
  expect(rude.heard.length - before).toBeLessThan(700)
})

test('this server itself, and link-local addresses, are no cameras', async () => {
  const attempt = async (connection: object) =>
    (await answer<Outcome>('/cameras/try', 'POST', { connection })).problem?.text
  expect(await attempt({ kind: 'visca-tcp', host: '127.0.0.1', port: port() })).toMatch(/Steady Heron itself/)
  expect(await attempt({ kind: 'visca-tcp', host: 'localhost', port: port() })).toMatch(/Steady Heron itself/)
  expect(await attempt({ kind: 'onvif', host: '127.0.0.1', port: port(), user: '' })).toMatch(
    /Steady Heron itself/,
  )
  expect(await attempt({ kind: 'onvif', host: '2130706433', port: port(), user: '' })).toMatch(
    /Steady Heron itself/,
  )
  expect(await attempt({ kind: 'visca-udp', host: '169.254.169.254', port: 80 })).toMatch(/169.254/)
  const databasePort = Number(new URL(running.databaseUrl).port)
  expect(await attempt({ kind: 'visca-tcp', host: '127.0.0.1', port: databasePort })).toMatch(
    /Steady Heron itself/,
  )
  // What a command set could send to us, were it let.
  const bare = { method: 'POST', body: '{"name":"x"}', headers: { 'content-type': 'application/json' } }
  expect((await fetch(`${running.address}/api/venues`, bare)).status).toBe(403)
})

test('a kept password does not follow an address, in the list, by Try, or by a file', async () => {
  const { id, passwords: _, warnings: __, ...settings } = await camera('Benches')
  const kept = async () => (await camera('Benches')).passwords.link
  expect(await kept()).toBe(true)
  const connection = { ...settings.connection, port: 8099 }
  // Somebody listens there, and would be told the password's digest if it were sent.
  const refused = await answer<Outcome>('/cameras/try', 'POST', { connection, cameraId: id })
  expect(refused.ok).toBe(false)
  await answer(`/cameras/${id}`, 'PUT', {
    settings: { ...settings, name: 'Benches', mount: { upsideDown: true, mirrored: false } },
  })
  expect(await kept()).toBe(true)
  const csv = await (await fetch(`${running.address}/api/cameras/list.csv`)).text()
  const moved = csv.replace(/(,onvif,[^\r\n]*?)8000/, '$18098')
  expect(moved).not.toBe(csv)
  const looked = (await (
    await fetch(`${running.address}/api/venues/imports/csv`, {
      method: 'POST',
      body: moved,
      headers: { 'x-steady-heron': '1', 'content-type': 'text/csv' },
    })
  ).json()) as { id: string }
  await answer(`/venues/imports/${looked.id}`, 'POST', { mode: 'merge' })
  expect(await kept()).toBe(false)
  await answer(`/cameras/${id}`, 'PUT', { settings, secrets: { link: 'reed-warbler-41' } })
  expect(await kept()).toBe(true)
  await answer(`/cameras/${id}`, 'PUT', { settings: { ...settings, connection } })
  expect(await kept()).toBe(false)
})

test('only the files of the pages are served, and no page may run what is written into it', async () => {
  const get = (path: string) => fetch(`${running.address}${path}`)
  expect((await get('/.built')).status).toBe(404)
  expect((await get('/../package.json')).status).toBe(404)
  expect((await get('/%2e%2e/package.json')).status).toBe(404)
  const page = await get('/')
  expect(page.headers.get('content-security-policy')).toMatch(/script-src 'self'(;|$)/)
  expect(await page.text()).not.toMatch(/<script(?![^>]*src=)/)
})

test('nothing of all that is left open', async () => {
  await eventually(
    'its handles are as before',
    async () => handlesOf(running.serverPid) <= handles + 12,
    15_000,
  )
}, 30_000)

test('an address that makes no sense, kept by an older version, hurts no other camera at the start', async () => {
  const client = new pg.Client({ connectionString: running.databaseUrl })
  await client.connect()
  await client.query(
    `update camera set picture = '{"kind":"mjpeg","url":"http://[::1","user":""}', connection = '{"kind":"onvif","host":"10.0.0.300","port":80,"user":""}' where name = 'Scoreboard'`,
  )
  await client.end()
  await running.restart('SIGTERM')
  const health = await answer<{
    cameras: { name: string; health: { state: string; advice: string | null } }[]
  }>('/health')
  expect(health.cameras).toHaveLength(6)
  expect(health.cameras.find((c) => c.name === 'Scoreboard')!.health.advice).toMatch(/\w+ \w+/)
  hands = await Hands.open(running.address)
  await eventually('the gallery answers', async () => hands.health(galleryId) === 'ready')
  hands.hold(new Map([[galleryId, { pan: 0.4, tilt: 0, zoom: 0 }]]))
  await eventually('the gallery moves', async () => (await running.truth()).moving)
})
