/** The same promises of every driver, in virtual time, against cameras that share no codec with them. */
import * as v from 'valibot'
import { CommandSet } from '../../core/commands/commandSet'
import { isUsable } from '../../core/facts/health'
import { headProfile } from '../../core/heads/registry'
import { AS_USUAL } from '../../core/orders/entries'
import { closedBy } from '../../core/picture/settings'
import { seeded } from '../../core/seeded'
import { SPEEDS_AT_REST, type Speeds } from '../../core/stick/speeds'
import { RawSession } from '../../core/visca/rawSession'
import type { Body } from './body'
import { CommandBody } from './commands/commandBody'
import { OnvifBody } from './onvif/onvifBody'
import { HandClock } from './testing/handClock'
import { PlainHead } from './testing/plainHead'
import { CommandDevice, OnvifDevice, PLAIN_SET } from './testing/requestDevices'
import { ViscaDevice } from './testing/viscaDevice'
import { Way } from './testing/way'
import { ViscaBody } from './visca/viscaBody'
import { OwnPort } from './visca/viscaPort'

const PROFILE = headProfile('marsh-20x')
const TELE = PROFILE.lens.zoomCurve[PROFILE.lens.zoomCurve.length - 1]![0]
const PARTS = { head: true, lens: true }

type Make = (head: PlainHead, way: Way, clock: HandClock, suspect: boolean) => Body

const BODIES: Record<string, Make> = {
  VISCA(head, way, clock, suspect) {
    const units = {
      panPerDeg: PROFILE.pan.unitsPerDeg,
      tiltPerDeg: PROFILE.tilt.unitsPerDeg,
      zoomTele: TELE,
      panSpeeds: PROFILE.pan.speedsDegPerSec,
      tiltSpeeds: PROFILE.tilt.speedsDegPerSec,
    }
    const port = new OwnPort(new RawSession({}), new ViscaDevice(head, units, way, clock), clock)
    const options = { profile: PROFILE, address: 'x', parts: PARTS, slowMs: 250, holdMs: 20, suspect }
    return new ViscaBody(options, port, clock)
  },
  ONVIF(head, way, clock, suspect) {
    const { pan, tilt } = PROFILE
    const ends = { pan: [pan.minDeg, pan.maxDeg], tilt: [tilt.minDeg, tilt.maxDeg] } as const
    return new OnvifBody(PROFILE, 'x', new OnvifDevice(head, ends, way, clock), clock, suspect)
  },
  'a command set'(head, way, clock, suspect) {
    const set = v.parse(CommandSet, PLAIN_SET)
    const address = { host: 'x', port: 80, user: '', password: '' }
    const wire = new CommandDevice(set, head, way, clock)
    return new CommandBody(set, PROFILE, PARTS, address, wire, clock, suspect)
  },
}

function setUp(make: Make, seed = 1, suspect = false) {
  const clock = new HandClock()
  const random = seeded(seed)
  const way = new Way(random)
  const head = new PlainHead(clock)
  if (suspect) head.drive({ pan: 20 })
  const body = make(head, way, clock, suspect)
  const notices: string[] = []
  body.listen({ reading: () => {}, health: () => {}, notice: (text) => notices.push(text) })
  /** Runs until it is so. @returns ms that it took */
  const until = async (what: () => boolean, withinMs: number) => {
    const from = clock.now()
    while (!what()) {
      if (clock.now() - from > withinMs) throw new Error(`not within ${withinMs} ms`)
      await clock.run(10)
    }
    return clock.now() - from
  }
  return { clock, random, way, head, body, notices, until }
}

const right: Speeds = { ...SPEEDS_AT_REST, panDegPerSec: 20 }
const all: Speeds = { panDegPerSec: -15, tiltDegPerSec: 12, zoomPerSec: TELE / 8, focus: 0 }

describe.each(Object.entries(BODIES))('%s', (_, make) => {
  test('it connects, reports its position, and what it can do is what it does', async () => {
    const { clock, body, head, until } = setUp(make)
    head.goTo({ pan: 10, tilt: -5, zoom: 0.25 })
    await until(() => body.health.state === 'ready', 3000)
    await clock.run(2500)
    expect(body.reading.panDeg).toBeCloseTo(10, 1)
    expect(body.reading.tiltDeg).toBeCloseTo(-5, 1)
    expect(body.reading.zoom! / TELE).toBeCloseTo(0.25, 2)
    expect([body.reading.panTiltMoving, body.reading.zoomMoving]).toEqual([false, false])
    expect(body.traits).toMatchObject({
      panTilt: true,
      zoom: true,
      position: { panTilt: true, zoom: true },
    })
    const { orders } = body
    expect(Object.keys(orders)).toEqual(expect.arrayContaining(['goTo', 'home', 'memory', 'focusMode']))
    const turned = orders.focusMode!({ auto: false })
    await clock.run(1500)
    expect([(await turned).ok, head.auto, body.reading.focusAuto]).toEqual([true, false, false])
  })

  test('it drives the right way on every axis, and stands where it is let go', async () => {
    const { clock, body, head, until } = setUp(make)
    await until(() => body.health.state === 'ready', 3000)
    const from = head.read()
    body.drive(all)
    await clock.run(1000)
    const driven = head.read()
    expect([driven.pan < from.pan - 3, driven.tilt > from.tilt + 3, driven.zoom > from.zoom + 0.02]).toEqual([
      true,
      true,
      true,
    ])
    body.drive(SPEEDS_AT_REST)
    await until(() => !head.read().moving, 100)
    expect(body.stopPending || head.read().moving).toBe(false)
  })

  test('it goes to a pose, home, and to a memory of its own', async () => {
    const { clock, body, head, until } = setUp(make)
    await until(() => body.health.state === 'ready', 3000)
    const go = async (order: Promise<{ ok: boolean }>) => {
      await clock.run(9000)
      expect(await order).toMatchObject({ ok: true })
    }
    await go(body.orders.goTo!({ panDeg: 33, tiltDeg: 21, zoom: TELE / 2 }))
    expect(head.read().pan).toBeCloseTo(33, 1)
    expect(head.read().tilt).toBeCloseTo(21, 1)
    expect(head.read().zoom).toBeCloseTo(0.5, 2)
    await go(body.orders.memory!({ action: 'set', number: 3 }))
    await go(body.orders.home!(AS_USUAL))
    expect(head.read().pan).toBeCloseTo(0, 1)
    await go(body.orders.memory!({ action: 'recall', number: 3 }))
    expect(head.read().pan).toBeCloseTo(33, 1)
    const empty = body.orders.memory!({ action: 'recall', number: 9 })
    await clock.run(3000)
    expect(await empty).toMatchObject({ ok: false })
  })

  test('a travel is halted on the way, and a stick takes its place', async () => {
    const { clock, body, head, until } = setUp(make)
    await until(() => body.health.state === 'ready', 3000)
    void body.orders.goTo!({ panDeg: 150, tiltDeg: 0 })
    await clock.run(700)
    body.halt()
    await until(() => !head.read().moving, 600)
    expect(head.read().pan).toBeLessThan(100)
    void body.orders.goTo!({ panDeg: -150, tiltDeg: 0 })
    await clock.run(400)
    body.drive(right)
    const at = head.read().pan
    await clock.run(500)
    expect(head.read().pan).toBeGreaterThan(at)
    body.drive(SPEEDS_AT_REST)
    await until(() => !head.read().moving, 600)
  })

  test('silent in mid-drive: it says so, claims no place, and is stopped when it is back', async () => {
    const { clock, body, head, way, until } = setUp(make)
    await until(() => body.health.state === 'ready', 3000)
    body.drive(right)
    await clock.run(500)
    way.cut = true
    await until(() => body.health.state === 'silent', 6000)
    expect(body.reading.panDeg).toBeNull()
    expect(body.health.advice).toBeTruthy()
    body.drive(SPEEDS_AT_REST)
    await clock.run(2000)
    expect(head.read().moving).toBe(true)
    way.cut = false
    await until(() => !head.read().moving, 3000)
    // What was lost counts as a bad link for a while.
    await until(() => isUsable(body.health.state) && body.reading.panDeg !== null, 3000)
    expect(body.health.reconnects).toBe(1)
  })

  test('one that still runs from before is stopped before anything else', async () => {
    const { head, until } = setUp(make, 1, true)
    await until(() => !head.read().moving, 3000)
  })

  test('standby is told, and left again', async () => {
    const { clock, body, head, until } = setUp(make)
    await until(() => body.health.state === 'ready', 3000)
    if (!body.orders.power) return
    void body.orders.power({ on: false })
    await until(() => body.health.state === 'standby', 3000)
    void body.orders.power({ on: true })
    await until(() => body.health.state === 'ready', 3000)
    expect(head.power).toBe(true)
    await clock.run(100)
  })

  test('each setting that it offers is set and told', async () => {
    const { clock, body, until } = setUp(make)
    await until(() => body.health.state === 'ready', 3000)
    for (const spec of body.settings.specs) {
      if (spec.kind === 'act' || closedBy(spec, body.settings.specs, body.settings.values)) continue
      const value = spec.kind === 'switch' ? true : spec.kind === 'range' ? spec.max : spec.options[1]!.value
      void body.orders.setting!({ key: spec.key, value })
      await clock.run(300)
      expect([spec.key, body.settings.values[spec.key]]).toEqual([spec.key, value])
    }
    expect(body.orders.setting !== undefined).toBe(body.settings.specs.length > 0)
  })

  test('closing leaves it standing', async () => {
    const { clock, body, head, until } = setUp(make)
    await until(() => body.health.state === 'ready', 3000)
    body.drive(right)
    await clock.run(300)
    const closed = body.close()
    await clock.run(1000)
    await closed
    expect(head.read().moving).toBe(false)
  })

  test.each(Array.from({ length: 20 }, (_, i) => i + 1))(
    'seed %i, up to a fifth of the packets lost: what is let go stands',
    async (seed) => {
      const { clock, random, body, head, way, until } = setUp(make, seed)
      await until(() => body.health.state === 'ready', 3000)
      way.loss = random() * 0.2
      way.delayMs = 1 + random() * 20
      for (let i = 0; i < 6; i++) {
        body.drive(random() < 0.5 ? right : all)
        for (let ms = random() * 900; ms > 0; ms -= 100) {
          await clock.run(100)
          body.drive({ ...right, panDegPerSec: (random() - 0.5) * 40 })
        }
        body.drive(SPEEDS_AT_REST)
        // A drive that was under way may come after the first stop; it is stopped again.
        await clock.run(1000)
        for (let ms = 0; ms < 500; ms += 50) {
          expect(head.read().moving).toBe(false)
          await clock.run(50)
        }
      }
    },
  )
})
