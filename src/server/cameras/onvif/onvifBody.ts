/** The driver for ONVIF devices. */
import type { Light } from '../../../core/cameras/light'
import type { StopOrder } from '../../../core/guardian/stopOrder'
import type { HeadProfile } from '../../../core/heads/profile'
import { topSpeed } from '../../../core/heads/profile'
import type { Capabilities, Health } from '../../../core/live/messages'
import * as imaging from '../../../core/onvif/imaging'
import * as onvif from '../../../core/onvif/messages'
import { SPEEDS_AT_REST, type Speeds } from '../../../core/stick/speeds'
import type { Body, BodyEvents, Goal, Reading } from '../body'
import { NOTHING_READ } from '../body'
import { CANNOT, type CameraResult, DONE, type MemoryAction } from '../camera'
import type { Clock } from '../clock'
import { DeviceFault } from '../deviceFault'
import { LaneSender } from '../laneSender'
import { RequestHealth } from '../requestHealth'
import { REQUEST_WORDS } from '../requestWords'
import { type OnvifAddress, OnvifClient } from './client'
import { describeOnvif, type OnvifDevice } from './describe'

const POLL_MOVING_MS = 80
const POLL_IDLE_MS = 350
const CONNECT_AGAIN_MS = 700
const SLOW_MS = 400
/** The device stops by itself after this, s; a held stick is repeated well before. */
const OWN_STOP_S = 1
const REPEAT_MS = 350
/** The guardian's tries, each with a login of its own. */
const STOP_TRIES = 8
const REST_MS = 150
const EXPECT_MOVE_MS = 1200

/** Marks that it is not known what the device does. */
const UNSURE = 'unsure'

interface Ends {
  min: number
  max: number
}
const scale = (x: number, a: Ends, b: Ends) => b.min + ((x - a.min) / (a.max - a.min)) * (b.max - b.min)
const within = (x: number, { min, max }: Ends) => Math.min(max, Math.max(min, x))

export class OnvifBody implements Body {
  /** Its pan, tilt and zoom are driven by one request. */
  readonly zoomsApart = false
  reading: Reading = NOTHING_READ
  private readonly client: OnvifClient
  private readonly link: RequestHealth
  private readonly move: LaneSender
  private readonly focus: LaneSender
  private device: OnvifDevice | null = null
  private events: BodyEvents = { reading: () => {}, health: () => {}, notice: () => {} }
  private lastMove = ''
  private lastFocus = 0
  private held: Speeds = SPEEDS_AT_REST
  private pollingFast = false
  private polls = 0
  private busyUntilMs = 0
  private changedAtMs = { panTilt: 0, zoom: 0 }
  private cancelPoll: () => void = () => {}
  private cancelRepeat: () => void = () => {}
  private polling = false
  private focusUntold = false
  private closed = false

  constructor(
    private readonly profile: HeadProfile,
    address: OnvifAddress,
    private readonly clock: Clock,
    /** It may still run from before this server began: it is stopped before anything else is sent. */
    suspect = false,
  ) {
    if (suspect) this.lastMove = UNSURE
    this.client = new OnvifClient(address, clock.wall)
    this.link = new RequestHealth(
      clock,
      REQUEST_WORDS(`${address.host}:${address.port}`),
      SLOW_MS,
      (from) => {
        if (this.link.state === 'silent') this.lose()
        else if (from === 'silent') this.regain()
        this.events.health()
      },
    )
    const fault = (error: Error) => this.events.notice(error.message)
    this.move = new LaneSender(clock, fault)
    this.focus = new LaneSender(clock, fault)
    this.pollIn(0)
  }

  listen(events: BodyEvents): void {
    this.events = events
  }

  get health(): Health {
    return this.link.health
  }

  get capabilities(): Capabilities {
    const { device } = this
    const lens = !!device?.services.imaging
    return {
      panTilt: device?.node !== null,
      zoom: device?.node !== null,
      focus: lens,
      focusMode: lens,
      position: device?.node?.absolute ?? true,
      power: false,
      home: device?.node?.home ?? false,
      onePush: false,
      focusAt: false,
      digitalZoom: false,
      subject: null,
      memories: device?.node?.presets ?? 0,
      light: lens,
      freeze: false,
      leash: false,
      device: device?.name ?? null,
    }
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
    if (device.services.imaging && this.lastFocus !== 0)
      groups.push(tries(device.services.imaging, imaging.stopFocus(device.videoSource)))
    return [{ over: 'http', groups, login: this.client.login }]
  }

  drive(speeds: Speeds): void {
    this.held = speeds
    this.sendMove(false)
    this.sendFocus(speeds.focus)
    if (this.moves && !this.pollingFast) this.pollSoon()
  }

  halt(): void {
    this.held = SPEEDS_AT_REST
    // A travel is stopped by the same order as a drive.
    if (this.lastMove !== '') this.lastMove = UNSURE
    this.sendMove(false)
  }

  async goTo(goal: Goal): Promise<CameraResult> {
    const { device } = this
    if (!device?.node) return { ok: false, message: this.health.advice ?? 'This camera cannot be driven.' }
    const { node } = device
    const to: onvif.Position = {}
    if (goal.panDeg !== undefined && goal.tiltDeg !== undefined) {
      to.pan = within(this.toSpace('pan', goal.panDeg), node.pan)
      to.tilt = within(this.toSpace('tilt', goal.tiltDeg), node.tilt)
    }
    if (goal.zoom !== undefined) to.zoom = within(scale(goal.zoom, this.zoomEnds, node.zoom), node.zoom)
    this.lastMove = 'travel'
    this.busyUntilMs = this.clock.now() + EXPECT_MOVE_MS
    const result = await this.order(() => this.ptz(onvif.absoluteMove(device.profile, to)))
    this.pollSoon()
    if (!result.ok || goal.focusAuto === undefined || !device.services.imaging) return result
    return this.goToFocus(device, goal.focusAuto, goal.focus ?? null)
  }

  setFocusMode(auto: boolean): Promise<CameraResult> {
    const { device } = this
    if (!device?.services.imaging) {
      return Promise.resolve({ ok: false, message: 'This camera does not let its focus be set.' })
    }
    this.polls = 0
    return this.order(() => this.imaging(imaging.setFocusMode(device.videoSource, auto))).finally(() =>
      this.readSoon(),
    )
  }

  async setPower(): Promise<CameraResult> {
    return { ok: false, message: 'This camera cannot be switched from here.' }
  }

  home(): Promise<CameraResult> {
    const { device } = this
    if (!device) return Promise.resolve({ ok: false, message: this.health.advice ?? '' })
    this.lastMove = 'travel'
    this.busyUntilMs = this.clock.now() + EXPECT_MOVE_MS
    return this.order(() => this.ptz(onvif.goHome(device.profile)))
  }

  /** The device gives its presets tokens of its own. */
  async memory(action: MemoryAction, number: number): Promise<CameraResult> {
    const { device } = this
    if (!device?.node) return { ok: false, message: this.health.advice ?? 'This camera cannot be driven.' }
    return this.order(async () => {
      const presets = onvif.readPresets(await this.ptz(onvif.getPresets(device.profile)))
      if (action === 'set') {
        const kept = onvif.presetOfMemory(presets, number)
        return this.ptz(onvif.setPreset(device.profile, kept?.name ?? onvif.memoryName(number), kept?.token))
      }
      const found = onvif.presetNumbered(presets, number)
      if (!found) throw new DeviceFault('refused', `The camera has nothing in memory ${number}.`)
      this.lastMove = 'travel'
      this.busyUntilMs = this.clock.now() + EXPECT_MOVE_MS
      await this.ptz(onvif.goToPreset(device.profile, found.token))
      return this.pollSoon()
    })
  }

  focusOnce = async (): Promise<CameraResult> => CANNOT('focus once when told')
  focusAt = async (): Promise<CameraResult> => CANNOT('focus on a place')
  setDigitalZoom = async (): Promise<CameraResult> => CANNOT('switch its digital zoom')
  followSubject = async (): Promise<CameraResult> => CANNOT('follow a subject by itself')
  freeze = async (): Promise<CameraResult> => CANNOT('hold its picture')

  async readLight(): Promise<Light | null> {
    const { device } = this
    if (!device?.services.imaging) return null
    try {
      return imaging.readImaging(await this.imaging(imaging.getImaging(device.videoSource))).light
    } catch {
      return null
    }
  }

  async setLight(light: Light): Promise<CameraResult> {
    const { device } = this
    if (!device?.services.imaging) return CANNOT('set its exposure and white balance')
    return this.order(() => this.imaging(imaging.setLight(device.videoSource, light)))
  }

  keepWithin(): void {}
  /** Its drives end by themselves after a second. */
  keepOnLeash(): void {}

  readSoon(): void {
    this.polls = 0
    this.pollSoon()
  }

  async close(): Promise<void> {
    this.drive(SPEEDS_AT_REST)
    for (let i = 0; i < 25 && (this.move.stopPending || this.focus.stopPending); i++) {
      await new Promise<void>((resolve) => this.clock.after(20, resolve))
    }
    this.closed = true
    this.move.close()
    this.focus.close()
    this.cancelPoll()
    this.cancelRepeat()
    this.client.close()
  }

  private get zoomEnds(): Ends {
    const curve = this.profile.lens.zoomCurve
    return { min: curve[0]![0], max: curve[curve.length - 1]![0] }
  }

  private axisEnds(axis: 'pan' | 'tilt'): Ends {
    const { minDeg, maxDeg } = this.profile[axis]
    return { min: minDeg, max: maxDeg }
  }

  private toSpace(axis: 'pan' | 'tilt', deg: number): number {
    const { node } = this.device!
    return node!.degrees ? deg : scale(deg, this.axisEnds(axis), node![axis])
  }

  private toDeg(axis: 'pan' | 'tilt', x: number): number {
    const { node } = this.device!
    return node!.degrees ? x : scale(x, node![axis], this.axisEnds(axis))
  }

  private ptz(body: string) {
    return this.link.track(() => this.client.call(this.device!.services.ptz, body))
  }

  private imaging(body: string) {
    return this.link.track(() => this.client.call(this.device!.services.imaging, body))
  }

  private async order(work: () => Promise<unknown>): Promise<CameraResult> {
    try {
      await work()
      return DONE
    } catch (error) {
      const { message, kind } = error as DeviceFault
      return { ok: false, message, refused: kind === 'refused' }
    }
  }

  private async goToFocus(device: OnvifDevice, auto: boolean, focus: number | null): Promise<CameraResult> {
    if (this.reading.focusAuto !== auto) {
      const mode = await this.order(() => this.imaging(imaging.setFocusMode(device.videoSource, auto)))
      if (!mode.ok) return mode
    }
    if (auto || focus === null) return DONE
    const at = scale(focus, this.focusEnds, { min: 0, max: 1 })
    return this.order(() => this.imaging(imaging.focusTo(device.videoSource, at)))
  }

  private get moves(): boolean {
    const { panDegPerSec, tiltDegPerSec, zoomPerSec } = this.held
    return panDegPerSec !== 0 || tiltDegPerSec !== 0 || zoomPerSec !== 0
  }

  private velocity(): onvif.Velocity {
    const { panDegPerSec, tiltDegPerSec, zoomPerSec } = this.held
    const { pan, tilt, zoomSpeedsPerSec } = this.profile
    const share = (speed: number, top: number) =>
      Math.round(within(speed / top, { min: -1, max: 1 }) * 1000) / 1000
    return {
      pan: share(panDegPerSec, topSpeed(pan)),
      tilt: share(tiltDegPerSec, topSpeed(tilt)),
      zoom: share(zoomPerSec, zoomSpeedsPerSec[zoomSpeedsPerSec.length - 1]!),
    }
  }

  /** @param again although nothing changed, since the device stops by itself */
  private sendMove(again: boolean): void {
    const { device } = this
    if (!device?.node) return
    const v = this.velocity()
    const text = JSON.stringify(v)
    const stop = v.pan === 0 && v.tilt === 0 && v.zoom === 0
    if (!again && text === this.lastMove) return
    // What was never driven, or travels, needs no stop.
    if (stop && (this.lastMove === '' || this.lastMove === 'travel')) return
    this.lastMove = text
    this.cancelRepeat()
    const body = stop
      ? onvif.stop(device.profile, { panTilt: true, zoom: true })
      : onvif.continuousMove(device.profile, v, OWN_STOP_S)
    this.move.set({ stop, send: () => this.ptz(body) })
    if (!stop) this.cancelRepeat = this.clock.after(REPEAT_MS, () => this.sendMove(true))
  }

  private sendFocus(speed: number): void {
    const { device } = this
    if (!device?.services.imaging || speed === this.lastFocus) return
    this.lastFocus = speed
    const body =
      speed === 0 ? imaging.stopFocus(device.videoSource) : imaging.moveFocus(device.videoSource, speed)
    this.focus.set({ stop: speed === 0, send: () => this.imaging(body) })
  }

  private lose(): void {
    this.reading = NOTHING_READ
  }

  /** Back again: what it did meanwhile is not known, so it is told how the stick stands now. */
  private regain(): void {
    if (this.lastMove !== '') this.sendMove(true)
    this.polls = 0
  }

  private pollIn(ms: number): void {
    this.cancelPoll()
    if (!this.closed) this.cancelPoll = this.clock.after(ms, () => void this.poll())
  }

  private pollSoon(): void {
    if (!this.polling) this.pollIn(10)
  }

  private async poll(): Promise<void> {
    if (this.polling || this.closed) return
    this.polling = true
    let next = CONNECT_AGAIN_MS
    try {
      if (!this.device) {
        this.device = await this.link.track(() => describeOnvif(this.client))
        this.regain()
      }
      await this.read(this.device)
      const busy =
        this.reading.panTiltMoving || this.reading.zoomMoving || this.clock.now() < this.busyUntilMs
      this.pollingFast = busy || this.moves
      next = this.pollingFast ? POLL_MOVING_MS : POLL_IDLE_MS
    } catch (error) {
      // Whatever it is, the next poll finds out; a device that was set up anew is described anew.
      if ((error as DeviceFault).kind !== 'network') this.device = null
      this.link.check()
      this.events.health()
    }
    this.polling = false
    this.pollIn(next)
  }

  private async read(device: OnvifDevice): Promise<void> {
    if (device.services.imaging && this.polls++ % 6 === 0) {
      const { focusAuto } = imaging.readImaging(await this.imaging(imaging.getImaging(device.videoSource)))
      this.reading = { ...this.reading, focusAuto }
      await this.readFocus(device)
    }
    if (!device.node) return
    const from = this.clock.now()
    const status = onvif.readStatus(await this.ptz(onvif.getStatus(device.profile)))
    this.take(status, (from + this.clock.now()) / 2)
    this.events.reading()
  }

  /** Many devices do not tell: then the focus is not stored, and nothing is lost. */
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
          focus: this.fromFocus(at),
          focusAtMs: (from + this.clock.now()) / 2,
        }
    } catch (error) {
      if ((error as DeviceFault).kind === 'network') throw error
      this.focusUntold = true
    }
  }

  private get focusEnds(): Ends {
    const { near, far } = this.profile.focus
    return { min: far, max: near }
  }

  private fromFocus(at: number): number {
    return Math.round(scale(at, { min: 0, max: 1 }, this.focusEnds))
  }

  private take(status: onvif.PtzStatus, atMs: number): void {
    const { node } = this.device!
    const before = this.reading
    const panDeg = status.pan === null ? null : this.toDeg('pan', status.pan)
    const tiltDeg = status.tilt === null ? null : this.toDeg('tilt', status.tilt)
    const zoom = status.zoom === null ? null : scale(status.zoom, node!.zoom, this.zoomEnds)
    if (panDeg !== before.panDeg || tiltDeg !== before.tiltDeg) this.changedAtMs.panTilt = atMs
    if (zoom !== before.zoom) this.changedAtMs.zoom = atMs
    this.reading = {
      ...before,
      panDeg,
      tiltDeg,
      zoom,
      panTiltMoving: atMs - this.changedAtMs.panTilt < REST_MS,
      zoomMoving: atMs - this.changedAtMs.zoom < REST_MS,
      panTiltAtMs: atMs,
      zoomAtMs: atMs,
      running: status.moving === true,
    }
  }
}
