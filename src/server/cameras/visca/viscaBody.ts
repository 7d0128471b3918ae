/** The driver for devices that speak VISCA: a session on a port, kept fed with inquiries. */
import type { Light } from '../../../core/cameras/light'
import type { Health } from '../../../core/facts/health'
import type { StopOrder } from '../../../core/guardian/stopOrder'
import type { HeadProfile } from '../../../core/heads/profile'
import type { SettingValues } from '../../../core/picture/settings'
import { LEASH_EVERY_MS } from '../../../core/stick/leash'
import { type Bounds, SPEEDS_AT_REST, type Speeds } from '../../../core/stick/speeds'
import type { ViscaCommand } from '../../../core/visca/commands'
import type { Answer, InquiryKind } from '../../../core/visca/inquiries'
import type { FailReason, Lane, SendOptions, SessionEvent } from '../../../core/visca/sessionTypes'
import type { Body, BodyEvents, BodyOrders, Reading, Settings, Traits } from '../body'
import { type CameraResult, DONE } from '../camera'
import type { Clock } from '../clock'
import { stopAnswered } from '../closing'
import { Poller } from '../poller'
import { DriveCommands, isStop } from './driveCommands'
import { LeashDrive } from './leashDrive'
import { LightControl } from './lightControl'
import { type OrderHost, type ViscaParts, viscaOrders, viscaSettings } from './orderTable'
import { commandKey, Outcomes } from './outcomes'
import { subjectLevels } from './ownOrders'
import { PoseKeeper } from './poseKeeper'
import { StopCheck } from './stopCheck'
import { viscaHealth } from './viscaHealth'
import type { ViscaPort } from './viscaPort'
import { reasonText } from './words'

const POLL_MOVING_MS = 50
const POLL_IDLE_MS = 250
/** Every so many polls the slow-changing values are asked too. */
const SLOW_VALUES_EVERY = 4
/** How long after an order to travel the pose is read often, moving or not. */
const EXPECT_MOVE_MS = 1500
/** How long after switching on or off a camera is asked for its power state, ms. */
const POWER_READ_MS = 400
/** Marks a lane of which it is not known what the camera does. */
const UNSURE = 'unsure'
const LANES: readonly Lane[] = ['panTilt', 'zoom', 'focus']

export interface ViscaBodyOptions {
  profile: HeadProfile
  /** As shown to the operator. */
  address: string
  parts: ViscaParts
  /** A round trip beyond this counts as slow, ms: a serial line needs more than a network. */
  slowMs: number
  /** A speed step is held at least this long, ms. */
  holdMs: number
  /** It may still run from before this server began: it is stopped before anything else is sent. */
  suspect?: boolean
}

const moves = ({ panDegPerSec, tiltDegPerSec, zoomPerSec }: Speeds) =>
  panDegPerSec !== 0 || tiltDegPerSec !== 0 || zoomPerSec !== 0

const hex = (n: number) => n.toString(16).padStart(4, '0')

export class ViscaBody implements Body {
  readonly zoomsApart = true
  orders: BodyOrders = {}
  readonly settings: Settings
  private readonly values: SettingValues = {}
  private readonly keeper: PoseKeeper
  private readonly session
  private speeds: Speeds = SPEEDS_AT_REST
  private readonly commands: DriveCommands
  private events: BodyEvents = { reading: () => {}, health: () => {}, notice: () => {} }
  /** The bytes last asked for on each lane, so that only changes are sent. */
  private readonly lastDrive = new Map<Lane, string>()
  /** What was always set in motion from here: after a silence nobody knows whether it still runs. */
  private readonly moved = new Set<Lane>()
  private readonly outcomes: Outcomes
  private readonly light: LightControl
  private freezes: boolean
  private leash: { drive: LeashDrive; bounds: Bounds } | null = null
  private readonly driveIds = new Map<number, Lane>()
  /** Questions that the camera does not know. */
  private readonly unknown = new Set<InquiryKind>()
  private device: string | null = null
  private trouble: string | null = null
  private polls = 0
  /** The next poll is near, so that a drive need not hurry it. */
  private pollingFast = false
  private expectMoveUntilMs = 0
  private readonly stopCheck = new StopCheck()
  private readonly poller: Poller

  constructor(
    private readonly options: ViscaBodyOptions,
    private readonly port: ViscaPort,
    private readonly clock: Clock,
  ) {
    const { profile, holdMs } = options
    this.keeper = new PoseKeeper(profile)
    this.commands = new DriveCommands(profile, holdMs)
    this.session = port.session
    this.outcomes = new Outcomes(port.session, clock)
    this.light = new LightControl(
      (inquiry) => {
        this.session.ask(inquiry, clock.now())
        port.settle()
      },
      (command) => this.order(command, []),
      clock,
    )
    this.freezes = profile.freezes
    this.settings = { specs: options.parts.lens ? viscaSettings(profile) : [], values: this.values }
    this.poller = new Poller(clock, () => this.poll())
    this.orders = this.orderTable()
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
    this.poller.in(0)
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
    return this.keeper.reading(this.outcomes.memoryRuns)
  }

  get traits(): Traits {
    const { profile, parts } = this.options
    const { head, lens } = parts
    return {
      panTilt: head,
      zoom: lens,
      focus: lens,
      position: (!head || this.knows('ptPosition')) && (!lens || this.knows('zoomPosition')),
      subject: head && lens ? subjectLevels(profile) : null,
      memories: profile.memories,
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
    if (moves(speeds) && !this.pollingFast) this.poller.soon()
  }

  halt(): void {
    for (const lane of this.moved) this.lastDrive.set(lane, UNSURE)
    this.drive(SPEEDS_AT_REST)
  }

  readLight(timeoutMs: number): Promise<Light | null> {
    return this.light.read(timeoutMs)
  }

  readSoon(): void {
    this.polls = 0
    this.poller.soon(1)
  }

  async close(): Promise<void> {
    this.drive(SPEEDS_AT_REST)
    await stopAnswered(this.clock, () => this.stopPending)
    this.poller.close()
    this.port.close()
  }

  private knows(kind: InquiryKind): boolean {
    return !this.unknown.has(kind)
  }

  private orderTable(): BodyOrders {
    const { profile, parts } = this.options
    const body = this
    const host: OrderHost = {
      profile,
      parts,
      get reading() {
        return body.reading
      },
      knows: (kind) => this.knows(kind),
      travels: (...lanes) => this.travels(...lanes),
      queue: (command, lanes) => this.outcomes.queue(command, lanes),
      settle: () => {
        this.port.settle()
        this.poller.soon()
      },
      setValue: (key, on) => {
        this.values[key] = on
        this.events.health()
      },
    }
    const orders = viscaOrders(host, (command, lanes) => this.order(command, lanes))
    if (parts.lens && this.knows('exposureMode') && this.knows('whiteBalance'))
      orders.light = (light) => this.light.apply(light)
    if (parts.lens && this.freezes) orders.freeze = (on) => this.freeze(on)
    if (parts.head && profile.retargets && this.knows('ptPosition'))
      orders.keepOnLeash = async (bounds) => this.keepOnLeash(bounds)
    return orders
  }

  private async freeze(on: boolean): Promise<CameraResult> {
    const result = await this.order({ kind: 'freeze', on }, [])
    if (!result.ok && result.unknown) {
      this.freezes = false
      this.abilitiesChanged()
    }
    return result
  }

  private keepOnLeash(bounds: Bounds | null): CameraResult {
    const { profile, holdMs } = this.options
    this.leash = bounds && { drive: this.leash?.drive ?? new LeashDrive(profile), bounds }
    this.commands.holdMs = this.leash ? LEASH_EVERY_MS : holdMs
    return DONE
  }

  /** The drive as it is sent; null if the leash has nothing new to say yet. */
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

  /** It is about to move without a hand; on these lanes the travel takes the place of what the stick did. */
  private travels(...lanes: Lane[]): void {
    for (const lane of lanes) {
      this.lastDrive.delete(lane)
      this.moved.add(lane)
    }
    this.stopCheck.sent()
    this.expectMoveUntilMs = this.clock.now() + EXPECT_MOVE_MS
  }

  private order(command: ViscaCommand, lanes: readonly Lane[]): Promise<CameraResult> {
    const result = this.outcomes.queue(command, lanes)
    this.port.settle()
    this.readSoon()
    if (command.kind === 'power')
      void result.then(() => this.clock.after(POWER_READ_MS, () => this.readSoon()))
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
        this.outcomes.accepted(event.id)
        return
      }
      case 'superseded':
        this.driveIds.delete(event.id)
        this.outcomes.ended(event.id)
        return
      case 'failed':
        this.failed(event.id, event.reason)
        return
      case 'completed':
        this.outcomes.ended(event.id)
        this.poller.soon()
    }
  }

  /** The camera does not know this question: what it may have answered before counts no longer. */
  private learnUnknown(inquiry: InquiryKind): void {
    this.unknown.add(inquiry)
    if (inquiry === 'ptPosition' || inquiry === 'zoomPosition') this.keeper.forget()
    this.abilitiesChanged()
    this.events.reading()
  }

  private abilitiesChanged(): void {
    this.orders = this.orderTable()
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
    this.outcomes.failed(id, reason)
  }

  private lose(): void {
    this.outcomes.forget()
    for (const lane of this.moved) this.lastDrive.set(lane, UNSURE)
  }

  /** Back again: what is wanted now is sent again, which is a stop where no hand is on it. */
  private regain(): void {
    this.unknown.clear()
    this.freezes = this.options.profile.freezes
    this.orders = this.orderTable()
    if ([...this.lastDrive.values()].includes(UNSURE)) this.drive(this.speeds)
    this.session.ask('version', this.clock.now())
    this.readSoon()
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

  private poll(): number {
    const now = this.clock.now()
    const { head, lens } = this.options.parts
    const ask = (kind: InquiryKind) => this.knows(kind) && this.session.ask(kind, now)
    if (head) ask('ptPosition')
    if (lens) ask('zoomPosition')
    if (this.polls++ % SLOW_VALUES_EVERY === 0) {
      ask('power')
      if (lens) ask('focusMode')
      if (lens) ask('focusPosition')
    }
    this.port.settle()
    this.pollingFast = moves(this.speeds) || this.keeper.moving || now < this.expectMoveUntilMs
    return this.pollingFast ? POLL_MOVING_MS : POLL_IDLE_MS
  }
}
