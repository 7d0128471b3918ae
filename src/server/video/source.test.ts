import { createServer, type Server, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import { type Frame, PictureSource } from './source'

const jpeg = (text: string) =>
  Buffer.concat([Buffer.from([0xff, 0xd8]), Buffer.from(text), Buffer.from([0xff, 0xd9])])

let server: Server
let streams: ServerResponse[]
let snapshot: Buffer | null
let url: string

beforeEach(async () => {
  streams = []
  snapshot = jpeg('still')
  server = createServer((request, response) => {
    if (request.url === '/one.jpg') {
      if (snapshot) response.end(snapshot)
      else response.writeHead(503).end('busy')
      return
    }
    response.writeHead(200, { 'content-type': 'multipart/x-mixed-replace; boundary=b' })
    response.flushHeaders()
    streams.push(response)
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
})
afterEach(() => {
  server.closeAllConnections()
  server.close()
})

const until = async (test: () => boolean) => {
  for (let i = 0; i < 200 && !test(); i++) await new Promise((resolve) => setTimeout(resolve, 20))
  expect(test()).toBe(true)
}
const send = (stream: ServerResponse, image: Buffer) =>
  stream.write(
    Buffer.concat([
      Buffer.from(`--b\r\nContent-Length: ${image.length}\r\n\r\n`),
      image,
      Buffer.from('\r\n'),
    ]),
  )

test('one connection for all who look; none when nobody does; a new one when it breaks', async () => {
  const source = new PictureSource(`${url}/stream`, null)
  const seen: Frame[] = []
  const stops = [source.watch((f) => seen.push(f)), source.watch(() => {})]
  await until(() => streams.length === 1)
  send(streams[0]!, jpeg('a'))
  await until(() => seen.length === 1)
  streams[0]!.destroy()
  await until(() => streams.length === 2)
  send(streams[1]!, jpeg('b'))
  await until(() => seen.length === 2)
  for (const stop of stops) stop()
  await until(() => streams[1]!.destroyed)
  await new Promise((resolve) => setTimeout(resolve, 900))
  expect(streams).toHaveLength(2)
})

test('the same bytes again are the old frame, so its age goes on', async () => {
  const source = new PictureSource(`${url}/stream`, null)
  const seen: Frame[] = []
  source.watch((f) => seen.push(f))
  await until(() => streams.length === 1)
  for (const text of ['a', 'a', 'a', 'b']) send(streams[0]!, jpeg(text))
  await until(() => seen.length === 2)
  expect(seen.map((f) => f.number)).toEqual([1, 2])
  source.close()
})

test('a fresh frame: the snapshot, else the next of the stream, else none', async () => {
  const both = new PictureSource(`${url}/stream`, `${url}/one.jpg`)
  expect(Buffer.from((await both.fresh())!)).toEqual(jpeg('still'))
  snapshot = null
  const next = both.fresh()
  await until(() => streams.length === 1)
  send(streams[0]!, jpeg('next'))
  expect(Buffer.from((await next)!)).toEqual(jpeg('next'))
  expect(await new PictureSource(null, `${url}/one.jpg`).fresh()).toBeNull()
})
