/** The driver for devices that speak VISCA: a session on a port, kept fed with inquiries. */

import type { Light } from '../../../core/cameras/light'
import type { Health } from '../../../core/facts/health'
import type { StopOrder } from '../../../core/guardian/stopOrder'
import { type HeadProfile, lacks } from '../../../core/heads/profile'
import { deviceWords } from '../../../core/heads/version'
import { MENU } from '../../../core/picture/settings'
import { SPEEDS_AT_REST, type Speeds } from '../../../core/stick/speeds'
import type { ViscaCommand } from '../../../core/visca/commands'
import { type Answer, type InquiryKind, isControl } from '../../../core/visca/inquiries'
import { quirkWords } from '../../../core/visca/quirks'
import type { FailReason, Lane, SessionEvent } from '../../../core/visca/sessionTypes'
import {
  type Body,
  type BodyEvents,
  type BodyOrders,
  NO_SETTINGS,
  type Reading,
  type Settings,
  type Traits,
} from '../body'
import { type CameraResult, DONE } from '../camera'
import type { Clock } from '../clock'
import { stopAnswered } from '../closing'
import { Poller } from '../poller'
import { CameraMenu } from './cameraMenu'
import { DriveLanes, LANES } from './driveLanes'
import { HeadControls } from './headControls'
import { LightControl } from './lightControl'
import { type OrderHost, type ViscaParts, viscaOrders } from './orderTable'
import { Outcomes } from './outcomes'
import { subjectLevels } from './ownOrders'
import { PoseKeeper } from './poseKeeper'
import { TallyLamp } from './tallyLamp'
import { viscaHealth } from './viscaHealth'
import type { ViscaPort } from './viscaPort'
import { reasonText } from './words'

const POLL_MOVING_MS = 50
const POLL_IDLE_MS = 250
/** A poll asks two questions, and leaves as much room for a hand. */
const QUESTIONS_TO_GAPS = 3
/** While it is only turned, its zoom is looked at no more often than this, ms. */
const ZOOM_LOOK_MS = 300
/** Every so many polls the slow-changing values are asked too. */
const SLOW_VALUES_EVERY = 4
/** The same while it moves: then it matters where it is. */
const SLOW_VALUES_EVERY_MOVING = 16
/** How long after an order to travel the pose is read often, moving or not. */
const EXPECT_MOVE_MS = 1500
/** How long after switching on or off a camera is asked for its power state, ms. */
const POWER_READ_MS = 400
/** Every so many polls one of its named controls is read, if none waits to be known. */
const CONTROL_EVERY = 4
/** The same while it moves. */
const CONTROL_EVERY_MOVING = 32
const NOT_ASKED = (profile: HeadProfile): readonly InquiryKind[] => {
  const kinds: [Parameters<typeof lacks>[1], InquiryKind][] = [
    ['power', 'power'],
    ['focus', 'focusPosition'],
    ['focusMode', 'focusMode'],
    ['panTiltPosition', 'ptPosition'],
    ['zoomPosition', 'zoomPosition'],
  ]
  return kinds.flatMap(([what, kind]) => (lacks(profile, what) ? [kind] : []))
}

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

const turns = ({ panDegPerSec, tiltDegPerSec }: Speeds) => panDegPerSec !== 0 || tiltDegPerSec !== 0
const moves = (speeds: Speeds) => turns(speeds) || speeds.zoomPerSec !== 0
const turnsOnly = (speeds: Speeds) => turns(speeds) && speeds.zoomPerSec === 0

export class ViscaBody implements Body {
  readonly zoomsApart = true
  readonly homeAtZero = true
  orders: BodyOrders = {}
  private readonly keeper: PoseKeeper
  private readonly session
  private speeds: Speeds = SPEEDS_AT_REST
  private readonly lanes: DriveLanes
  private readonly controls: HeadControls
  private readonly notAsked: readonly InquiryKind[]
  private events: BodyEvents = { reading: () => {}, health: () => {}, notice: () => {} }
  private readonly outcomes: Outcomes
  private readonly light: LightControl
  private readonly menu: CameraMenu
  private readonly lamp: TallyLamp
  private device: string | null = null
  private trouble: string | null = null
  private polls = 0
  /** The next poll is near, so that a drive need not hurry it. */
  private pollingFast = false
  private expectMoveUntilMs = 0
  private readonly poller: Poller

  constructor(
    private readonly options: ViscaBodyOptions,
    private readonly port: ViscaPort,
    private readonly clock: Clock,
  ) {
    const { profile, parts, holdMs } = options
    this.notAsked = NOT_ASKED(profile)
    this.keeper = new PoseKeeper(profile)
    this.session = port.session
    const { session } = port
    this.lanes = new DriveLanes({
      ...{ profile, parts, holdMs, session, clock },
      reading: () => this.reading,
      runs: (speeds, atMs) => this.events.runs?.(speeds, atMs),
    })
    this.controls = new HeadControls({
      ...{ profile, clock },
      order: (command) => this.order(command, []),
      ask: (kind, bytes) => session.ask(kind, clock.now(), bytes),
      changed: () => this.abilitiesChanged(),
    })
    this.menu = new CameraMenu({
      ...{ profile, clock },
      order: (command) => this.order(command, []),
      ask: (kind, bytes) => session.ask(kind, clock.now(), bytes),
      drive: (speeds) => this.driveNow(speeds),
      changed: () => this.events.health(),
    })
    this.outcomes = new Outcomes(port.session, clock)
    this.light = new LightControl(
      (inquiry) => {
        this.session.ask(inquiry, clock.now())
        port.settle()
      },
      (command) => this.order(command, []),
      clock,
    )
    this.lamp = new TallyLamp(profile, (command) => this.order(command, []), clock)
    this.poller = new Poller(clock, () => this.poll())
    this.orders = this.orderTable()
    if (options.suspect) this.lanes.suspect(LANES)
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

  get quirks(): string[] {
    return quirkWords(this.session.quirks)
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
      position: { panTilt: head && this.knows('ptPosition'), zoom: lens && this.knows('zoomPosition') },
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
    // A stick would run through the menu.
    this.driveNow(this.menu.open ? SPEEDS_AT_REST : speeds, refines)
  }

  private driveNow(speeds: Speeds, refines = false): void {
    if (moves(this.speeds) && !moves(speeds)) this.expectMove()
    this.speeds = speeds
    this.lanes.drive(speeds, refines)
    this.port.settle()
    if (moves(speeds) && !this.pollingFast) this.poller.soon()
  }

  halt(): void {
    this.lanes.suspectAll()
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
    this.lamp.end()
    this.drive(SPEEDS_AT_REST)
    await stopAnswered(this.clock, () => this.stopPending)
    this.poller.close()
    this.port.close()
  }

  private knows(kind: InquiryKind): boolean {
    return this.session.questions.knows(kind) && !this.notAsked.includes(kind)
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
      set: (key, value) => this.controls.set(key, value),
      menu: (action) => this.menu.act(action),
      notice: (text) => this.events.notice(text),
      memorySpeed: () => this.controls.tellMemorySpeed(),
    }
    const orders = viscaOrders(host, (command, lanes) => this.order(command, lanes))
    if (parts.lens && this.knows('exposureMode') && this.knows('whiteBalance'))
      orders.light = (light) => this.light.apply(light)
    if (parts.lens && this.controls.freezes) orders.freeze = (on) => this.controls.freeze(on)
    if (parts.lens && this.lamp.possible) orders.lamp = ({ lamp }) => this.lamp.set(lamp)
    if (parts.head && profile.retargets && this.knows('ptPosition'))
      orders.keepOnLeash = async (bounds) => {
        this.lanes.keepOnLeash(bounds)
        return DONE
      }
    return orders
  }

  /** It is about to move without a hand. */
  private travels(...lanes: Lane[]): void {
    this.lanes.travels(lanes)
    this.expectMove()
  }

  /** The pose is read often for a while. */
  private expectMove(): void {
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
        if (event.reason === 'not-executable') this.light.missed(event.inquiry)
        else if (isControl(event.inquiry)) this.controls.askAgain(event.inquiry)
        this.menu.unknown(event.inquiry)
        return
      case 'knows':
        if (!event.known) {
          this.light.missed(event.inquiry)
          this.menu.unknown(event.inquiry)
        }
        if (isControl(event.inquiry)) this.controls.knows(event.inquiry, event.known)
        this.learn(event.inquiry)
        return
      case 'quirk':
        this.events.health()
        return
      case 'state':
        this.keeper.forget()
        if (event.state === 'ready') this.regain()
        else this.lose()
        this.events.health()
        return
      case 'accepted':
        this.lanes.accepted(event.id, !moves(this.speeds), event.atMs)
        this.outcomes.accepted(event.id)
        return
      case 'sent':
        this.lanes.sent(event.id, event.atMs)
        return
      case 'superseded':
        this.lanes.ended(event.id)
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

  /** Whether the camera knows this question has changed: what it may have answered before counts no longer. */
  private learn(inquiry: InquiryKind): void {
    if (inquiry === 'ptPosition' || inquiry === 'zoomPosition') this.keeper.forget()
    this.abilitiesChanged()
    this.events.reading()
  }

  private abilitiesChanged(): void {
    this.orders = this.orderTable()
    this.events.health()
  }

  private take(answer: Answer, atMs: number): void {
    if (answer.kind === 'version') this.device = deviceWords(answer)
    this.light.take(answer)
    if (answer.kind === 'ptPosition') this.learnWidth(answer)
    if (answer.kind === 'ptTopSpeeds') this.lanes.most = { pan: answer.panStep, tilt: answer.tiltStep }
    if ('bytes' in answer && !this.menu.take(answer.kind, answer.bytes)) this.controls.take(answer)
    const power = this.keeper.power
    this.keeper.take(answer, atMs)
    if (this.keeper.moving && this.lanes.seenMoving()) this.drive(this.speeds)
    if (this.stopPending) this.judgeStop()
    if (power !== this.keeper.power) this.events.health()
    this.events.reading()
  }

  /** A head tells by its answer with how many digits it counts, whatever its profile says. */
  private learnWidth({ panNibbles = 4, tiltNibbles = 4 }: Answer & { kind: 'ptPosition' }): void {
    const known = this.session.positions
    if (known.panNibbles === panNibbles && known.tiltNibbles === tiltNibbles) return
    this.session.positions = { ...known, panNibbles, tiltNibbles }
    if (panNibbles > 4) this.session.note('widePositions', this.clock.now())
  }

  /** A camera that never answers a stop shows by its position that it has obeyed. */
  private judgeStop(): void {
    const { session, keeper, clock } = this
    const stands = keeper.standing()
    if (stands.panTilt) session.stands('panTilt', stands.panTilt, clock.now())
    if (stands.zoom) session.stands('zoom', stands.zoom, clock.now())
  }

  private failed(id: number, reason: FailReason): void {
    if (this.lanes.failed(id) && reason !== 'silent') this.events.notice(reasonText(reason))
    this.outcomes.failed(id, reason)
  }

  get settings(): Settings {
    const { specs, values } = this.controls
    const { open } = this.menu
    return this.options.parts.lens
      ? { specs, values: open ? { ...values, [MENU]: true } : values }
      : NO_SETTINGS
  }

  private lose(): void {
    this.outcomes.forget()
    this.lanes.suspectAll()
  }

  /** Back again: what is wanted now is sent again, which is a stop where no hand is on it. */
  private regain(): void {
    this.controls.begin()
    if (this.options.parts.head && this.options.parts.lens) this.menu.begin()
    this.lanes.most = null
    this.orders = this.orderTable()
    if (this.lanes.unsure) this.drive(this.speeds)
    this.session.ask('version', this.clock.now())
    if (this.options.parts.head) this.session.ask('ptTopSpeeds', this.clock.now())
    this.readSoon()
  }

  private poll(): number {
    const now = this.clock.now()
    const { head, lens } = this.options.parts
    const ask = (kind: InquiryKind) => !this.notAsked.includes(kind) && this.session.ask(kind, now)
    if (head) ask('ptPosition')
    if (lens && (!turnsOnly(this.speeds) || now - this.reading.zoomAtMs > ZOOM_LOOK_MS)) ask('zoomPosition')
    if (this.polls++ % (this.pollingFast ? SLOW_VALUES_EVERY_MOVING : SLOW_VALUES_EVERY) === 0) {
      ask('power')
      if (lens) ask('focusMode')
      if (lens) ask('focusPosition')
    }
    const often = this.pollingFast ? CONTROL_EVERY_MOVING : this.controls.eager ? 1 : CONTROL_EVERY
    if (lens && this.polls % often === 0) this.controls.askNext()
    this.menu.look()
    this.port.settle()
    this.pollingFast = moves(this.speeds) || this.keeper.moving || now < this.expectMoveUntilMs
    const least = this.session.intake.gapMs * QUESTIONS_TO_GAPS
    return Math.max(least, this.pollingFast ? POLL_MOVING_MS : POLL_IDLE_MS)
  }
}
