/** Puts the guardian between a camera and its device: it is told before anything is set in motion. */
import { type CameraOrder, movesCamera, ORDERS } from '../../core/orders/orders'
import { type Speeds, speedsRest } from '../../core/stick/speeds'
import type { Body, BodyOrders, Goal } from '../cameras/body'
import type { CameraResult } from '../cameras/camera'
import type { Clock } from '../cameras/clock'
import type { Guarded, Guardian } from './guardian'

/** After an order to travel a device counts as moving for this long, whatever it reports, ms. */
const TRAVELS_MS = 2500
/** One that never reports its position may travel for this long, ms. */
const UNSEEN_MS = 15_000
/** It follows a subject until it is told not to. */
const UNTIL_TOLD = Number.POSITIVE_INFINITY

export interface GuardedName {
  camera: string
  name: string
  /** Which device of a rig. */
  part: string
}

export function guardedBody(
  body: Body,
  { camera, name, part }: GuardedName,
  guardian: Guardian,
  clock: Clock,
): Body {
  let pushed = false
  let travelsUntilMs = Number.NEGATIVE_INFINITY
  const what: Guarded = {
    key: `${camera} ${part}`,
    camera,
    name,
    stops: () => body.stops(),
    busy() {
      const { panTiltMoving, zoomMoving, running } = body.reading
      return (
        pushed || panTiltMoving || zoomMoving || running || body.stopPending || clock.now() < travelsUntilMs
      )
    },
  }
  const travels = (seconds = 0) => {
    const unseen = body.health.state === 'unheard' ? UNSEEN_MS : TRAVELS_MS
    travelsUntilMs = clock.now() + unseen + seconds * 1000
    guardian.begins(what)
  }
  const over = {
    drive(speeds: Speeds, refines?: boolean) {
      const rest = speedsRest(speeds)
      if (!rest) guardian.begins(what)
      else if (travelsUntilMs === UNTIL_TOLD) travelsUntilMs = clock.now()
      pushed = !rest
      body.drive(speeds, refines)
    },
    halt() {
      pushed = false
      travelsUntilMs = Number.NEGATIVE_INFINITY
      body.halt()
    },
  }
  type Told = (order: never) => Promise<CameraResult>
  /** What sets the device in motion is told to the guardian first. */
  const watched = (name: string, carryOut: Told): Told => {
    if (name === 'goTo')
      return (goal: Goal) => {
        travels(goal.seconds)
        return carryOut(goal as never)
      }
    if (!(name in ORDERS)) return carryOut
    return (order: { on?: boolean }) => {
      const named = { ...order, t: name } as CameraOrder
      if (name === 'followSubject') {
        if (order.on) guardian.begins(what)
        travelsUntilMs = order.on ? UNTIL_TOLD : clock.now()
      } else if (movesCamera(named)) travels()
      return carryOut(order as never)
    }
  }
  let seen: BodyOrders | null = null
  let orders: BodyOrders = {}
  /** The device's orders, wrapped again whenever it has turned out to be able to do others. */
  const watchedOrders = (): BodyOrders => {
    if (body.orders === seen) return orders
    seen = body.orders
    orders = Object.fromEntries(
      Object.entries(seen).map(([name, carryOut]) => [name, watched(name, carryOut as Told)]),
    )
    return orders
  }
  return new Proxy(body, {
    get(target, key) {
      if (key === 'orders') return watchedOrders()
      if (Object.hasOwn(over, key)) return over[key as keyof typeof over]
      const value: unknown = Reflect.get(target, key)
      return typeof value === 'function' ? value.bind(target) : value
    },
  })
}
