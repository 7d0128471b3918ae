/** ONVIF devices that do less than the standard, or otherwise: what they can do works. */
import { headProfile } from '../../../core/heads/registry'
import { seeded } from '../../../core/seeded'
import { SPEEDS_AT_REST } from '../../../core/stick/speeds'
import { HandClock } from '../testing/handClock'
import { PlainHead } from '../testing/plainHead'
import { OnvifDevice, type OnvifOdd } from '../testing/requestDevices'
import { Way } from '../testing/way'
import { OnvifBody } from './onvifBody'

const PROFILE = headProfile('mere-18x')
const TELE = PROFILE.lens.zoomCurve[PROFILE.lens.zoomCurve.length - 1]![0]

async function setUp(odd: OnvifOdd) {
  const clock = new HandClock()
  const head = new PlainHead(clock)
  const { pan, tilt } = PROFILE
  const ends = { pan: [pan.minDeg, pan.maxDeg], tilt: [tilt.minDeg, tilt.maxDeg] } as const
  const device = new OnvifDevice(head, ends, new Way(seeded(3)), clock, odd)
  const body = new OnvifBody(PROFILE, 'x', device, clock)
  await clock.run(4000)
  expect(body.health.state).toBe('ready')
  return { clock, head, body }
}

const ODD: Record<string, OnvifOdd> = {
  'imaging broken': { imaging: 'broken' },
  'no focus': { imaging: 'no focus' },
  'no positions': { status: 'no positions' },
  'no status': { status: 'refused' },
  'positions in degrees': { status: 'in degrees' },
  'no moves to a position': { noAbsoluteMove: true },
  'no time limit': { noTimeout: true },
  'no speed of zoom': { noZoomSpeed: true },
  'a node of something else first': { secondNode: true },
  'the newer media service only': { media2Only: true },
}

test.each(Object.entries(ODD))('%s: it is driven, and stands when it is let go', async (_, odd) => {
  const { clock, head, body } = await setUp(odd)
  const from = head.read()
  body.drive({
    ...SPEEDS_AT_REST,
    panDegPerSec: 12,
    tiltDegPerSec: 6,
    zoomPerSec: odd.noZoomSpeed ? 0 : TELE / 8,
  })
  await clock.run(800)
  const driven = head.read()
  expect(driven.pan).toBeGreaterThan(from.pan + 2)
  expect(driven.tilt).toBeGreaterThan(from.tilt + 1)
  if (!odd.noZoomSpeed) expect(driven.zoom).toBeGreaterThan(from.zoom)
  body.drive(SPEEDS_AT_REST)
  await clock.run(400)
  expect([head.read().moving, body.stopPending]).toEqual([false, false])
})

test.each(Object.entries(ODD).filter(([, odd]) => !/no positions|refused/.test(odd.status ?? '')))(
  '%s: it tells where it stands, and goes where it is sent',
  async (_, odd) => {
    const { clock, head, body } = await setUp(odd)
    const gone = body.orders.goTo!({ panDeg: 30, tiltDeg: 10, zoom: TELE / 4 })
    await clock.run(20_000)
    expect(await gone).toMatchObject({ ok: true })
    expect(Math.abs(head.read().pan - 30)).toBeLessThan(0.2)
    expect(Math.abs(head.read().tilt - 10)).toBeLessThan(0.2)
    expect(body.reading.panDeg).toBeCloseTo(head.read().pan, 1)
    expect(body.traits.position).toEqual({ panTilt: true, zoom: true })
  },
)

test('what it does not tell is said to be unknown, and what is broken comes back', async () => {
  const blind = await setUp({ status: 'no positions' })
  expect(blind.body.traits.position).toEqual({ panTilt: false, zoom: false })
  const odd: OnvifOdd = { imaging: 'broken' }
  const { clock, body } = await setUp(odd)
  expect([body.traits.focus, body.orders.focusMode]).toEqual([false, undefined])
  delete odd.imaging
  await clock.run(30_000)
  expect([body.traits.focus, body.reading.focusAuto]).toEqual([true, true])
})

test('without a move to a position a hand takes over from a travel', async () => {
  const { clock, head, body } = await setUp({ noAbsoluteMove: true })
  void body.orders.goTo!({ panDeg: 100, tiltDeg: 0 })
  await clock.run(1000)
  body.drive({ ...SPEEDS_AT_REST, panDegPerSec: -10 })
  const at = head.read().pan
  await clock.run(1500)
  expect(head.read().pan).toBeLessThan(at)
  body.drive(SPEEDS_AT_REST)
  await clock.run(500)
  expect(head.read().moving).toBe(false)
})
