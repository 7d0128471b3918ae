/** Messages to other devices against small servers of their own: answers, limits, silence, redirects, and what is kept secret. */
import { createSocket } from 'node:dgram'
import { createServer } from 'node:http'
import { type AddressInfo, createServer as createTcp } from 'node:net'
import * as v from 'valibot'
import { DeviceMessage } from '../../core/messages/device'
import { readLine } from '../../core/messages/line'
import { Devices } from '../cues/devices'
import type { DeviceRow } from '../store/devices'
import { ANSWER_BYTES, exchange } from './exchange'

const closers: (() => void)[] = []
afterAll(() => {
  for (const close of closers) close()
})

/** Counts what it is asked. */
async function web(
  answer: (path: string) => { status: number; headers?: Record<string, string>; body: string },
) {
  const asked: string[] = []
  const server = createServer((request, response) => {
    asked.push(request.url ?? '')
    const { status, headers = {}, body } = answer(request.url ?? '')
    response.writeHead(status, headers).end(body)
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  closers.push(() => server.close())
  return { at: `127.0.0.1:${(server.address() as AddressInfo).port}`, asked }
}

const send = (line: string, options = {}) => exchange(readLine(line, {}), options)

test('HTTP: the answer as it is, cut where it is far too long; a redirect is not followed', async () => {
  const elsewhere = await web(() => ({ status: 200, body: 'no' }))
  const { at, asked } = await web((path) =>
    path === '/long'
      ? { status: 200, body: 'x'.repeat(ANSWER_BYTES * 3) }
      : path === '/away'
        ? { status: 302, headers: { location: `http://${elsewhere.at}/secret` }, body: '' }
        : { status: 200, body: 'lights on' },
  )
  expect(await send(`POST http://${at}/on`, { expects: 'on' })).toEqual({ text: 'lights on' })
  expect((await send(`GET http://${at}/long`)).text.length).toBe(ANSWER_BYTES)
  await expect(send(`GET http://${at}/away`)).rejects.toThrow(/answered with 302/)
  await expect(send(`GET http://${at}/on`, { expects: 'off' })).rejects.toThrow(/“lights on”, where “off”/)
  expect([asked.length, elsewhere.asked.length]).toEqual([4, 0])
})

test('this computer itself is refused where it was not allowed, by name too', async () => {
  const { at, asked } = await web(() => ({ status: 200, body: '' }))
  const port = at.split(':')[1]
  for (const host of ['127.0.0.1', 'localhost', '[::1]'])
    await expect(send(`GET http://${host}:${port}/`, { local: false })).rejects.toThrow(
      /this computer itself/,
    )
  await expect(send(`TCP localhost:${port} x`, { local: false })).rejects.toThrow(/this computer itself/)
  await expect(send('UDP 169.254.169.254:80 x', { local: true })).rejects.toThrow(/169\.254/)
  expect(asked).toEqual([])
})

test('TCP: what was expected ends the wait; one that is mute, and one where nobody listens, are told', async () => {
  const heard: string[] = []
  const talks = createTcp((socket) => {
    socket.on('error', () => {})
    socket.on('data', (bytes) => {
      heard.push(String(bytes))
      socket.write('OK 1\r\nand more')
    })
  })
  await new Promise<void>((resolve) => talks.listen(0, '127.0.0.1', resolve))
  closers.push(() => talks.close())
  const { port } = talks.address() as AddressInfo
  expect((await send(`TCP 127.0.0.1:${port} GO\\r`, { expects: 'OK 1' })).text).toContain('OK 1')
  expect(heard).toEqual(['GO\r'])
  await expect(send(`TCP 127.0.0.1:${port} GO`, { expects: 'DONE', withinMs: 200 })).rejects.toThrow(
    /“DONE” was expected/,
  )
  talks.close()
  await expect(send('TCP 127.0.0.1:1 GO')).rejects.toThrow()
})

test('UDP: an answer is waited for only where one is expected, and taken only from whoever was asked', async () => {
  const device = createSocket('udp4')
  await new Promise<void>((resolve) => device.bind(0, '127.0.0.1', resolve))
  closers.push(() => device.close())
  const { port } = device.address()
  let mute = false
  device.on('message', (bytes, peer) => !mute && device.send(`got ${bytes}`, peer.port, peer.address))
  expect((await send(`UDP 127.0.0.1:${port} hex: 41 42`, { expects: 'got AB' })).text).toBe('got AB')
  mute = true
  expect((await send(`UDP 127.0.0.1:${port} x`)).text).toBe('')
  await expect(send(`UDP 127.0.0.1:${port} x`, { expects: 'got', withinMs: 150 })).rejects.toThrow(
    /did not answer/,
  )
})

test('a message is tried again as often as was asked, and its secret is in no word that is kept', async () => {
  let calls = 0
  const { at } = await web((path) => {
    calls += 1
    return { status: calls < 3 ? 500 : 200, body: `you asked for ${path}` }
  })
  const message = v.parse(DeviceMessage, {
    id: 'm',
    name: 'On',
    line: `POST http://${at}/on?key={secret}`,
    retries: 2,
  })
  const row: DeviceRow = {
    view: { id: 'd', name: 'Lights', local: true, messages: [message], hasSecret: true },
    secret: 'reed bed/5',
  }
  const told: string[] = []
  const devices = new Devices({
    device: (id) => (id === 'd' ? row : null),
    tell: (_, state) => told.push(state.text),
    wallMs: () => 0,
    later: async () => {},
  })
  expect(await devices.send('d', 'm', {})).toEqual({ ok: true })
  expect(calls).toBe(3)
  calls = -10
  const failed = await devices.send('d', 'm', {})
  expect(failed).toMatchObject({ ok: false, why: expect.stringMatching(/^Lights: .*500/) })
  expect([...told, failed.why].join()).not.toMatch(/reed/)
  expect(await devices.send('gone', 'm', {})).toMatchObject({
    ok: false,
    why: expect.stringMatching(/no longer exists/),
  })
})
