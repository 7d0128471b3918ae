/** The driver for devices that speak VISCA: a session on a port, kept fed with inquiries. */
import { degToUnits, type HeadProfile } from '../../../core/heads/profile'
import type { Capabilities, Health } from '../../../core/live/messages'
import { DEFAULT_FEEL } from '../../../core/stick/shape'
import { encodeCommand, type ViscaCommand } from '../../../core/visca/commands'
import type { Answer, InquiryKind } from '../../../core/visca/inquiries'
import type { FailReason, Lane, SendOptions, SessionEvent } from '../../../core/visca/sessionTypes'
import type { Body, BodyEvents, Goal, Reading, View } from '../body'
import { type CameraResult, DONE, STICKS_AT_REST, type Sticks } from '../camera'
import type { Clock } from '../clock'
import { driveCommands, isStop } from './driveCommands'
import { PoseKeeper } from './poseKeeper'
import type { ViscaPort } from './viscaPort'
import { CONNECTING, reasonText, SILENT, SLOW, STANDBY } from './words'

const POLL_MOVING_MS = 50
const POLL_IDLE_MS = 250
/** Every so many polls the slow-changing values are asked too. */
const SLOW_VALUES_EVERY = 4
/** So long after an order to travel the pose is read often, moving or not. */
const EXPECT_MOVE_MS = 1500
/** A head that still moves this long after a stop was acknowledged is told again. */
const STOP_CHECK_MS = 600
const STOP_CHECK_UNTIL_MS = 1600
const MAX_STOP_REPEATS = 3
/** A camera that says nothing to an order to switch on or off needs this long, ms. */
const POWER_READ_MS = 400
/** Marks a lane of which it is not known what the camera does. */
const UNSURE = 'unsure'
const SLOW_LOSS = 0.12
const LANES: readonly Lane[] = ['panTilt', 'zoom', 'focus']

/** Which parts of a camera this device is; a rig's head has no lens. */
export interface ViscaParts {
  head: boolean
  lens: boolean
}

export interface ViscaBodyOptions {
  profile: HeadProfile
  /** As the operator reads it. */
  address: string
  parts: ViscaParts
  /** A round trip beyond this counts as slow, ms: a serial line needs more than a network. */
  slowMs: number
}

const hex = (n: number) => n.toString(16).padStart(4, '0')
const key = (command: ViscaCommand) => encodeCommand(command).join()

export class ViscaBody implements Body {
  private readonly keeper: PoseKeeper
  private readonly session
  private sticks: Sticks = STICKS_AT_REST
  private events: BodyEvents = { reading: () => {}, health: () => {}, notice: () => {} }
  /** The bytes last asked for on each lane, so that only changes are sent. */
  private readonly lastDrive = new Map<Lane, string>()
  /** What was ever set in motion from here: after a silence nobody knows whether it still runs. */
  private readonly moved = new Set<Lane>()
  private readonly outcomes = new Map<number, (result: CameraResult) => void>()
  private readonly driveIds = new Map<number, Lane>()
  /** Questions that the camera does not know. */
  private readonly unknown = new Set<InquiryKind>()
  private device: string | null = null
  private view: View = { hfovDeg: 60, wideHfovDeg: 60 }
  private trouble: string | null = null
  private polls = 0
  private expectMoveUntilMs = 0
  private stopAcknowledgedMs: number | null = null
  private stopRepeats = 0
  private cancelPoll: () => void = () => {}
  private closed = false

  constructor(
    private readonly options: ViscaBodyOptions,
    private readonly port: ViscaPort,
    private readonly clock: Clock,
  ) {
    this.keeper = new PoseKeeper(options.profile)
    this.session = port.session
    port.onEvents((events) => {
      for (const event of events) this.handle(event)
    })
    port.onTrouble((trouble) => {
      this.trouble = trouble
      this.events.health()
    })
    this.poll()
  }

  listen(events: BodyEvents): void {
    this.events = events
  }

  get reading(): Reading {
    return this.keeper.reading
  }

  get capabilities(): Capabilities {
    const { head, lens } = this.options.parts
    const knows = (kind: InquiryKind) => !this.unknown.has(kind)
    return {
      panTilt: head,
      zoom: lens,
      focus: lens,
      focusMode: lens && knows('focusMode'),
      position: (!head || knows('ptPosition')) && (!lens || knows('zoomPosition')),
      power: knows('power'),
      home: head,
      memories: this.options.profile.memories,
      device: this.device,
    }
  }

  get health(): Health {
    const { session } = this
    const state = this.linkState()
    const advice = {
      connecting: this.trouble ?? CONNECTING(this.options.address),
      silent: this.trouble ?? SILENT,
      standby: STANDBY,
      slow: SLOW,
      ready: null,
      refused: null,
      unheard: null,
    }[state]
    return {
      state,
      advice,
      roundTripMs:
        session.stats.roundTripMs === null ? null : Math.round(session.stats.roundTripMs * 10) / 10,
      loss: Math.round(session.stats.loss * 1000) / 1000,
      silentMs: session.lastAnswerMs === null ? null : Math.round(this.clock.now() - session.lastAnswerMs),
      reconnects: session.reconnects,
    }
  }

  drive(sticks: Sticks, view: View): void {
    this.sticks = sticks
    this.view = view
    const commands = driveCommands(sticks, this.options.profile, view, DEFAULT_FEEL)
    const { head, lens } = this.options.parts
    for (const lane of LANES) {
      if (lane === 'panTilt' ? head : lens) this.driveLane(lane, commands[lane])
    }
    this.port.settle()
    if (sticks.pan || sticks.tilt || sticks.zoom) this.pollSoon()
  }

  private driveLane(lane: Lane, command: ViscaCommand): void {
    const bytes = key(command)
    const stop = isStop(command)
    const last = this.lastDrive.get(lane)
    // A lane that was never driven needs no stop.
    if (last === bytes || (stop && last === undefined)) return
    this.lastDrive.set(lane, bytes)
    if (!stop) {
      this.moved.add(lane)
      this.stopAcknowledgedMs = null
      this.stopRepeats = 0
    }
    const options: SendOptions = { lanes: [lane], urgency: stop ? 'stop' : 'drive' }
    this.driveIds.set(this.session.send(command, options, this.clock.now()), lane)
  }

  async goTo(goal: Goal): Promise<CameraResult> {
    const { profile, parts } = this.options
    this.stopAcknowledgedMs = null
    this.expectMoveUntilMs = this.clock.now() + EXPECT_MOVE_MS
    const orders: Promise<CameraResult>[] = []
    if (parts.head && goal.panDeg !== undefined && goal.tiltDeg !== undefined) {
      this.takeOver('panTilt')
      orders.push(
        this.queue(
          {
            kind: 'ptAbsolute',
            panStep: profile.pan.speedsDegPerSec.length,
            tiltStep: profile.tilt.speedsDegPerSec.length,
            pan: degToUnits(profile.pan, goal.panDeg),
            tilt: degToUnits(profile.tilt, goal.tiltDeg),
          },
          ['panTilt'],
        ),
      )
    }
    if (parts.lens && goal.zoom !== undefined) {
      this.takeOver('zoom')
      orders.push(this.queue({ kind: 'zoomTo', position: Math.round(goal.zoom) }, ['zoom']))
    }
    if (parts.lens && goal.focusAuto !== undefined) {
      const focus = this.goToFocus(goal.focusAuto, goal.focus ?? null)
      if (focus) orders.push(focus)
    }
    this.port.settle()
    this.pollSoon()
    return (await Promise.all(orders)).find((result) => !result.ok) ?? DONE
  }

  /** A travel takes the place of what the stick did there. */
  private takeOver(lane: Lane): void {
    this.lastDrive.delete(lane)
    this.moved.add(lane)
  }

  /** A camera that is busy with both its sockets takes a mode only later, so none is sent without need. */
  private goToFocus(focusAuto: boolean, focus: number | null): Promise<CameraResult> | null {
    const goTo = (position: number) => this.queue({ kind: 'focusTo', position }, ['focus'])
    if (this.unknown.has('focusMode')) return null
    if (this.reading.focusAuto === focusAuto) return focusAuto || focus === null ? null : goTo(focus)
    const mode = this.queue({ kind: 'focusMode', auto: focusAuto }, [])
    if (focusAuto || focus === null) return mode
    return mode.then((result) => {
      if (!result.ok) return result
      const going = goTo(focus)
      this.port.settle()
      return going
    })
  }

  setFocusMode(auto: boolean): Promise<CameraResult> {
    return this.order({ kind: 'focusMode', auto }, [])
  }

  async setPower(on: boolean): Promise<CameraResult> {
    const result = await this.order({ kind: 'power', on }, [])
    this.clock.after(POWER_READ_MS, () => this.readSoon())
    return result
  }

  home(): Promise<CameraResult> {
    this.takeOver('panTilt')
    this.stopAcknowledgedMs = null
    this.expectMoveUntilMs = this.clock.now() + EXPECT_MOVE_MS
    return this.order({ kind: 'ptHome' }, ['panTilt'])
  }

  readSoon(): void {
    this.pollSoon(true)
  }

  /** Stops the head and gives the stop a moment to be answered. */
  async close(): Promise<void> {
    this.drive(STICKS_AT_REST, this.view)
    for (let i = 0; i < 25 && this.session.stopPending; i++) {
      await new Promise<void>((resolve) => this.clock.after(20, resolve))
    }
    this.closed = true
    this.cancelPoll()
    this.port.close()
  }

  private order(command: ViscaCommand, lanes: readonly Lane[]): Promise<CameraResult> {
    const result = this.queue(command, lanes)
    this.port.settle()
    this.pollSoon(true)
    return result
  }

  private queue(command: ViscaCommand, lanes: readonly Lane[]): Promise<CameraResult> {
    const id = this.session.send(command, { lanes, urgency: 'queued' }, this.clock.now())
    return new Promise((resolve) => this.outcomes.set(id, resolve))
  }

  private handle(event: SessionEvent): void {
    switch (event.type) {
      case 'answer':
        this.take(event.answer, event.trueAtMs)
        return
      case 'unanswered':
        if (event.reason === 'syntax') this.unknown.add(event.inquiry)
        return
      case 'state':
        this.keeper.forget()
        if (event.state === 'ready') this.regain()
        else this.lose()
        this.events.health()
        return
      case 'accepted': {
        const lane = this.driveIds.get(event.id)
        this.driveIds.delete(event.id)
        const atRest = !this.sticks.pan && !this.sticks.tilt && !this.sticks.zoom
        if (lane && atRest) this.stopAcknowledgedMs = event.atMs
        this.resolve(event.id, { ok: true })
        return
      }
      case 'superseded':
        this.driveIds.delete(event.id)
        this.resolve(event.id, { ok: true })
        return
      case 'failed':
        this.failed(event.id, event.reason)
        return
      case 'completed':
        this.pollSoon()
    }
  }

  private take(answer: Answer, atMs: number): void {
    if (answer.kind === 'version') this.device = `VISCA device ${hex(answer.maker)}-${hex(answer.model)}`
    const power = this.keeper.power
    this.keeper.take(answer, atMs)
    if (this.keeper.moving) this.checkStop(this.clock.now())
    if (power !== this.keeper.power) this.events.health()
    this.events.reading()
  }

  private resolve(id: number, result: CameraResult): void {
    this.outcomes.get(id)?.(result)
    this.outcomes.delete(id)
  }

  private failed(id: number, reason: FailReason): void {
    const lane = this.driveIds.get(id)
    if (lane) {
      this.driveIds.delete(id)
      // It may have acted: the next stick message or stop is sent whatever it says.
      this.lastDrive.set(lane, UNSURE)
      if (reason !== 'silent') this.events.notice(reasonText(reason))
    }
    this.resolve(id, { ok: false, message: reasonText(reason) })
  }

  private lose(): void {
    for (const lane of this.moved) this.lastDrive.set(lane, UNSURE)
  }

  /** Back again: the sticks as they are now are sent anew, which is a stop where no hand is on them. */
  private regain(): void {
    this.unknown.clear()
    this.session.ask('version', this.clock.now())
    this.pollSoon(true)
    if ([...this.lastDrive.values()].includes(UNSURE)) this.drive(this.sticks, this.view)
  }

  /** A stop that was overtaken on the way by an older drive would leave the head running. */
  private checkStop(now: number): void {
    const since = this.stopAcknowledgedMs === null ? null : now - this.stopAcknowledgedMs
    if (since === null || since < STOP_CHECK_MS) return
    this.stopAcknowledgedMs = null
    // Later than this it is somebody else who moves the head.
    if (since > STOP_CHECK_UNTIL_MS || this.stopRepeats >= MAX_STOP_REPEATS) return
    this.stopRepeats += 1
    for (const lane of ['panTilt', 'zoom'] as const) this.lastDrive.set(lane, UNSURE)
    this.drive(this.sticks, this.view)
  }

  private poll(): void {
    if (this.closed) return
    const now = this.clock.now()
    const { head, lens } = this.options.parts
    const ask = (kind: InquiryKind) => !this.unknown.has(kind) && this.session.ask(kind, now)
    if (head) ask('ptPosition')
    if (lens) ask('zoomPosition')
    if (this.polls++ % SLOW_VALUES_EVERY === 0) {
      ask('power')
      if (lens) ask('focusMode')
      if (lens) ask('focusPosition')
    }
    this.port.settle()
    const { pan, tilt, zoom } = this.sticks
    const busy = pan || tilt || zoom || this.keeper.moving || now < this.expectMoveUntilMs
    this.cancelPoll()
    this.cancelPoll = this.clock.after(busy ? POLL_MOVING_MS : POLL_IDLE_MS, () => this.poll())
  }

  private pollSoon(everything = false): void {
    if (everything) this.polls = 0
    this.cancelPoll()
    this.cancelPoll = this.clock.after(everything ? 1 : 10, () => this.poll())
  }

  private linkState(): Health['state'] {
    const { session } = this
    if (session.state !== 'ready') return session.state
    if (!this.keeper.power) return 'standby'
    const slow = (session.stats.roundTripMs ?? 0) > this.options.slowMs || session.stats.loss > SLOW_LOSS
    return slow ? 'slow' : 'ready'
  }
}
