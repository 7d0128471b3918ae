import { createServer, type Server, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import { SharedFeed } from './feed'
import type { Frame } from './frame'
import { openMjpeg } from './mjpeg'
import { feedOfStream } from './pictureHub'

const NOBODY = { user: '', password: '' }

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
  const source = new SharedFeed(openMjpeg(`${url}/stream`, NOBODY))
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

test('a source that lingers serves whoever looks again soon, and is closed when nobody does', async () => {
  const source = new SharedFeed(openMjpeg(`${url}/stream`, NOBODY), {
    ...{ stalledMs: 3000, freshWithinMs: 2500, lingerMs: 400 },
  })
  source.watch(() => {})()
  await until(() => streams.length === 1)
  const seen: Frame[] = []
  const stop = source.watch((f) => seen.push(f))
  send(streams[0]!, jpeg('a'))
  await until(() => seen.length === 1)
  // It breaks when nobody looks: it is opened anew for the next who does, and not before.
  stop()
  streams[0]!.destroy()
  await new Promise((resolve) => setTimeout(resolve, 900))
  expect(streams).toHaveLength(1)
  const again = source.watch(() => {})
  await until(() => streams.length === 2)
  again()
  await new Promise((resolve) => setTimeout(resolve, 150))
  expect(streams[1]!.destroyed).toBe(false)
  await until(() => streams[1]!.destroyed)
})

test('the same bytes again are fresh, and it is told for how long they have been the same', async () => {
  const source = new SharedFeed(openMjpeg(`${url}/stream`, NOBODY))
  const seen: Frame[] = []
  source.watch((f) => seen.push(f))
  await until(() => streams.length === 1)
  for (const text of ['a', 'a', 'a', 'b']) send(streams[0]!, jpeg(text))
  await until(() => seen.length === 4)
  expect(seen.map((f) => f.number)).toEqual([1, 1, 1, 2])
  expect(seen[2]!.sinceMs).toBe(seen[0]!.sinceMs)
  expect(seen[2]!.atMs).toBeGreaterThan(seen[0]!.atMs)
  expect(seen[3]!.sinceMs).toBe(seen[3]!.atMs)
  source.close()
})

test('a fresh frame: the snapshot of now, or the next of the stream, else none', async () => {
  const still = feedOfStream({ kind: 'jpeg', url: `${url}/one.jpg`, user: '', perSec: 2 }, '')
  expect(Buffer.from((await still.fresh())!)).toEqual(jpeg('still'))
  snapshot = null
  expect(await still.fresh()).toBeNull()
  const source = new SharedFeed(openMjpeg(`${url}/stream`, NOBODY))
  const next = source.fresh()
  await until(() => streams.length === 1)
  send(streams[0]!, jpeg('next'))
  expect(Buffer.from((await next)!)).toEqual(jpeg('next'))
  expect(await source.fresh()).toBeNull()
})

test('what is wrong with a picture is said in words', async () => {
  const wrong = feedOfStream({ kind: 'mjpeg', url: `${url}/one.jpg`, user: '' }, '')
  const stop = wrong.watch(() => {})
  await until(() => wrong.trouble !== null)
  expect(wrong.trouble).toContain('no MJPEG')
  stop()
  const nobody = feedOfStream({ kind: 'jpeg', url: 'http://127.0.0.1:1/x.jpg', user: '', perSec: 2 }, '')
  const stopNobody = nobody.watch(() => {})
  await until(() => nobody.trouble !== null)
  expect(nobody.trouble).toContain('Nothing listens')
  stopNobody()
})
