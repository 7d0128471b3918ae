/** Button boxes and other programs: over HTTP with a key, over OSC, and what they are told. Bytes of OSC by another library. */
import { createSocket } from 'node:dgram'
import { fromBuffer, toBuffer } from 'osc-min'
import WebSocket from 'ws'
import type { ShowNow } from '../src/core/cues/now'
import { apiOf, withApplication } from './application'
import { eventually, type Running, sleep, still } from './harness'

let running: Running
withApplication(
  (r) => {
    running = r
  },
  { env: { HERON_SIM_PROGRAM: '3,8' } },
)
const { answer, desk, camera, named } = apiOf(() => running)
const now = () => answer<ShowNow>('/show')
const post = (path: string, key: string, values: unknown[] = []) =>
  fetch(`${running.address}/api/remote/${path}`, {
    method: 'POST',
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
    body: JSON.stringify({ values }),
  })
const makeKey = async (rights: string[], endsAt: string | null = null) =>
  (await answer<{ key: string }>('/remote-settings/keys', 'POST', { name: 'Box', rights, endsAt })).key
const free = () => 15_000 + Math.floor(Math.random() * 15_000)

test('a key opens what it has a right to, until its end, and nothing else', async () => {
  const key = await makeKey(['recall', 'drive'])
  const goal = await named('Curlews')
  // As soon as the camera answers.
  await eventually('it goes', async () => (await post('camera/1/recall', key, ['Curlews'])).ok, 20_000)
  await still(running)
  expect(Math.abs((await running.truth()).panDeg - goal.pose.panDeg)).toBeLessThan(0.2)
  for (const [path, values, why] of [
    ['go', [], /may not/],
    ['camera/9/recall', [1], /No camera has the number 9/],
    ['camera/1/recall', ['Nobody'], /no preset “Nobody”/],
    ['nowhere', [], /no address/],
  ] as const) {
    const refused = await post(path, key, [...values])
    expect([refused.status, ((await refused.json()) as { error: string }).error]).toEqual([
      409,
      expect.stringMatching(why),
    ])
  }
  expect((await post('go', 'not-a-key-of-ours')).status).toBe(401)
  const past = await makeKey(['cues'], new Date(Date.now() - 1000).toISOString())
  expect((await post('go', past)).status).toBe(401)
  // It opens no other door: the API asks for what it always asks.
  const elsewhere = await fetch(`${running.address}/api/show/go`, {
    method: 'POST',
    headers: { authorization: `Bearer ${key}` },
  })
  expect(elsewhere.status).toBe(403)
  const [first] = (await answer<{ keys: { id: string }[] }>('/remote-settings')).keys
  await answer(`/remote-settings/keys/${first!.id}`, 'DELETE')
  expect((await post('camera/1/recall', key, [1])).status).toBe(401)
}, 60_000)

test('driving by HTTP lasts as long as it is repeated, and no longer', async () => {
  const key = await makeKey(['drive'])
  await sleep(2200)
  for (let i = 0; i < 8; i++) {
    expect((await post('camera/1/stick', key, [0.5, 0, 0])).status).toBe(200)
    await sleep(100)
  }
  expect((await running.truth()).moving).toBe(true)
  await sleep(900)
  const a = await running.truth()
  expect(a.moving).toBe(false)
}, 30_000)

test('OSC in, OSC out, and facts over a socket: Go does what the Desk does, and the box can light its buttons', async () => {
  const [port, back] = [free(), free()]
  const heard = new Map<string, unknown>()
  const box = createSocket('udp4').bind(back)
  box.on('message', (bytes) => {
    const read = fromBuffer(bytes)
    if (read.oscType === 'message') heard.set(read.address, read.args[0]?.value)
  })
  await answer('/remote-settings/osc', 'PUT', {
    ...{ enabled: true, port, rights: ['cues', 'tally', 'recall'], from: ['127.0.0.1'] },
    feedback: { host: '127.0.0.1', port: back },
  })
  await eventually('it tells', async () => heard.get('/heron/next') === 'Doors')
  await eventually('and who is on air', async () => heard.get('/heron/tally/3') === 'program')
  const key = await makeKey(['cues'])
  const socket = new WebSocket(`${running.address.replace('http', 'ws')}/api/remote/facts`, {
    headers: { authorization: `Bearer ${key}` },
  })
  const facts: { kind: string; value: ShowNow }[] = []
  socket.on('message', (data) => facts.push(...(JSON.parse(String(data)) as { facts: typeof facts }).facts))
  const say = (address: string, ...args: { type: string; value: unknown }[]) => {
    const bytes = toBuffer({ address, args: args as never })
    box.send(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), port, '127.0.0.1')
  }
  say('/heron/cue/go', { type: 'string', value: 'Buzzer' })
  const buzzer = (await desk()).show.cues.find((c) => c.name === 'Buzzer')!
  await eventually('it runs', async () =>
    (await now()).runs.some((r) => r.cue === buzzer.id && r.state === 'running'),
  )
  await eventually(
    'the button is lit',
    async () => heard.get('/heron/button/1') === 1 && heard.get('/heron/running') === 'Buzzer',
  )
  await eventually('and by the socket', async () =>
    facts.some(({ kind, value }) => kind === 'show' && value.runs.some((r) => r.cue === buzzer.id)),
  )
  say('/heron/hold', { type: 'integer', value: 1 })
  await eventually('held', async () => (await now()).held)
  say('/heron/hold', { type: 'integer', value: 0 })
  say('/heron/stop')
  await eventually('stopped', async () => (await now()).runs.every((r) => r.state !== 'running'))
  await eventually('the button is dark', async () => heard.get('/heron/button/1') === 0)
  // What may not be done, and what makes no sense, is not.
  const before = (await still(running, 'stage-left')).panDeg
  say('/heron/camera/2/stick', { type: 'float', value: 1 })
  box.send(Buffer.from('nonsense'), port, '127.0.0.1')
  await sleep(400)
  expect((await running.truth('stage-left')).panDeg).toBe(before)
  expect((await camera()).name).toBe('Gallery')
  socket.close()
  box.close()
}, 60_000)
