/** A client library that knows nothing of us does with a stand-in of the demo all that an ONVIF camera is for. */
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { promisify } from 'node:util'
import { Cam } from 'onvif'
import { headProfile } from '../core/heads/registry'
import { envelope, NAMESPACES } from '../core/onvif/soap'
import { Head } from '../simulator/body/head'
import { OnvifActions } from '../simulator/onvif/actions'
import { OnvifServer } from '../simulator/onvif/onvifServer'

const HOST = '127.0.0.1'
const LOGIN = { user: 'operator', password: 'reed-bed-4' }
const WITHIN_MS = 8000

async function freePort(): Promise<number> {
  const server: Server = createServer()
  await new Promise<void>((resolve) => server.listen(0, HOST, resolve))
  const { port } = server.address() as AddressInfo
  await new Promise((resolve) => server.close(resolve))
  return port
}

/** The library's calls, each as a promise of its answer. */
// biome-ignore lint/suspicious/noExplicitAny: its answers have no types
type Calls = Record<string, (options?: any) => Promise<any>>

let port: number
let head: Head
let server: OnvifServer
let cam: Calls & { activeSource: { profileToken: string; ptz: { token: string } } }

const connect = (password: string) =>
  new Promise<Cam>((resolve, reject) => {
    const options = { hostname: HOST, port, username: LOGIN.user, password, timeout: 3000 }
    const made = new Cam(options, (error: Error | null) => (error ? reject(error) : resolve(made)))
  })

beforeAll(async () => {
  port = await freePort()
  const profile = headProfile('mere-18x')
  head = new Head(profile, { panDeg: 0, tiltDeg: 0, zoom: 0 }, () => 8, performance.now())
  const urls = { streamUrl: `rtsp://${HOST}/live`, snapshotUrl: `http://${HOST}/still.jpg` }
  server = new OnvifServer(
    { host: HOST, port, name: 'Mere 18x', ...LOGIN, ...urls },
    head,
    new OnvifActions(head),
    0,
  )
  await server.listen()
  const made = await connect(LOGIN.password)
  cam = new Proxy(made, {
    get(target, name) {
      const value = Reflect.get(target, name)
      return typeof value === 'function' ? promisify(value.bind(target)) : value
    },
  }) as unknown as typeof cam
})

afterAll(() => server.close())

const pan = () => {
  head.advance(performance.now())
  return head.pan.position
}

async function until(what: () => boolean): Promise<void> {
  const from = performance.now()
  while (!what()) {
    if (performance.now() - from > WITHIN_MS) throw new Error('not in time')
    await new Promise((resolve) => setTimeout(resolve, 20))
  }
}

const rests = () =>
  until(() => {
    head.advance(performance.now())
    return !head.moving
  })

test('it connects with its login, and with no other', async () => {
  await expect(connect('something else')).rejects.toThrow()
  expect(cam.activeSource).toMatchObject({ profileToken: 'barn', encoding: 'H264', ptz: { token: 'ptz' } })
})

test('it reads what the camera is, its profiles, its picture, its node, its options and where it stands', async () => {
  expect(await cam.getDeviceInformation!()).toMatchObject({ manufacturer: 'Osier', model: 'Mere 18x' })
  const services = (await cam.getServices!()) as { namespace: string }[]
  expect(services.map((s) => s.namespace).sort()).toEqual(
    [NAMESPACES.tds, NAMESPACES.trt, NAMESPACES.tptz, NAMESPACES.timg].sort(),
  )
  expect(await cam.getProfiles!()).toMatchObject([{ name: 'barn', videoEncoderConfiguration: {} }])
  expect(await cam.getVideoSources!()).toMatchObject([{ $: { token: 'eye' } }])
  expect(await cam.getStreamUri!({ protocol: 'RTSP' })).toMatchObject({ uri: `rtsp://${HOST}/live` })
  expect(await cam.getSnapshotUri!()).toMatchObject({ uri: `http://${HOST}/still.jpg` })
  const node = Object.values(await cam.getNodes!())[0]
  expect(node).toMatchObject({ homeSupported: true, supportedPTZSpaces: {} })
  expect(await cam.getConfigurations!()).toMatchObject({ Head: { nodeToken: 'node' } })
  expect(await cam.getConfigurationOptions!(cam.activeSource.ptz.token)).toMatchObject({
    spaces: { absolute: { x: { min: -1, max: 1 } }, continuous: { zoom: { min: -1, max: 1 } } },
  })
  const { position, moveStatus } = await cam.getStatus!()
  expect(position.x).toBeCloseTo(0, 2)
  expect(moveStatus).toMatchObject({ panTilt: 'IDLE', zoom: 'IDLE' })
})

test('it drives, stops, goes to a position, a little further, and home', async () => {
  await cam.continuousMove!({ x: 0.5, y: 0, zoom: 0 })
  await until(() => pan() > 4)
  await cam.stop!({ panTilt: true, zoom: true })
  await rests()
  const { pan: ends } = head.profile
  const at = (share: number) => ends.minDeg + ((share + 1) / 2) * (ends.maxDeg - ends.minDeg)
  await cam.absoluteMove!({ x: 0.2, y: 0.1, zoom: 0.3 })
  await rests()
  expect(pan()).toBeCloseTo(at(0.2), 0)
  await cam.relativeMove!({ x: -0.1, y: 0, zoom: 0 })
  await rests()
  expect(pan()).toBeCloseTo(at(0.1), 0)
  await cam.gotoHomePosition!({})
  await rests()
  expect(pan()).toBeCloseTo(0, 1)
})

test('it stores, names, recalls and removes presets', async () => {
  await cam.absoluteMove!({ x: -0.1, y: 0, zoom: 0 })
  await rests()
  const stored = pan()
  await cam.setPreset!({ presetName: 'Lectern' })
  const presets = await cam.getPresets!()
  const token = presets.Lectern.$.token as string
  await cam.gotoHomePosition!({})
  await rests()
  await cam.gotoPreset!({ preset: token })
  await rests()
  expect(pan()).toBeCloseTo(stored, 1)
  await cam.removePreset!({ presetToken: token })
  expect(await cam.getPresets!()).toEqual({})
  await expect(cam.gotoPreset!({ preset: token })).rejects.toThrow()
})

test('it reads the ranges of the picture, sets what lies in them, and reads that back', async () => {
  const options = await cam.getVideoSourceOptions!({})
  expect(options).toMatchObject({
    exposure: { mode: ['AUTO', 'MANUAL'] },
    whiteBalance: { yrGain: { min: 0 } },
  })
  await cam.setImagingSettings!({ exposure: { mode: 'MANUAL', gain: 9 }, focus: { autoFocusMode: 'MANUAL' } })
  expect(await cam.getImagingSettings!({})).toMatchObject({
    exposure: { mode: 'MANUAL', gain: 9 },
    focus: { autoFocusMode: 'MANUAL' },
  })
  const focus = head.focus.position
  await cam.imagingMove!({ absolute: { position: 0.5 } })
  await until(() => {
    head.advance(performance.now())
    return head.focus.position !== focus
  })
})

test('a request at the path of another service, or in no namespace of it, is refused', async () => {
  const post = async (path: string, body: string) => {
    const answer = await fetch(`http://${HOST}:${port}${path}`, { method: 'POST', body })
    return { status: answer.status, text: await answer.text() }
  }
  const time = envelope('<tds:GetSystemDateAndTime/>')
  expect((await post('/onvif/device_service', time)).status).toBe(200)
  expect(await post('/onvif/ptz', time)).toMatchObject({
    status: 400,
    text: expect.stringMatching('not a request of this service'),
  })
  expect((await post('/somewhere', time)).status).toBe(404)
  const bare =
    '<s:Envelope xmlns:s="http://www.w3.org/2003/05/soap-envelope"><s:Body><GetSystemDateAndTime/></s:Body></s:Envelope>'
  expect((await post('/onvif/device_service', bare)).status).toBe(400)
})
