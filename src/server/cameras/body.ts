/**
 * One device behind one link. A camera is made of one of these, or, as a rig, of two. Each protocol is one
 * implementation; what is the same for all (recalls, poses as a whole, notices) is in OneCamera.
 */
import type { Light } from '../../core/cameras/light'
import type { Capabilities, InnerOrderName } from '../../core/facts/capabilities'
import type { Health } from '../../core/facts/health'
import type { StopOrder } from '../../core/guardian/stopOrder'
import type { HeadRanges } from '../../core/heads/check'
import type { DeviceOrderName, OrderNamed } from '../../core/orders/orders'
import type { SettingSpec, SettingValues } from '../../core/picture/settings'
import type { Encoder } from '../../core/presets/pose'
import type { Bounds, Speeds } from '../../core/stick/speeds'
import type { CameraResult } from './camera'

/** What a device last reported; null if it has not, or cannot. */
export interface Reading {
  panDeg: number | null
  tiltDeg: number | null
  /** Pan and tilt as the head itself counts. */
  encoder: Encoder | null
  /** In the lens's own units. */
  zoom: number | null
  focusAuto: boolean | null
  focus: number | null
  /** When the focus was true, ms on the driver's clock. */
  focusAtMs: number
  power: boolean | null
  panTiltMoving: boolean
  zoomMoving: boolean
  /** When pan and tilt, or zoom, were true, ms on the driver's clock. */
  panTiltAtMs: number
  zoomAtMs: number
  /** A recall of one of its memories is still under way, as far as the device tells. */
  running: boolean
}

export const NOTHING_READ: Reading = {
  panDeg: null,
  tiltDeg: null,
  encoder: null,
  zoom: null,
  focusAuto: null,
  focus: null,
  focusAtMs: Number.NEGATIVE_INFINITY,
  power: null,
  panTiltMoving: false,
  zoomMoving: false,
  panTiltAtMs: 0,
  zoomAtMs: 0,
  running: false,
}

/** Where to go; what is left out stays as it is. */
export interface Goal {
  panDeg?: number
  tiltDeg?: number
  /** Pan and tilt as the head itself counts: they take the place of the degrees. */
  encoder?: Encoder | null
  zoom?: number
  focusAuto?: boolean
  focus?: number | null
  /** How long pan and tilt are to take; as fast as they can if omitted. */
  seconds?: number
  /** Where it stands by now, which is better known than by the last reading. */
  from?: { panDeg: number; tiltDeg: number }
}

export interface BodyEvents {
  /** The reading changed or was confirmed. */
  reading(): void
  /** Its health, what it can do, or one of its settings changed. */
  health(): void
  notice(text: string): void
  /** These axes of it have been told to run so, as its profile counts; a device that does not say is taken at the desk's word. */
  runs?(speeds: Partial<Speeds> | null, atMs: number): void
}

/** An order as a device takes it: it knows which camera it is. */
export type DeviceOrder<K extends DeviceOrderName> = Omit<OrderNamed<K>, 't' | 'camera'>

/** Orders that only the desk itself gives to a device. */
interface InnerOrders {
  /** @returns refused, or when the device has taken all of it */
  goTo(goal: Goal): Promise<CameraResult>
  light(light: Light): Promise<CameraResult>
  /** Whether the device keeps sending the picture of this moment. */
  freeze(on: boolean): Promise<CameraResult>
  /** Tells the device itself the range in which it may be driven. */
  keepWithin(range: { bounds: Bounds; limited: boolean }): Promise<CameraResult>
  /** Sends sticks as short moves that end by themselves, within these ends; null: as plain drives. */
  keepOnLeash(bounds: Bounds | null): Promise<CameraResult>
}

/** What a device can do. A missing key means that it cannot. */
export type BodyOrders = {
  [K in DeviceOrderName]?: (order: DeviceOrder<K>) => Promise<CameraResult>
} & { [K in InnerOrderName]?: InnerOrders[K] }

/** Traits of a device that do not follow from its orders. */
export type Traits = Omit<Capabilities, 'orders' | 'settings'>

export interface Settings {
  readonly specs: readonly SettingSpec[]
  /** As far as they are known. */
  readonly values: SettingValues
}
export const NO_SETTINGS: Settings = { specs: [], values: {} }

export interface Body {
  readonly reading: Reading
  readonly health: Health
  readonly traits: Traits
  readonly orders: BodyOrders
  readonly settings: Settings
  /** What is odd about it, as it was met, in sentences. */
  readonly quirks?: readonly string[]
  /** How far its head goes, where it tells that itself. */
  readonly ranges?: HeadRanges | null
  /** Is its home where pan and tilt are zero? */
  readonly homeAtZero?: boolean
  /** Can its zoom be driven while its head travels? */
  readonly zoomsApart: boolean
  /** Does a stop still wait for the device's answer? */
  readonly stopPending: boolean
  listen(events: BodyEvents): void
  /** What stops it without this driver, for the guardian. */
  stops(): StopOrder[]
  /** @param refines it only brings a push up to date, and leaves room for the hand's next move */
  drive(speeds: Speeds, refines?: boolean): void
  /** Stops whatever it does, a travel too. */
  halt(): void
  /** Exposure and white balance; null if the device does not answer in time. */
  readLight(timeoutMs: number): Promise<Light | null>
  /** Reads everything again as soon as possible. */
  readSoon(): void
  close(): Promise<void>
}

export const capabilitiesOf = ({ traits, orders, settings }: Body): Capabilities => ({
  ...traits,
  orders: Object.keys(orders),
  settings: [...settings.specs],
})
