/** What a VISCA device can do, by its profile and by what it has turned out not to know. */
import { controlsOf } from '../../../core/heads/pictureControls'
import { degToUnits, type HeadProfile, lacks, slotOf } from '../../../core/heads/profile'
import type { MenuAction } from '../../../core/orders/orders'
import type { SettingValue } from '../../../core/picture/settings'
import type { ViscaCommand } from '../../../core/visca/commands'
import type { InquiryKind } from '../../../core/visca/inquiries'
import type { Lane } from '../../../core/visca/sessionTypes'
import type { BodyOrders, Goal, Reading } from '../body'
import { CANNOT, type CameraResult, DONE } from '../camera'
import { focusAtCommand, limitCommands, subjectCommands, subjectLevels } from './ownOrders'
import { focusOrders, travelStep } from './travelOrders'

/** Which parts of a camera this device is; a rig's head has no lens. */
export interface ViscaParts {
  head: boolean
  lens: boolean
}

/** What the driver lends to its orders. */
export interface OrderHost {
  readonly profile: HeadProfile
  readonly parts: ViscaParts
  readonly reading: Reading
  /** Does the device answer this question? */
  knows(kind: InquiryKind): boolean
  /** It is about to move without a hand, on these lanes. */
  travels(...lanes: Lane[]): void
  /** Hands a command over without waking the link, so that several go out together. */
  queue(command: ViscaCommand, lanes: readonly Lane[]): Promise<CameraResult>
  /** Sets how fast it goes to its memories, where that is a setting of its own. */
  memorySpeed(): Promise<void>
  /** A sentence for the operator. */
  notice(text: string): void
  /** Sends what was handed over. */
  settle(): void
  /** Sets a named control. */
  set(key: string, value: SettingValue): Promise<CameraResult>
  /** Its own menu. */
  menu(action: MenuAction): Promise<CameraResult>
}

const KEPT_FOR_ITSELF = (number: number) =>
  `This camera has no memory ${number} for pictures, or keeps it for itself. Choose another.`

type Order = (command: ViscaCommand, lanes: readonly Lane[]) => Promise<CameraResult>

const FOCUS_NOT_SET = (why: string) => `The focus was not set as stored: ${why}`

const NOTHING_IN_IT = (number: number) =>
  `The camera refused its memory ${number}. Nothing may be stored in it yet.`

async function goTo(host: OrderHost, goal: Goal): Promise<CameraResult> {
  const { profile, parts } = host
  const results: Promise<CameraResult>[] = []
  const from = host.reading
  host.travels()
  if (parts.head && goal.panDeg !== undefined && goal.tiltDeg !== undefined) {
    host.travels('panTilt')
    const command: ViscaCommand = {
      kind: 'ptAbsolute',
      panStep: travelStep(
        profile.pan,
        goal.from?.panDeg ?? from.panDeg,
        goal.panDeg,
        goal.seconds,
        goal.from !== undefined,
      ),
      tiltStep: travelStep(
        profile.tilt,
        goal.from?.tiltDeg ?? from.tiltDeg,
        goal.tiltDeg,
        goal.seconds,
        goal.from !== undefined,
      ),
      pan: goal.encoder?.pan ?? degToUnits(profile.pan, goal.panDeg),
      tilt: goal.encoder?.tilt ?? degToUnits(profile.tilt, goal.tiltDeg),
    }
    results.push(host.queue(command, ['panTilt']))
  }
  if (parts.lens && goal.zoom !== undefined) {
    host.travels('zoom')
    results.push(host.queue({ kind: 'zoomTo', position: Math.round(goal.zoom) }, ['zoom']))
  }
  if (parts.lens && goal.focusAuto !== undefined && host.knows('focusMode')) {
    const to = { auto: goal.focusAuto, focus: goal.focus ?? null }
    const focus = focusOrders(
      from,
      to,
      (command, lanes) => host.queue(command, lanes),
      () => host.settle(),
    )
    // It waits for a free socket while the head travels: that it is late must not fail the travel.
    if (focus)
      void focus.then((result) => !result.ok && !result.unknown && host.notice(FOCUS_NOT_SET(result.message)))
  }
  host.settle()
  return (await Promise.all(results)).find((result) => !result.ok) ?? DONE
}

/** @param order sends a command and looks at the device again soon */
function headOrders(host: OrderHost, order: Order): BodyOrders {
  const { profile, parts } = host
  const orders: BodyOrders = {}
  if (!lacks(profile, 'home'))
    orders.home = () => {
      host.travels('panTilt')
      return order({ kind: 'ptHome' }, ['panTilt'])
    }
  if (!lacks(profile, 'limits'))
    orders.keepWithin = async ({ bounds, limited }) => {
      // A head that does not know limits says so; ours are kept here all the same.
      for (const command of limitCommands(profile, bounds, limited)) void order(command, [])
      return DONE
    }
  if (!parts.lens || !subjectLevels(profile)) return orders
  orders.followSubject = async (subject) => {
    for (const command of subjectCommands(profile, subject) ?? []) {
      const result = await order(command, [])
      if (!result.ok) return result
    }
    if (subject.on) host.travels('panTilt', 'zoom')
    return DONE
  }
  return orders
}

function lensOrders(host: OrderHost, order: Order): BodyOrders {
  const { profile } = host
  const orders: BodyOrders = {}
  if (!lacks(profile, 'onePushFocus')) orders.focusOnce = () => order({ kind: 'focusOnePush' }, ['focus'])
  if (controlsOf(profile).some(({ shown }) => shown))
    orders.setting = ({ key, value }) => host.set(key, value)
  if (host.knows('focusMode')) orders.focusMode = ({ auto }) => order({ kind: 'focusMode', auto }, [])
  if (focusAtCommand(profile, 0, 0))
    orders.focusAt = ({ u, v }) => {
      const command = focusAtCommand(profile, u, v)
      return command ? order(command, ['focus']) : Promise.resolve(CANNOT('focus on a place'))
    }
  return orders
}

export function viscaOrders(host: OrderHost, order: Order): BodyOrders {
  const { profile, parts } = host
  const orders: BodyOrders = {
    goTo: (goal) => goTo(host, goal),
    ...(parts.head && headOrders(host, order)),
    ...(parts.lens && lensOrders(host, order)),
  }
  if (parts.head && parts.lens && profile.menu !== 'none') orders.menu = ({ action }) => host.menu(action)
  if (host.knows('power')) orders.power = ({ on }) => order({ kind: 'power', on }, [])
  if (profile.memories > 0)
    orders.memory = async ({ action, number }) => {
      const slot = slotOf(profile, number)
      if (slot === null) return { ok: false, message: KEPT_FOR_ITSELF(number) }
      const command: ViscaCommand = { kind: 'memory', action, slot }
      if (action === 'set') return order(command, [])
      host.travels('panTilt', 'zoom')
      await host.memorySpeed()
      const result = await order(command, ['panTilt', 'zoom', 'focus'])
      // What a camera says to an empty memory too: it has no answer of its own for that.
      return !result.ok && result.refused ? { ...result, message: NOTHING_IN_IT(number) } : result
    }
  return orders
}
