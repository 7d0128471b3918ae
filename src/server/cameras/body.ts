/**
 * One device behind one link. A camera is made of one of these, or, as a rig, of two. Each protocol is
 * one implementation; what is the same for all (travels, poses as a whole, notices) is in OneCamera.
 */
import type { Light } from '../../core/cameras/light'
import type { StopOrder } from '../../core/guardian/stopOrder'
import type { Capabilities, Health } from '../../core/live/messages'
import type { Bounds, Speeds } from '../../core/stick/speeds'
import type { CameraResult, MemoryAction, SubjectOrder } from './camera'

/** What a device last reported; null where it has not, or cannot. */
export interface Reading {
  panDeg: number | null
  tiltDeg: number | null
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
  zoom?: number
  focusAuto?: boolean
  focus?: number | null
  /** How long pan and tilt are to take; as fast as they can where it is left out. */
  seconds?: number
}

export interface BodyEvents {
  /** The reading changed or was confirmed. */
  reading(): void
  health(): void
  notice(text: string): void
}

export interface Body {
  readonly reading: Reading
  readonly health: Health
  readonly capabilities: Capabilities
  listen(events: BodyEvents): void
  /** What stops it without this driver, for the guardian. */
  stops(): StopOrder[]
  /** Does a stop still wait for the device's answer? */
  readonly stopPending: boolean
  /** Can its zoom be driven while its head travels? */
  readonly zoomsApart: boolean
  /** @param refines it only brings a push up to date, and leaves room for the hand's next move */
  drive(speeds: Speeds, refines?: boolean): void
  /** Stops whatever it does, a travel too. */
  halt(): void
  /** @returns refused, or when the device has taken all of it */
  goTo(goal: Goal): Promise<CameraResult>
  setFocusMode(auto: boolean): Promise<CameraResult>
  setPower(on: boolean): Promise<CameraResult>
  home(): Promise<CameraResult>
  /** The device's own memories, numbered from 1. */
  memory(action: MemoryAction, number: number): Promise<CameraResult>
  focusOnce(): Promise<CameraResult>
  /** @param x, y shares from the left and the top */
  focusAt(x: number, y: number): Promise<CameraResult>
  setDigitalZoom(on: boolean): Promise<CameraResult>
  followSubject(order: SubjectOrder): Promise<CameraResult>
  /** Exposure and white balance; null where the device does not tell in time. */
  readLight(timeoutMs: number): Promise<Light | null>
  setLight(light: Light): Promise<CameraResult>
  /** Whether the device goes on sending the picture of this moment. */
  freeze(on: boolean): Promise<CameraResult>
  /** Tells the device itself the range in which it may be driven, where it can be told. */
  keepWithin(bounds: Bounds, limited: boolean): void
  /**
   * Sends sticks as short moves that end by themselves, within these ends; null: as plain drives.
   * Devices that cannot go on with what they do.
   */
  keepOnLeash(bounds: Bounds | null): void
  /** Reads all again at the next moment. */
  readSoon(): void
  close(): Promise<void>
}
