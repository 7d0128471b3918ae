/** What an ONVIF device can do, by the services and nodes that it told. */
import * as imaging from '../../../core/onvif/imaging'
import * as onvif from '../../../core/onvif/messages'
import type { Message } from '../../../core/onvif/soap'
import type { BodyOrders, Goal, Reading } from '../body'
import { type CameraResult, DONE } from '../camera'
import { DeviceFault } from '../deviceFault'
import type { OnvifDevice } from './describe'
import type { OnvifPicture } from './onvifPicture'
import type { Space } from './space'

/** What the driver lends to its orders. */
export interface OnvifHost {
  readonly space: Space
  readonly reading: Reading
  /** Does the imaging service answer? */
  readonly images: boolean
  /** Goes there by driving, where the device knows no moves to a position. */
  seek(goal: Goal): CameraResult
  ptz(body: string): Promise<Message>
  imaging(body: string): Promise<Message>
  /** It is about to move without a hand, by drives of its own. */
  travels(): void
  /** Makes it move without a hand, in place of what drives it. */
  travel(body: string): Promise<unknown>
  readSoon(): void
  readonly picture: OnvifPicture
}

async function asked(work: () => Promise<unknown>): Promise<CameraResult> {
  try {
    await work()
    return DONE
  } catch (error) {
    const { message, kind } = error as DeviceFault
    return { ok: false, message, refused: kind === 'refused' }
  }
}

async function goToFocus(host: OnvifHost, video: string, goal: Goal): Promise<CameraResult> {
  const auto = goal.focusAuto === true
  if (host.reading.focusAuto !== auto) {
    const mode = await asked(() => host.imaging(imaging.setFocusMode(video, auto)))
    if (!mode.ok) return mode
  }
  const { focus } = goal
  if (auto || focus === null || focus === undefined) return DONE
  return asked(() => host.imaging(imaging.focusTo(video, host.space.fromFocus(focus))))
}

/** The device gives its presets tokens of its own; ours are known by their names. */
async function memory(host: OnvifHost, profile: string, action: 'set' | 'recall', number: number) {
  const presets = onvif.readPresets(await host.ptz(onvif.getPresets(profile)))
  if (action === 'set') {
    const kept = onvif.presetOfMemory(presets, number)
    await host.ptz(onvif.setPreset(profile, kept?.name ?? onvif.memoryName(number), kept?.token))
    return
  }
  const found = onvif.presetNumbered(presets, number)
  if (!found) throw new DeviceFault('refused', `The camera has nothing in memory ${number}.`)
  await host.travel(onvif.goToPreset(profile, found.token))
  host.readSoon()
}

export function onvifOrders(device: OnvifDevice | null, host: OnvifHost): BodyOrders {
  if (!device) return {}
  const { node, profile, videoSource, services } = device
  const orders: BodyOrders = {}
  if (node) {
    orders.goTo = async (goal) => {
      const to = host.space.position(node, goal)
      if (!node.absolute) host.travels()
      const result = node.absolute
        ? await asked(() => host.travel(onvif.absoluteMove(profile, to, node)))
        : host.seek(goal)
      host.readSoon()
      if (!result.ok || goal.focusAuto === undefined || !host.images) return result
      return goToFocus(host, videoSource, goal)
    }
    if (node.presets > 0)
      orders.memory = ({ action, number }) => asked(() => memory(host, profile, action, number))
    if (node.home) orders.home = () => asked(() => host.travel(onvif.goHome(profile)))
  }
  if (services.imaging && host.images) {
    orders.focusMode = async ({ auto }) => {
      const result = await asked(() => host.imaging(imaging.setFocusMode(videoSource, auto)))
      host.readSoon()
      return result
    }
    if (host.picture.specs.length > 0)
      orders.setting = async ({ key, value }) => {
        const result = await host.picture.set(videoSource, key, value)
        host.readSoon()
        return result
      }
    orders.light = (light) => asked(() => host.imaging(imaging.setLight(videoSource, light)))
  }
  return orders
}
