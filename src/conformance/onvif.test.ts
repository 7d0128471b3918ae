/** ONVIF cameras as those in the field are, each oddity alone, over real sockets against the real driver. */
import { generate } from 'selfsigned'
import { UPRIGHT } from '../core/cameras/connection'
import { isUsable } from '../core/facts/health'
import { type HeadCheck, mended } from '../core/heads/check'
import type { HeadProfile } from '../core/heads/profile'
import { headProfile } from '../core/heads/registry'
import { ALL_PARTS, QUICK } from '../core/presets/pace'
import { PUSH_AT_REST } from '../core/stick/speeds'
import { realClock } from '../server/cameras/clock'
import { checkHead } from '../server/cameras/headCheck'
import { OneCamera } from '../server/cameras/oneCamera'
import { OnvifClient } from '../server/cameras/onvif/client'
import { OnvifBody } from '../server/cameras/onvif/onvifBody'
import { tryCamera } from '../server/finding/tryCamera'
import { forgetCertificate, pinnedCertificates } from '../server/links/certificates'
import { bare } from '../server/presets/takeShot'
import { FieldHead } from '../simulator/independent/fieldHead'
import type { OnvifOddities } from '../simulator/independent/fieldOnvif'
import { FieldOnvifServer, LOGIN, type SocketOddities } from '../simulator/independent/fieldOnvifServer'

const HOST = '127.0.0.1'
const PROFILE = headProfile('mere-18x')
const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms))

interface Odd {
  onvif?: Partial<OnvifOddities>
  socket?: Partial<SocketOddities>
  openly?: boolean
}

async function rig({ onvif, socket, openly }: Odd) {
  const { pan, tilt } = PROFILE
  const ends = { panEnds: [pan.minDeg, pan.maxDeg], tiltEnds: [tilt.minDeg, tilt.maxDeg] } as const
  const head = new FieldHead(ends, performance.now())
  const server = new FieldOnvifServer(head, onvif, socket)
  const port = await server.listen(HOST)
  const address = { host: HOST, port, ...LOGIN, secure: !!socket?.tls, openly }
  const body = new OnvifBody(PROFILE, 'x', new OnvifClient(address, Date.now), realClock)
  const camera = new OneCamera(
    PROFILE,
    { head: body, lens: body },
    { fact: () => {}, notice: () => {} },
    realClock,
  )
  const until = async (what: () => boolean, withinMs: number, name: string) => {
    const from = performance.now()
    while (!what()) {
      if (performance.now() - from > withinMs) throw new Error(`${name}: not within ${withinMs} ms`)
      await pause(20)
    }
  }
  const truth = () => head.read(performance.now())
  const connects = () => until(() => isUsable(camera.health.state), 25_000, 'connects')
  const close = async () => {
    await camera.close()
    server.close()
  }
  return { server, camera, body, until, truth, connects, close, port, address }
}

type Rig = Awaited<ReturnType<typeof rig>>

/** Runs with a camera, and closes it whatever comes. */
async function withRig(odd: Odd, work: (r: Rig) => Promise<void>): Promise<void> {
  const r = await rig(odd)
  try {
    await work(r)
  } finally {
    await r.close()
  }
}

async function drivesAndStops({ camera, truth }: Rig, pan: number, zoom: number): Promise<void> {
  const from = truth()
  for (let ms = 0; ms < 900; ms += 100) {
    camera.drive({ ...PUSH_AT_REST, pan, tilt: pan / 2, zoom })
    await pause(100)
  }
  const driven = truth()
  camera.drive(PUSH_AT_REST)
  expect((driven.pan - from.pan) * pan).toBeGreaterThan(0.2)
  expect((driven.tilt - from.tilt) * pan).toBeGreaterThan(0.1)
  if (zoom > 0) expect(driven.zoom).toBeGreaterThan(from.zoom)
  await pause(600)
  expect(truth().moving).toBe(false)
}

/** Stores where it stands, goes elsewhere and comes back, as far as it tells where it stands. */
async function storesAndRecalls(r: Rig): Promise<void> {
  const { camera, truth, until } = r
  const stored = truth()
  const pose = await camera.restingPose(6000)
  if (!pose) throw new Error('it never came to rest')
  await drivesAndStops(r, -0.6, 0)
  const wish = { id: 'p', pose: bare(pose), light: null, pace: QUICK, parts: ALL_PARTS, hold: false }
  expect(await camera.recall(wish)).toMatchObject({ ok: true })
  await until(() => camera.travel?.state !== 'travelling', 25_000, 'arrives')
  expect(camera.travel?.state).toBe('arrived')
  await pause(400)
  expect(Math.abs(truth().pan - stored.pan)).toBeLessThan(0.21)
  expect(Math.abs(truth().tilt - stored.tilt)).toBeLessThan(0.21)
}

let tls: { cert: string; key: string }
beforeAll(async () => {
  const { cert, private: key } = await generate([{ name: 'commonName', value: 'field' }])
  tls = { cert, key }
})

const ODD: Record<string, () => Odd> = {
  'as the standard has it': () => ({}),
  'degrees by default': () => ({ onvif: { spherical: true } }),
  'a second node': () => ({ onvif: { secondNode: true } }),
  'no moves to a position': () => ({ onvif: { noAbsoluteMove: true } }),
  'no time limit': () => ({ onvif: { noTimeout: true } }),
  'speeds in degrees by default': () => ({ onvif: { speedsInDegrees: true } }),
  'nodes never told': () => ({ onvif: { noNodes: true } }),
  'no speed of zoom': () => ({ onvif: { noZoomVelocity: true } }),
  'the newer media service only': () => ({ onvif: { media2Only: true } }),
  'imaging broken': () => ({ onvif: { imaging: 'broken' } }),
  'no focus': () => ({ onvif: { imaging: 'no focus' } }),
  'no imaging': () => ({ onvif: { imaging: 'none' } }),
  'no zoom position': () => ({ onvif: { status: 'no zoom' } }),
  'no move status': () => ({ onvif: { status: 'no move status' } }),
  'empty profiles first': () => ({ onvif: { emptyProfiles: true } }),
  'addresses of another network': () => ({ onvif: { tellsOtherHost: true } }),
  'a login even for its time': () => ({ onvif: { loginForTime: true } }),
  'two challenges of Digest': () => ({ socket: { login: 'digest' } }),
  'Basic, agreed to': () => ({ socket: { login: 'basic' }, openly: true }),
  'slow to set up': () => ({ socket: { setUpMs: 3000 } }),
  'HTTPS with a certificate of its own': () => ({ socket: { tls } }),
}

test.concurrent.each(Object.entries(ODD))(
  '%s: connects, drives, stops, stores and recalls',
  (_, odd) =>
    withRig(odd(), async (r) => {
      await r.connects()
      await r.until(() => r.camera.pose !== null, 12_000, 'tells where it stands')
      await drivesAndStops(r, 0.6, odd().onvif?.noZoomVelocity ? 0 : 0.5)
      await storesAndRecalls(r)
    }),
  60_000,
)

test.concurrent.each([
  ['no positions', { status: 'no positions' }],
  ['no status at all', { status: 'refused' }],
] as const)(
  '%s: it is driven, kept among its own presets, and said to be blind',
  (_, onvif) =>
    withRig({ onvif }, async (r) => {
      await r.connects()
      await r.until(() => !r.camera.capabilities.position.panTilt, 12_000, 'says that it is blind')
      await drivesAndStops(r, 0.6, 0.5)
      const at = r.truth()
      expect(await r.camera.perform({ t: 'memory', camera: 'c', action: 'set', number: 4 })).toMatchObject({
        ok: true,
      })
      await drivesAndStops(r, -0.6, 0)
      expect(await r.camera.recallMemory('p', 4)).toMatchObject({ ok: true })
      await pause(4000)
      expect(r.truth().pan).toBeCloseTo(at.pan, 0)
    }),
  60_000,
)

test('a picture at an address of another network is offered at the one by which the camera is known', () =>
  withRig({ onvif: { tellsOtherHost: true } }, async (r) => {
    const { pictures } = await trial(r)
    expect(pictures).toMatchObject([
      { kind: 'rtsp', url: `rtsp://${HOST}:${r.port}/x` },
      { kind: 'jpeg', url: `http://${HOST}:${r.port}/x` },
    ])
  }))

test('Digest: one challenge is answered again and again, by its first kind, and never in the open', async () => {
  const r = await rig({ socket: { login: 'digest' } })
  await r.connects()
  await drivesAndStops(r, 0.5, 0)
  await r.close()
  expect(r.server.logins.length).toBeGreaterThan(10)
  expect(r.server.refused).toBeLessThan(6)
  expect(r.server.logins.every((login) => login.startsWith('Digest '))).toBe(true)
})

const trial = (r: Rig, change: object = {}) =>
  tryCamera(
    { kind: 'onvif', host: HOST, port: r.port, user: LOGIN.user, secure: r.address.secure, ...change },
    {
      secrets: { link: LOGIN.password },
      commandSets: new Map(),
      headProfiles: [],
      lines: null as never,
      own: null,
      others: [],
    },
  )

test('a password in the open is sent only where somebody agreed', async () => {
  const r = await rig({ socket: { login: 'basic' } })
  await r.until(() => r.camera.health.state === 'refused', 8000, 'refuses')
  expect(r.camera.health.advice).toMatch(/in the open/)
  expect((await trial(r)).problem).toMatchObject({ code: 'open-password' })
  expect(r.server.logins).toEqual([])
  expect(await trial(r, { openly: true })).toMatchObject({ ok: true })
  expect(r.server.logins[0]).toMatch(/^Basic /)
  await r.close()
})

test('a certificate is pinned at the first contact; another is refused before a login is sent, until it is trusted', async () => {
  const kept: string[] = []
  pinnedCertificates([], ({ origin }) => kept.push(origin))
  const r = await rig({ socket: { tls, login: 'basic' } })
  const first = await trial(r)
  expect(first).toMatchObject({
    ok: true,
    remarks: [expect.stringMatching(/certificate is remembered: ([0-9A-F]{2} ?){8}/)],
  })
  expect(kept).toContain(`${HOST}:${r.port}`)
  await r.close()
  const { cert, private: key } = await generate([{ name: 'commonName', value: 'somebody else' }])
  const other = new FieldOnvifServer(
    new FieldHead({}, performance.now()),
    {},
    { tls: { cert, key }, login: 'basic' },
  )
  await other.listen(HOST, r.port)
  expect((await trial(r)).problem).toMatchObject({ code: 'certificate' })
  expect([other.logins.length, other.refused]).toEqual([0, 0])
  expect(forgetCertificate(`${HOST}:${r.port}`)).toBe(true)
  expect(await trial(r)).toMatchObject({ ok: true })
  other.close()
})

test('a head that counts in degrees tells its ranges, and the check mends a profile that has others', () =>
  withRig({ onvif: { spherical: true } }, async ({ camera, connects }) => {
    await connects()
    const { pan } = PROFILE
    const check = (profile: HeadProfile) =>
      checkHead({
        ...{ camera, profile, clock: realClock, mount: UPRIGHT },
        look: async () => null,
        shift: async () => null,
        push: () => false,
      })
    const wrong = { ...PROFILE, pan: { ...pan, minDeg: -10, maxDeg: 10 } }
    const found = (await check(wrong)) as HeadCheck
    expect(found.findings.map((f) => f.kind)).toEqual(['range', 'fine'])
    expect(mended(wrong, [found.findings[0]!.mend!]).pan).toEqual(pan)
  }))
