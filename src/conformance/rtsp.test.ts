/** Video over RTSP from a server that gives it only one way, through the real decoder. */
import { type AddressInfo, createServer } from 'node:net'
import { createCanvas } from '@napi-rs/canvas'
import { SharedFeed } from '../server/video/feed'
import { isJpeg } from '../server/video/frame'
import { openRtsp, timeOptionIn } from '../server/video/rtsp'
import { Encoder } from '../simulator/video/encoder'
import { type RtspOptions, RtspServer } from '../simulator/video/rtspServer'

const HOST = '127.0.0.1'
const LOGIN = { user: 'op', password: 'pa:ss' }

async function freePort(): Promise<number> {
  const server = createServer()
  await new Promise<void>((resolve) => server.listen(0, HOST, resolve))
  const { port } = server.address() as AddressInfo
  await new Promise((resolve) => server.close(resolve))
  return port
}

let shade = 0
const draw = () => {
  const canvas = createCanvas(320, 180)
  const context = canvas.getContext('2d')
  shade = (shade + 16) % 256
  context.fillStyle = `rgb(${shade}, 90, 90)`
  context.fillRect(0, 0, 320, 180)
  return canvas.encode('jpeg', 80)
}

test.concurrent.each<[string, RtspOptions['overTcp']]>([
  ['TCP', undefined],
  ['UDP, as it refuses TCP', 'refused'],
  ['UDP, as nothing comes over TCP', 'silent'],
])(
  'it is seen over %s',
  async (_, overTcp) => {
    const port = await freePort()
    const encoder = new Encoder(draw, 10)
    const server = new RtspServer(
      { host: HOST, port, path: '/live', ...LOGIN, ...(overTcp && { overTcp }) },
      encoder,
    )
    await server.listen()
    const feed = new SharedFeed(openRtsp(`rtsp://${HOST}:${port}/live`, LOGIN), {
      stalledMs: 6000,
      firstMs: 11_000,
      freshWithinMs: 25_000,
    })
    const jpeg = await feed.fresh()
    feed.close()
    server.close()
    encoder.stop()
    expect(isJpeg(jpeg ?? new Uint8Array())).toBe(true)
  },
  40_000,
)

test('what limits the time is asked of the decoder that is there', () => {
  const four =
    '  -timeout <int> .D... set maximum timeout to wait for incoming connections\n  -stimeout <int64> .D... set timeout'
  expect(timeOptionIn(four)).toBe('stimeout')
  expect(timeOptionIn('  -timeout           <int64>      .D... set timeout (in microseconds)')).toBe(
    'timeout',
  )
})
