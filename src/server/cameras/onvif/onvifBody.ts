/** The driver for ONVIF devices. */
import type { Light } from '../../../core/cameras/light'
import type { Health } from '../../../core/facts/health'
import type { StopOrder } from '../../../core/guardian/stopOrder'
import type { HeadRanges } from '../../../core/heads/check'
import type { HeadProfile } from '../../../core/heads/profile'
import * as imaging from '../../../core/onvif/imaging'
import * as onvif from '../../../core/onvif/messages'
import { SPEEDS_AT_REST, type Speeds } from '../../../core/stick/speeds'
import type { Body, BodyEvents, BodyOrders, Goal, Reading, Traits } from '../body'
import { NO_SETTINGS, NOTHING_READ, type Settings } from '../body'
import { CANNOT, type CameraResult } from '../camera'
import type { Clock } from '../clock'
import { stopAnswered } from '../closing'
import type { DeviceFault } from '../deviceFault'
import { LaneSender } from '../laneSender'
import { Poller } from '../poller'
import { RequestHealth } from '../requestHealth'
import { REQUEST_WORDS } from '../requestWords'
import { Watched } from '../watched'
import type { OnvifCalls } from './client'
import { describeOnvif, type OnvifDevice } from './describe'
import { OnvifPicture } from './onvifPicture'
import { onvifOrders } from './orderTable'
import { seek } from './seek'
import { Space } from './space'
import { Told } from './told'

const POLL_MOVING_MS = 80
const POLL_IDLE_MS = 350
const CONNECT_AGAIN_MS = 700
/** Every so many polls the slow-changing values are asked too. */
const SLOW_VALUES_EVERY = 6
const SLOW_MS = 400
/** The device stops by itself after this, s; a held stick is repeated well before. */
const OWN_STOP_S = 1
const REPEAT_MS = 350
/** The guardian's tries, each with a login of its own. */
const STOP_TRIES = 8
const REST_MS = 150
const EXPECT_MOVE_MS = 1200
/** A service that failed is tried again after this, ms. */
const TRY_AGAIN_MS = 20_000

/** Marks that it is not known what the device does. */
const UNSURE = 'unsure'
/** Marks that it travels by an order of its own. */
const TRAVELS = 'travels'

export class OnvifBody implements Body {
  /** Its pan, tilt and zoom are driven by one request. */
  readonly zoomsApart = false
  reading: Reading = NOTHING_READ
  orders: BodyOrders = {}
  private readonly link: RequestHealth
  private readonly space: Space
  private readonly move: LaneSender
  private readonly focus: LaneSender
  private readonly panTilt = new Watched<[number | null, number | null]>(REST_MS)
  private readonly zoom = new Watched<[number | null]>(REST_MS)
  private device: OnvifDevice | null = null
  private events: BodyEvents = { reading: () => {}, health: () => {}, notice: () => {} }
  private lastMove = ''
  private lastFocus = 0
  private held: Speeds = SPEEDS_AT_REST
  private pollingFast = false
  private polls = 0
  private busyUntilMs = 0
  private readonly poller: Poller
  private cancelRepeat: () => void = () => {}
  private focusUntold = false
  /** The imaging service failed; when it is tried again, ms. */
  private imagingFromMs = Number.NEGATIVE_INFINITY
  private images = true
  /** It refuses to be told when to stop by itself: then only we stop it. */
  private noTimeout = false
  private readonly tells = new Told()
  private readonly picture = new OnvifPicture({
    imaging: (body) => this.imaging(body),
    changed: () => this.events.health(),
  })
  /** Counts what moves it, so that an older travel knows that it is over. */
  private moveCount = 0

  constructor(
    private readonly profile: HeadProfile,
    /** As shown to the operator. */
    address: string,
    private readonly client: OnvifCalls,
    private readonly clock: Clock,
    /** It may still run from before this server began: it is stopped before anything else is sent. */
    suspect = false,
  ) {
    if (suspect) this.lastMove = UNSURE
    this.space = new Space(profile)
    this.link = new RequestHealth(clock, REQUEST_WORDS(address), SLOW_MS, (from) => {
      if (this.link.state === 'silent') this.reading = NOTHING_READ
      else if (from === 'silent') this.regain()
      this.events.health()
    })
    const fault = (error: Error) => this.events.notice(error.message)
    this.move = new LaneSender(clock, fault)
    this.focus = new LaneSender(clock, fault)
    this.poller = new Poller(clock, () => this.poll())
    this.poller.in(0)
  }

  listen(events: BodyEvents): void {
    this.events = events
  }

  get health(): Health {
    return this.link.health
  }

  get traits(): Traits {
    const { device } = this
    const lens = !!device?.services.imaging && this.images
    return {
      panTilt: device?.node !== null,
      zoom: device?.node !== null,
      focus: lens,
      position: { panTilt: this.tells.panTilt, zoom: this.tells.zoom },
      subject: null,
      memories: device?.node?.presets ?? 0,
      device: device?.name ?? null,
    }
  }

  get settings(): Settings {
    const { specs, values } = this.picture
    return this.images ? { specs, values } : NO_SETTINGS
  }

  /** Only of a head that counts in degrees. */
  get ranges(): HeadRanges | null {
    const node = this.device?.node
    return node?.degrees ? { pan: node.pan, tilt: node.tilt } : null
  }

  get stopPending(): boolean {
    return this.move.stopPending || this.focus.stopPending
  }

  /** Each request has a login of its own, since none may be used twice. */
  stops(): StopOrder[] {
    const { device } = this
    if (!device) return []
    const tries = (service: string, body: string) =>
      Array.from({ length: STOP_TRIES }, () => this.client.prepared(service, body))
    const groups = []
    if (device.node)
      groups.push(tries(device.services.ptz, onvif.stop(device.profile, { panTilt: true, zoom: true })))
    if (device.services.imaging && this.images && this.lastFocus !== 0)
      groups.push(tries(device.services.imaging, imaging.stopFocus(device.videoSource)))
    return [{ over: 'http', groups, login: this.client.login }]
  }

  drive(speeds: Speeds): void {
    this.moveCount += 1
    this.driveAt(speeds)
  }

  private driveAt(speeds: Speeds): void {
    this.held = speeds
    this.sendMove(false)
    this.sendFocus(speeds.focus)
    if (this.moves && !this.pollingFast) this.poller.soon()
  }

  halt(): void {
    this.moveCount += 1
    this.held = SPEEDS_AT_REST
    // A travel is stopped by the same order as a drive.
    if (this.lastMove !== '') this.lastMove = UNSURE
    this.sendMove(false)
    this.sendFocus(0)
  }

  async readLight(): Promise<Light | null> {
    const { device } = this
    if (!device?.services.imaging || !this.images) return null
    try {
      return imaging.readImaging(await this.imaging(imaging.getImaging(device.videoSource))).light
    } catch {
      return null
    }
  }

  readSoon(): void {
    this.polls = 0
    this.poller.soon()
  }

  async close(): Promise<void> {
    this.drive(SPEEDS_AT_REST)
    await stopAnswered(this.clock, () => this.stopPending)
    this.move.close()
    this.focus.close()
    this.poller.close()
    this.cancelRepeat()
    this.client.close()
  }

  private ptz(body: string) {
    return this.link.track(() => this.client.call(this.device!.services.ptz, body))
  }

  private imaging(body: string) {
    return this.link.track(() => this.client.call(this.device!.services.imaging, body))
  }

  private describedAs(device: OnvifDevice | null): void {
    this.device = device
    const body = this
    this.orders = onvifOrders(device, {
      space: this.space,
      get reading() {
        return body.reading
      },
      get images() {
        return body.images
      },
      seek: (goal) => this.seek(goal),
      ptz: (text) => this.ptz(text),
      imaging: (text) => this.imaging(text),
      travels: () => this.travels(),
      travel: (text) => {
        this.travels()
        return this.move.travel(() => this.ptz(text))
      },
      readSoon: () => this.readSoon(),
      picture: this.picture,
    })
  }

  private travels(): void {
    this.moveCount += 1
    this.lastMove = TRAVELS
    this.cancelRepeat()
    this.busyUntilMs = this.clock.now() + EXPECT_MOVE_MS
  }

  private get moves(): boolean {
    const { panDegPerSec, tiltDegPerSec, zoomPerSec } = this.held
    return panDegPerSec !== 0 || tiltDegPerSec !== 0 || zoomPerSec !== 0
  }

  /** @param again although nothing changed, since the device stops by itself */
  private sendMove(again: boolean): void {
    const { device } = this
    if (!device?.node) return
    const v = this.space.velocity(this.held)
    const text = JSON.stringify(v)
    const stop = v.pan === 0 && v.tilt === 0 && v.zoom === 0
    if (!again && text === this.lastMove) return
    // What was never driven, or travels, needs no stop.
    if (stop && (this.lastMove === '' || this.lastMove === TRAVELS)) return
    this.lastMove = text
    this.cancelRepeat()
    const { profile, node } = device
    const send = stop
      ? () => this.ptz(onvif.stop(profile, { panTilt: true, zoom: true }))
      : () => this.continuous(profile, v, node)
    this.move.set({ stop, send })
    if (!stop) this.cancelRepeat = this.clock.after(REPEAT_MS, () => this.sendMove(true))
  }

  /** A device that refuses the time limit is told again without it. */
  private async continuous(profile: string, v: onvif.Velocity, node: onvif.PtzNode) {
    if (this.noTimeout) return this.ptz(onvif.continuousMove(profile, v, null, node))
    try {
      return await this.ptz(onvif.continuousMove(profile, v, OWN_STOP_S, node))
    } catch (error) {
      if ((error as DeviceFault).kind !== 'refused') throw error
      const answer = await this.ptz(onvif.continuousMove(profile, v, null, node))
      this.noTimeout = true
      return answer
    }
  }

  private seek(goal: Goal): CameraResult {
    if (this.reading.panDeg === null || this.reading.tiltDeg === null) return CANNOT('go to a position')
    const mine = this.moveCount
    const { profile, clock } = this
    return seek(
      {
        profile,
        clock,
        reading: () => this.reading,
        drive: (speeds) => this.driveAt(speeds),
        over: () => this.moveCount !== mine,
      },
      goal,
    )
  }

  private sendFocus(speed: number): void {
    const { device } = this
    if (!device?.services.imaging || !this.images || speed === this.lastFocus) return
    this.lastFocus = speed
    const body =
      speed === 0 ? imaging.stopFocus(device.videoSource) : imaging.moveFocus(device.videoSource, speed)
    this.focus.set({ stop: speed === 0, send: () => this.imaging(body) })
  }

  /** Back again: what it did meanwhile is not known, so it is told how the stick stands now. */
  private regain(): void {
    if (this.lastMove !== '') this.sendMove(true)
    this.polls = 0
  }

  private async poll(): Promise<number> {
    try {
      if (!this.device) {
        const device = await this.link.track(() => describeOnvif(this.client))
        this.describedAs(device)
        if (device.services.imaging) {
          await this.picture.describe(device.videoSource)
          this.describedAs(device)
        }
        this.regain()
        this.events.health()
      }
      await this.read(this.device!)
      const busy =
        this.reading.panTiltMoving || this.reading.zoomMoving || this.clock.now() < this.busyUntilMs
      this.pollingFast = busy || this.moves
      return this.pollingFast ? POLL_MOVING_MS : POLL_IDLE_MS
    } catch (error) {
      // Whatever it is, the next poll finds out; a device that was set up again is described again.
      if ((error as DeviceFault).kind !== 'network') this.describedAs(null)
      this.link.check()
      this.events.health()
      return CONNECT_AGAIN_MS
    }
  }

  private async read(device: OnvifDevice): Promise<void> {
    if (device.services.imaging && this.polls++ % SLOW_VALUES_EVERY === 0) await this.readImaging(device)
    if (!device.node) return
    const from = this.clock.now()
    const status = await this.status(device)
    if (status) this.take(device.node, status, (from + this.clock.now()) / 2)
    this.events.reading()
  }

  /** What is wrong with its imaging does not touch its head. */
  private async readImaging(device: OnvifDevice): Promise<void> {
    if (!this.images && this.clock.now() < this.imagingFromMs) return
    try {
      const answer = await this.imaging(imaging.getImaging(device.videoSource))
      const { focusAuto } = imaging.readImaging(answer)
      this.picture.take(answer)
      this.reading = { ...this.reading, focusAuto }
      this.imagingWorks(true)
      await this.readFocus(device)
    } catch (error) {
      if ((error as DeviceFault).kind === 'network') throw error
      this.imagingFromMs = this.clock.now() + TRY_AGAIN_MS
      this.reading = { ...this.reading, focusAuto: null, focus: null }
      this.imagingWorks(false)
    }
  }

  private imagingWorks(works: boolean): void {
    if (this.images === works) return
    this.images = works
    this.describedAs(this.device)
    this.events.health()
  }

  /** Null if it refuses to tell where it stands: it can be driven all the same. */
  private async status({ profile, node }: OnvifDevice): Promise<onvif.PtzStatus | null> {
    try {
      return onvif.readStatus(await this.ptz(onvif.getStatus(profile)), node?.panTiltSpace)
    } catch (error) {
      const { kind } = error as DeviceFault
      if (kind !== 'refused' && kind !== 'not-supported') throw error
      return { pan: null, tilt: null, zoom: null, told: 'node', moving: null }
    }
  }

  /** Many devices do not report it: then the focus is not stored, and nothing is lost. */
  private async readFocus(device: OnvifDevice): Promise<void> {
    if (this.focusUntold) return
    try {
      const from = this.clock.now()
      const answer = await this.imaging(imaging.getFocusStatus(device.videoSource))
      const at = imaging.readFocusPosition(answer)
      if (at === null) this.focusUntold = true
      else
        this.reading = {
          ...this.reading,
          focus: this.space.toFocus(at),
          focusAtMs: (from + this.clock.now()) / 2,
        }
    } catch (error) {
      if ((error as DeviceFault).kind === 'network') throw error
      this.focusUntold = true
    }
  }

  private take(node: onvif.PtzNode, status: onvif.PtzStatus, atMs: number): void {
    const { space, panTilt, zoom } = this
    const panDeg = space.toDeg(node, 'pan', status.pan, status.told)
    const tiltDeg = space.toDeg(node, 'tilt', status.tilt, status.told)
    const zoomAt = status.zoom === null ? null : space.toZoom(node, status.zoom)
    if (this.tells.take(panDeg !== null && tiltDeg !== null, zoomAt !== null)) this.events.health()
    panTilt.take([panDeg, tiltDeg], atMs)
    zoom.take([zoomAt], atMs)
    this.reading = {
      ...this.reading,
      panDeg,
      tiltDeg,
      zoom: zoomAt,
      panTiltMoving: panTilt.moving,
      zoomMoving: zoom.moving,
      panTiltAtMs: atMs,
      zoomAtMs: atMs,
      running: status.moving === true,
    }
  }
}
