/** What a camera can do that is described by a command set: what the set has words for. */
import type { ActionName, CommandSet } from '../../../core/commands/commandSet'
import type { Values } from '../../../core/commands/template'
import { angleToUnits, lensToUnits } from '../../../core/commands/units'
import type { HeadProfile } from '../../../core/heads/profile'
import type { BodyOrders, Goal, Reading } from '../body'
import { type CameraResult, DONE } from '../camera'

export interface CommandParts {
  head: boolean
  lens: boolean
}

export type TravelLane = 'drive' | 'zoom'

/** What the driver lends to its orders. */
export interface CommandHost {
  readonly set: CommandSet
  readonly profile: HeadProfile
  readonly parts: CommandParts
  readonly reading: Reading
  send(name: ActionName, values: Values): Promise<unknown>
  /** Makes it move without a hand, in place of what drives these lanes. */
  travel(lanes: readonly TravelLane[], name: ActionName, values: Values): Promise<unknown>
  readSoon(): void
}

const NO_ACTION = (what: string): CameraResult => ({
  ok: false,
  message: `The command set of this camera does not say how to ${what}.`,
})

/** Does the set read this value anywhere? */
export function tells(set: CommandSet, name: string): boolean {
  return set.reads.some((read) => read.answer.includes(`{${name}`))
}

export function commandOrders(host: CommandHost): BodyOrders {
  const { set, profile, parts } = host
  const { actions } = set
  const asked = async (work: Promise<unknown>): Promise<CameraResult> => {
    try {
      await work
      host.readSoon()
      return DONE
    } catch (error) {
      return { ok: false, message: (error as Error).message }
    }
  }
  const order = (name: ActionName, values: Values) => asked(host.send(name, values))
  const travel = (lanes: readonly TravelLane[], name: ActionName, values: Values) =>
    asked(host.travel(lanes, name, values))
  const switches = parts.lens && actions.autoFocusOn && actions.autoFocusOff && tells(set, 'autoFocus')
  const focusMode = (auto: boolean) => order(auto ? 'autoFocusOn' : 'autoFocusOff', {})
  const goToFocus = async ({ focusAuto = true, focus }: Goal): Promise<CameraResult> => {
    const mode = host.reading.focusAuto === focusAuto ? DONE : await focusMode(focusAuto)
    const places = actions.focusTo && set.ranges.focus
    if (!mode.ok || focusAuto || focus === null || focus === undefined || !places) return mode
    return order('focusTo', { focus: lensToUnits(set, profile, 'focus', focus) })
  }
  const orders: BodyOrders = {
    async goTo(goal) {
      const results: Promise<CameraResult>[] = []
      if (parts.head && goal.panDeg !== undefined && goal.tiltDeg !== undefined) {
        if (!actions.goTo) return NO_ACTION('go to a position')
        const pan = angleToUnits(set, 'pan', goal.panDeg)
        results.push(travel(['drive'], 'goTo', { pan, tilt: angleToUnits(set, 'tilt', goal.tiltDeg) }))
      }
      if (parts.lens && goal.zoom !== undefined && actions.zoomTo) {
        results.push(travel(['zoom'], 'zoomTo', { zoom: lensToUnits(set, profile, 'zoom', goal.zoom) }))
      }
      if (switches && goal.focusAuto !== undefined) results.push(goToFocus(goal))
      host.readSoon()
      return (await Promise.all(results)).find((result) => !result.ok) ?? DONE
    },
  }
  if (switches) orders.focusMode = ({ auto }) => focusMode(auto)
  if (actions.powerOn && actions.standby) orders.power = ({ on }) => order(on ? 'powerOn' : 'standby', {})
  if (parts.head && actions.home) orders.home = () => travel(['drive'], 'home', {})
  if (actions.memoryRecall)
    orders.memory = async ({ action, number }) => {
      if (action === 'set')
        return actions.memorySet ? order('memorySet', { number }) : NO_ACTION('store in its memories')
      return travel(['drive', 'zoom'], 'memoryRecall', { number })
    }
  return orders
}
