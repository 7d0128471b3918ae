/** Puts the guardian between a camera and its device: it is told before anything is set in motion. */

import type { Speeds } from '../../core/stick/speeds'
import type { Body, Goal } from '../cameras/body'
import type { MemoryAction, SubjectOrder } from '../cameras/camera'
import type { Clock } from '../cameras/clock'
import type { Guarded, Guardian } from './guardian'

/** An order to travel is believed to move a device for so long, whatever it tells, ms. */
const TRAVELS_MS = 2500
/** One that never tells where it stands may travel for this long, ms. */
const UNSEEN_MS = 15_000
/** It follows a subject until it is told not to. */
const UNTIL_TOLD = Number.POSITIVE_INFINITY

const rests = ({ panDegPerSec, tiltDegPerSec, zoomPerSec, focus }: Speeds) =>
  panDegPerSec === 0 && tiltDegPerSec === 0 && zoomPerSec === 0 && focus === 0

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
      const rest = rests(speeds)
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
    goTo(goal: Goal) {
      travels(goal.seconds)
      return body.goTo(goal)
    },
    home() {
      travels()
      return body.home()
    },
    memory(action: MemoryAction, number: number) {
      if (action === 'recall') travels()
      return body.memory(action, number)
    },
    followSubject(order: SubjectOrder) {
      if (order.on) {
        travelsUntilMs = UNTIL_TOLD
        guardian.begins(what)
      } else travelsUntilMs = clock.now()
      return body.followSubject(order)
    },
  }
  return new Proxy(body, {
    get(target, key) {
      if (Object.hasOwn(over, key)) return over[key as keyof typeof over]
      const value: unknown = Reflect.get(target, key)
      return typeof value === 'function' ? value.bind(target) : value
    },
  })
}
