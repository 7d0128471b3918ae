import type { StopOrder } from '../../core/guardian/stopOrder'
import { SPEEDS_AT_REST } from '../../core/stick/speeds'
import { type Body, NOTHING_READ } from '../cameras/body'
import { MissingBody } from '../cameras/missingBody'
import { HandClock } from '../cameras/testing/handClock'
import { guardedBody } from './guardedBody'
import type { Guarded } from './guardian'

const STOPS: StopOrder[] = [{ over: 'http', groups: [], login: null }]

class ToldBody extends MissingBody {
  override stopPending = false
  override reading = { ...NOTHING_READ }
  did: string[] = []
  override stops = (): StopOrder[] => STOPS
  override drive() {
    this.did.push('drive')
  }
  override halt() {
    this.did.push('halt')
  }
  private readonly done = (name: string) => () => {
    this.did.push(name)
    return Promise.resolve({ ok: true as const })
  }
  override orders = {
    goTo: this.done('goTo'),
    focusOnce: this.done('focusOnce'),
    followSubject: this.done('followSubject'),
  }
}

function setUp() {
  const clock = new HandClock()
  const inner = new ToldBody('x')
  const order: string[] = []
  let what: Guarded | null = null
  const body: Body = guardedBody(
    inner,
    { camera: 'c', name: 'Gallery', part: 'head' },
    {
      begins: (guarded) => {
        what = guarded
        order.push(`begins ${guarded.key}, done so far: ${inner.did.length}`)
      },
    },
    clock,
  )
  return { clock, inner, body, order, busy: () => what?.busy() ?? false, stops: () => what?.stops() }
}

const right = { ...SPEEDS_AT_REST, panDegPerSec: 5 }

test('the guardian is told before the device is, of each kind of motion and of no rest', () => {
  const { body, inner, order, stops } = setUp()
  body.drive(SPEEDS_AT_REST)
  expect(order).toEqual([])
  body.drive(right)
  void body.orders.goTo!({ panDeg: 1, tiltDeg: 1 })
  expect(order).toEqual(['begins c head, done so far: 1', 'begins c head, done so far: 2'])
  expect(inner.did).toEqual(['drive', 'drive', 'goTo'])
  expect(stops()).toBe(STOPS)
})

test('it counts as moving while it is pushed, while its stop is open, while it is seen to move, and as long as it travels', async () => {
  const { clock, body, inner, busy } = setUp()
  body.drive(right)
  await clock.run(60_000)
  expect(busy()).toBe(true)
  body.drive(SPEEDS_AT_REST)
  expect(busy()).toBe(false)
  inner.stopPending = true
  expect(busy()).toBe(true)
  inner.stopPending = false
  inner.reading = { ...NOTHING_READ, zoomMoving: true }
  expect(busy()).toBe(true)
  inner.reading = NOTHING_READ
  void body.orders.goTo!({ panDeg: 1, tiltDeg: 1, seconds: 12 })
  await clock.run(13_000)
  expect(busy()).toBe(true)
  await clock.run(3000)
  expect(busy()).toBe(false)
  void body.orders.followSubject!({ on: true, sensitivity: 1, size: 1 })
  await clock.run(600_000)
  expect(busy()).toBe(true)
  body.drive(SPEEDS_AT_REST)
  expect(busy()).toBe(false)
})

test('all else is the device itself', () => {
  const { body, inner, order } = setUp()
  expect(body.traits).toBe(inner.traits)
  body.halt()
  void body.orders.focusOnce!({})
  expect(inner.did).toEqual(['halt', 'focusOnce'])
  expect(order).toEqual([])
})
