/** The guardian's ways to a device, against sockets and servers that know nothing of it. Bytes are written out. */
import { createSocket } from 'node:dgram'
import { createServer as createHttp } from 'node:http'
import { type AddressInfo, createServer } from 'node:net'
import type { StopOrder } from '../core/guardian/stopOrder'
import { framedStops, rawStops } from '../core/visca/stopPackets'
import { startStop } from './stopRun'

const until = async (test: () => boolean) => {
  for (let i = 0; i < 300 && !test(); i++) await new Promise((resolve) => setTimeout(resolve, 10))
  expect(test()).toBe(true)
}
const run = (order: StopOrder) => startStop({ key: 'k', camera: 'c', name: 'n', stops: [order] })
const hex = (bytes: Uint8Array) => Buffer.from(bytes).toString('hex')

test('the packets are those of the standard', () => {
  expect(framedStops({ head: true, lens: true }, 0xabcd).map((p) => p.hex)).toEqual([
    '020000010000abcd01',
    '0100000900000001810106010101030' + '3ff',
    '0100000600000002810104070' + '0ff',
    '0100000600000003810104080' + '0ff',
    '01000003000000048121ff',
    '01000003000000058122ff',
  ])
  expect(rawStops({ head: true, lens: false }, 3).map((p) => p.hex)).toEqual([
    '830106010101030' + '3ff',
    '8321ff',
    '8322ff',
  ])
})

test('numbered UDP: again and again until each stop is acknowledged under its number', async () => {
  const heard: string[] = []
  const camera = createSocket('udp4')
  await new Promise<void>((resolve) => camera.bind(0, '127.0.0.1', resolve))
  let deaf = 6
  camera.on('message', (bytes, { port, address }) => {
    heard.push(hex(bytes))
    if (deaf-- > 0 || bytes[0] !== 1) return
    // Acknowledged in socket 1, under the number that came.
    const answer = Buffer.concat([
      Buffer.from('01110003', 'hex'),
      bytes.subarray(4, 8),
      Buffer.from('9041ff', 'hex'),
    ])
    camera.send(answer, port, address)
  })
  const order: StopOrder = {
    over: 'udp',
    host: '127.0.0.1',
    port: camera.address().port,
    packets: framedStops({ head: true, lens: true }, 9),
    gapMs: 5,
  }
  const stop = run(order)
  await until(() => stop.answered)
  stop.end()
  expect(heard.length).toBeGreaterThanOrEqual(12)
  expect(heard[0]).toBe('020000010000000901')
  camera.close()
})

test('TCP: a connection of its own, recreated where the first is closed; counted answers', async () => {
  let connections = 0
  const server = createServer((socket) => {
    connections += 1
    if (connections === 1) return socket.destroy()
    socket.on('data', (bytes) => {
      for (let i = 0; i < hex(bytes).split('ff').length - 1; i++)
        socket.write(Buffer.from('9041ff9051ff', 'hex'))
    })
    socket.on('error', () => {})
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const { port } = server.address() as AddressInfo
  const stop = run({
    over: 'tcp',
    host: '127.0.0.1',
    port,
    packets: rawStops({ head: true, lens: true }),
    gapMs: 5,
  })
  await until(() => stop.answered)
  stop.end()
  expect(connections).toBeGreaterThan(1)
  server.close()
})

test('HTTP: tried again after a refusal, never the same request twice, and with a digest login', async () => {
  const bodies: string[] = []
  const server = createHttp((request, response) => {
    let body = ''
    request.on('data', (piece) => (body += piece))
    request.on('end', () => {
      if (!/^Digest username="op"/.test(request.headers.authorization ?? '')) {
        response
          .writeHead(401, {
            'www-authenticate': ['Basic realm="x"', 'Digest realm="x", nonce="1", qop="auth"'],
          })
          .end()
        return
      }
      bodies.push(body)
      response.writeHead(bodies.length < 2 ? 500 : 200).end()
    })
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const { port } = server.address() as AddressInfo
  const request = (body: string) => ({
    url: `http://127.0.0.1:${port}/ptz`,
    method: 'POST' as const,
    body,
    contentType: 'text/xml',
  })
  const stop = run({
    over: 'http',
    groups: [[request('one'), request('two'), request('three')]],
    login: { openly: true, certificate: null, user: 'op', password: 'secret' },
  })
  await until(() => stop.answered)
  expect(bodies.slice(0, 2)).toEqual(['one', 'two'])
  server.close()
})
