/** The driver for devices that speak VISCA: a session on a port, kept fed with inquiries. */

import type { Light } from '../../../core/cameras/light'
import type { StopOrder } from '../../../core/guardian/stopOrder'
import { degToUnits, type HeadProfile } from '../../../core/heads/profile'
import type { Capabilities, Health } from '../../../core/live/messages'
import { LEASH_EVERY_MS } from '../../../core/stick/leash'
import { type Bounds, SPEEDS_AT_REST, type Speeds } from '../../../core/stick/speeds'
import type { ViscaCommand } from '../../../core/visca/commands'
import type { Answer, InquiryKind } from '../../../core/visca/inquiries'
import type { FailReason, Lane, SendOptions, SessionEvent } from '../../../core/visca/sessionTypes'
import type { Body, BodyEvents, Goal, Reading } from '../body'
import { CANNOT, type CameraResult, DONE, type MemoryAction, type SubjectOrder } from '../camera'
import type { Clock } from '../clock'
import { DriveCommands, isStop } from './driveCommands'
import { LeashDrive } from './leashDrive'
import { LightControl } from './lightControl'
import { commandKey, ViscaOrders } from './orders'
import { focusAtCommand, limitCommands, subjectCommands, subjectLevels } from './ownOrders'
import { PoseKeeper } from './poseKeeper'
import { StopCheck } from './stopCheck'
import { focusOrders, travelStep } from './travelOrders'
import { viscaHealth } from './viscaHealth'
import type { ViscaPort } from './viscaPort'
import { reasonText } from './words'

const POLL_MOVING_MS = 50
const POLL_IDLE_MS = 250
/** Every so many polls the slow-changing values are asked too. */
const SLOW_VALUES_EVERY = 4
/** So long after an order to travel the pose is read often, moving or not. */
const EXPECT_MOVE_MS = 1500
/** A camera that says nothing to an order to switch on or off needs this long, ms. */
const POWER_READ_MS = 400
/** Marks a lane of which it is not known what the camera does. */
const UNSURE = 'unsure'
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
  /** A speed step is held at least so long, ms. */
  holdMs: number
  /** It may still run from before this server began: it is stopped before anything else is sent. */
  suspect?: boolean
}

const moves = ({ panDegPerSec, tiltDegPerSec, zoomPerSec }: Speeds) =>
  panDegPerSec !== 0 || tiltDegPerSec !== 0 || zoomPerSec !== 0

const hex = (n: number) => n.toString(16).padStart(4, '0')

export class ViscaBody implements Body {
  readonly zoomsApart = true
  private readonly keeper: PoseKeeper
  private readonly session
  private speeds: Speeds = SPEEDS_AT_REST
  private readonly commands: DriveCommands
  private events: BodyEvents = { reading: () => {}, health: () => {}, notice: () => {} }
  /** The bytes last asked for on each lane, so that only changes are sent. */
  private readonly lastDrive = new Map<Lane, string>()
  /** What was ever set in motion from here: after a silence nobody knows whether it still runs. */
  private readonly moved = new Set<Lane>()
  private readonly orders: ViscaOrders
  private readonly light: LightControl
  private freezes: boolean
  private leash: { drive: LeashDrive; bounds: Bounds } | null = null
  private readonly driveIds = new Map<number, Lane>()
  /** Questions that the camera does not know. */
  private readonly unknown = new Set<InquiryKind>()
  private device: string | null = null
  private trouble: string | null = null
  private polls = 0
  /** The next look at where it stands is near, so that a drive need not hurry it. */
  private pollingFast = false
  private expectMoveUntilMs = 0
  private readonly stopCheck = new StopCheck()
  private cancelPoll: () => void = () => {}
  private closed = false

  constructor(
    private readonly options: ViscaBodyOptions,
    private readonly port: ViscaPort,
    private readonly clock: Clock,
  ) {
    this.keeper = new PoseKeeper(options.profile)
    this.commands = new DriveCommands(options.profile, options.holdMs)
    this.session = port.session
    this.orders = new ViscaOrders(port.session, clock)
    this.light = new LightControl(
      (inquiry) => {
        this.session.ask(inquiry, clock.now())
        port.settle()
      },
      (command) => this.order(command, []),
      clock,
    )
    this.freezes = options.profile.freezes
    if (options.suspect) for (const lane of LANES) this.suspectLane(lane)
    port.onEvents((events) => {
      for (const event of events) this.handle(event)
    })
    port.onTrouble((trouble) => {
      this.trouble = trouble
      this.events.health()
    })
    // A shared line may have been ready before this driver came to it.
    if (port.session.state === 'ready') this.regain()
    this.poll()
  }

  listen(events: BodyEvents): void {
    this.events = events
  }

  stops(): StopOrder[] {
    return this.port.stops(this.options.parts)
  }

  get stopPending(): boolean {
    return this.session.stopPending
  }

  get reading(): Reading {
    return { ...this.keeper.reading, running: this.orders.memoryRuns }
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
      onePush: lens,
      focusAt: lens && !!this.options.profile.extras?.focusAt,
      digitalZoom: lens && !!this.options.profile.lens.digital,
      subject: head && lens ? subjectLevels(this.options.profile) : null,
      memories: this.options.profile.memories,
      light: lens && knows('exposureMode') && knows('whiteBalance'),
      freeze: lens && this.freezes,
      leash: head && this.options.profile.retargets && knows('ptPosition'),
      device: this.device,
    }
  }

  get health(): Health {
    const { address, slowMs } = this.options
    const { trouble, keeper, clock } = this
    return viscaHealth(this.session, { trouble, address, power: keeper.power, slowMs, nowMs: clock.now() })
  }

  drive(speeds: Speeds, refines = false): void {
    this.speeds = speeds
    const commands = this.commands.next(speeds, this.clock.now())
    const { head, lens } = this.options.parts
    for (const lane of LANES) {
      if (!(lane === 'panTilt' ? head : lens)) continue
      const command = this.onLeash(lane, commands[lane], speeds)
      if (command) this.driveLane(lane, command, refines)
    }
    this.port.settle()
    if (moves(speeds) && !this.pollingFast) this.pollSoon()
  }

  /** The drive as it is sent; null where the leash has nothing new to say yet. */
  private onLeash(lane: Lane, drive: ViscaCommand, speeds: Speeds): ViscaCommand | null {
    if (!this.leash) return drive
    const nowMs = this.clock.now()
    return this.leash.drive.next(lane, drive, speeds, {
      reading: this.reading,
      bounds: this.leash.bounds,
      nowMs,
    })
  }

  private driveLane(lane: Lane, command: ViscaCommand, refines: boolean): void {
    const bytes = commandKey(command)
    const stop = isStop(command)
    const last = this.lastDrive.get(lane)
    // A lane that was never driven needs no stop.
    if (last === bytes || (stop && last === undefined)) return
    this.lastDrive.set(lane, bytes)
    if (!stop) {
      this.moved.add(lane)
      this.stopCheck.driven()
    }
    const options: SendOptions = { lanes: [lane], urgency: stop ? 'stop' : 'drive', refines }
    this.driveIds.set(this.session.send(command, options, this.clock.now()), lane)
  }

  halt(): void {
    for (const lane of this.moved) this.lastDrive.set(lane, UNSURE)
    this.drive(SPEEDS_AT_REST)
  }

  async goTo(goal: Goal): Promise<CameraResult> {
    const { profile, parts } = this.options
    this.travels()
    const orders: Promise<CameraResult>[] = []
    const from = this.reading
    if (parts.head && goal.panDeg !== undefined && goal.tiltDeg !== undefined) {
      this.takeOver('panTilt')
      orders.push(
        this.orders.queue(
          {
            kind: 'ptAbsolute',
            panStep: travelStep(profile.pan, from.panDeg, goal.panDeg, goal.seconds),
            tiltStep: travelStep(profile.tilt, from.tiltDeg, goal.tiltDeg, goal.seconds),
            pan: degToUnits(profile.pan, goal.panDeg),
            tilt: degToUnits(profile.tilt, goal.tiltDeg),
          },
          ['panTilt'],
        ),
      )
    }
    if (parts.lens && goal.zoom !== undefined) {
      this.takeOver('zoom')
      orders.push(this.orders.queue({ kind: 'zoomTo', position: Math.round(goal.zoom) }, ['zoom']))
    }
    if (parts.lens && goal.focusAuto !== undefined) {
      const to = { auto: goal.focusAuto, focus: goal.focus ?? null }
      const queue = (command: ViscaCommand, lanes: readonly Lane[]) => this.orders.queue(command, lanes)
      const focus = this.unknown.has('focusMode')
        ? null
        : focusOrders(from, to, queue, () => this.port.settle())
      if (focus) orders.push(focus)
    }
    this.port.settle()
    this.pollSoon()
    return (await Promise.all(orders)).find((result) => !result.ok) ?? DONE
  }

  /** It is about to move without a hand, on these lanes at least. */
  private travels(...lanes: Lane[]): void {
    for (const lane of lanes) this.takeOver(lane)
    this.stopCheck.sent()
    this.expectMoveUntilMs = this.clock.now() + EXPECT_MOVE_MS
  }

  /** A travel takes the place of what the stick did there. */
  private takeOver(lane: Lane): void {
    this.lastDrive.delete(lane)
    this.moved.add(lane)
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
    this.travels('panTilt')
    return this.order({ kind: 'ptHome' }, ['panTilt'])
  }

  async memory(action: MemoryAction, number: number): Promise<CameraResult> {
    const command: ViscaCommand = { kind: 'memory', action, slot: number - 1 }
    if (action === 'set') return this.order(command, [])
    this.travels('panTilt', 'zoom')
    const result = await this.order(command, ['panTilt', 'zoom', 'focus'])
    // What a camera says to an empty memory too: it has no answer of its own for that.
    return !result.ok && result.refused
      ? {
          ...result,
          message: `The camera refused its memory ${number}. Nothing may be stored in it yet.`,
        }
      : result
  }

  focusOnce(): Promise<CameraResult> {
    return this.order({ kind: 'focusOnePush' }, ['focus'])
  }

  focusAt(x: number, y: number): Promise<CameraResult> {
    const command = focusAtCommand(this.options.profile, x, y)
    return command ? this.order(command, ['focus']) : Promise.resolve(CANNOT('focus on a place'))
  }

  setDigitalZoom(on: boolean): Promise<CameraResult> {
    return this.order({ kind: 'digitalZoom', on }, [])
  }

  async followSubject(subject: SubjectOrder): Promise<CameraResult> {
    const commands = subjectCommands(this.options.profile, subject)
    if (!commands) return CANNOT('follow a subject by itself')
    for (const command of commands) {
      const result = await this.order(command, [])
      if (!result.ok) return result
    }
    if (subject.on) for (const lane of ['panTilt', 'zoom'] as const) this.takeOver(lane)
    return DONE
  }

  readLight(timeoutMs: number): Promise<Light | null> {
    return this.light.read(timeoutMs)
  }

  setLight(light: Light): Promise<CameraResult> {
    return this.light.apply(light)
  }

  async freeze(on: boolean): Promise<CameraResult> {
    const result = await this.order({ kind: 'freeze', on }, [])
    if (!result.ok && result.unknown) {
      this.freezes = false
      this.events.health()
    }
    return result
  }

  keepWithin(bounds: Bounds, limited: boolean): void {
    if (!this.options.parts.head) return
    // A head that does not know limits says so; ours are kept here all the same.
    for (const command of limitCommands(this.options.profile, bounds, limited)) void this.order(command, [])
  }

  keepOnLeash(bounds: Bounds | null): void {
    const { profile, parts } = this.options
    if (!bounds || !parts.head || !profile.retargets) this.leash = null
    else this.leash = { drive: this.leash?.drive ?? new LeashDrive(profile), bounds }
    this.commands.holdMs = this.leash ? LEASH_EVERY_MS : this.options.holdMs
  }

  readSoon(): void {
    this.pollSoon(true)
  }

  /** Stops the head and gives the stop a moment to be answered. */
  async close(): Promise<void> {
    this.drive(SPEEDS_AT_REST)
    for (let i = 0; i < 25 && this.session.stopPending; i++) {
      await new Promise<void>((resolve) => this.clock.after(20, resolve))
    }
    this.closed = true
    this.cancelPoll()
    this.port.close()
  }

  private order(command: ViscaCommand, lanes: readonly Lane[]): Promise<CameraResult> {
    const result = this.orders.queue(command, lanes)
    this.port.settle()
    this.pollSoon(true)
    return result
  }

  private handle(event: SessionEvent): void {
    switch (event.type) {
      case 'answer':
        this.take(event.answer, event.trueAtMs)
        return
      case 'unanswered':
        if (event.reason === 'syntax') this.learnUnknown(event.inquiry)
        this.light.missed(event.inquiry)
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
        if (lane && !moves(this.speeds)) this.stopCheck.acknowledged(event.atMs)
        this.orders.accepted(event.id)
        return
      }
      case 'superseded':
        this.driveIds.delete(event.id)
        this.orders.ended(event.id)
        return
      case 'failed':
        this.failed(event.id, event.reason)
        return
      case 'completed':
        this.orders.ended(event.id)
        this.pollSoon()
    }
  }

  /** The camera does not know this question: what it may have answered before counts no longer. */
  private learnUnknown(inquiry: InquiryKind): void {
    this.unknown.add(inquiry)
    if (inquiry === 'ptPosition' || inquiry === 'zoomPosition') this.keeper.forget()
    this.events.reading()
    this.events.health()
  }

  private take(answer: Answer, atMs: number): void {
    if (answer.kind === 'version') this.device = `VISCA device ${hex(answer.maker)}-${hex(answer.model)}`
    this.light.take(answer)
    const power = this.keeper.power
    this.keeper.take(answer, atMs)
    if (this.keeper.moving && this.stopCheck.seenMoving(this.clock.now())) this.stopAgain()
    if (power !== this.keeper.power) this.events.health()
    this.events.reading()
  }

  private failed(id: number, reason: FailReason): void {
    const lane = this.driveIds.get(id)
    if (lane) {
      this.driveIds.delete(id)
      // It may have acted: the next stick message or stop is sent whatever it says.
      this.lastDrive.set(lane, UNSURE)
      if (reason !== 'silent') this.events.notice(reasonText(reason))
    }
    this.orders.failed(id, reason)
  }

  private lose(): void {
    this.orders.forget()
    for (const lane of this.moved) this.lastDrive.set(lane, UNSURE)
  }

  /** Back again: what is wanted now is sent anew, which is a stop where no hand is on them. */
  private regain(): void {
    this.unknown.clear()
    this.freezes = this.options.profile.freezes
    if ([...this.lastDrive.values()].includes(UNSURE)) this.drive(this.speeds)
    this.session.ask('version', this.clock.now())
    this.pollSoon(true)
  }

  /** What it does is not known: the next thing it is told is how the stick stands. */
  private suspectLane(lane: Lane): void {
    this.moved.add(lane)
    this.lastDrive.set(lane, UNSURE)
  }

  private stopAgain(): void {
    for (const lane of ['panTilt', 'zoom'] as const) this.lastDrive.set(lane, UNSURE)
    this.drive(this.speeds)
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
    const busy = moves(this.speeds) || this.keeper.moving || now < this.expectMoveUntilMs
    this.pollingFast = busy
    this.cancelPoll()
    this.cancelPoll = this.clock.after(busy ? POLL_MOVING_MS : POLL_IDLE_MS, () => this.poll())
  }

  private pollSoon(everything = false): void {
    if (everything) this.polls = 0
    this.cancelPoll()
    this.cancelPoll = this.clock.after(everything ? 1 : 10, () => this.poll())
  }
}
