/** Orders that the devices of a camera carry out themselves: to the one whose part it is, or to both. */

import type { Health } from '../../core/facts/health'
import { isUsable } from '../../core/facts/health'
import { type DeviceOrderName, ORDERS } from '../../core/orders/orders'
import { closedBy, unsuitable } from '../../core/picture/settings'
import type { Body, Goal } from './body'
import { CANNOT, type CameraResult, DONE, type OwnOrder } from './camera'
import type { Parts } from './joined'

const STANDBY = 'The camera is in standby. Switch it on first.'
const SILENT = 'The camera does not answer, so nothing was sent. Check its power and its cable.'
const NOT_READY = 'The camera is not ready yet, so nothing was sent.'

export type DeviceOrder = Extract<OwnOrder, { t: DeviceOrderName }>

export const refused = (message: string): CameraResult => ({ ok: false, message })

const firstFailure = (results: readonly CameraResult[]) => results.find((result) => !result.ok) ?? DONE

/** Why the camera can take no order now; null if it can. */
export function refusalOf({ state, advice }: Health): CameraResult | null {
  if (isUsable(state)) return null
  if (state === 'standby') return refused(STANDBY)
  return refused(state === 'silent' ? SILENT : (advice ?? NOT_READY))
}

function doers({ head, lens }: Parts, by: 'head' | 'lens' | 'each' | 'whole'): readonly Body[] {
  if (by === 'each') return [...new Set([head, lens])]
  return [by === 'lens' ? lens : head]
}

/** Who carries it out; or why nobody can. */
export function doersOf(parts: Parts, order: DeviceOrder, health: Health): readonly Body[] | CameraResult {
  const info = ORDERS[order.t]
  const refusal = 'anyTime' in info ? null : refusalOf(health)
  if (refusal) return refusal
  const { by, what } = info
  if (by === 'whole' && parts.head !== parts.lens) return CANNOT(`${what}: its parts are two devices`)
  const able = doers(parts, by).filter((body) => body.orders[order.t])
  if (able.length === 0) return CANNOT(what)
  if (order.t === 'setting') {
    const { specs, values } = parts.lens.settings
    const spec = specs.find(({ key }) => key === order.key)
    if (!spec) return refused('This camera has no such setting.')
    const problem = unsuitable(spec, order.value)
    if (problem) return refused(problem)
    const closed = closedBy(spec, specs, values)
    if (closed) return refused(`${spec.label} cannot be set now: ${closed}.`)
  }
  return able
}

export async function orderAll(bodies: readonly Body[], order: DeviceOrder): Promise<CameraResult> {
  const results = bodies.map((body) =>
    (body.orders[order.t] as (order: OwnOrder) => Promise<CameraResult>)(order),
  )
  return firstFailure(await Promise.all(results))
}

/** To a place, each device with its own axes. */
export async function travelJoined({ head, lens }: Parts, goal: Goal): Promise<CameraResult> {
  const go = async (body: Body, part: Goal) => (await body.orders.goTo?.(part)) ?? CANNOT('go to a position')
  if (head === lens) return go(head, goal)
  const { panDeg, tiltDeg, seconds, from, ...optics } = goal
  const orders: Promise<CameraResult>[] = []
  if (panDeg !== undefined)
    orders.push(
      go(head, {
        ...{ panDeg, tiltDeg },
        ...(seconds === undefined ? {} : { seconds }),
        ...(from === undefined ? {} : { from }),
      }),
    )
  if (Object.keys(optics).length > 0) orders.push(go(lens, optics))
  return firstFailure(await Promise.all(orders))
}
