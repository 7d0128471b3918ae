/** The driver for devices that speak VISCA: a session on a port, kept fed with inquiries. */

import { extraBytes } from '../../../core/heads/extras'
import { degToUnits, type HeadProfile } from '../../../core/heads/profile'
import type { Capabilities, Health } from '../../../core/live/messages'
import { speedForSeconds } from '../../../core/motion/travel'
import { type Bounds, SPEEDS_AT_REST, type Speeds } from '../../../core/stick/speeds'
import { nearestStep } from '../../../core/stick/steps'
import { encodeCommand, type ViscaCommand } from '../../../core/visca/commands'
import type { Answer, InquiryKind } from '../../../core/visca/inquiries'
import type { FailReason, Lane, SendOptions, SessionEvent } from '../../../core/visca/sessionTypes'
import type { Body, BodyEvents, Goal, Reading } from '../body'
import { CANNOT, type CameraResult, DONE, type MemoryAction, type SubjectOrder } from '../camera'
import type { Clock } from '../clock'
import { DriveCommands, isStop } from './driveCommands'
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
  /** A speed step is held at least so long, ms. */
  holdMs: number
}

const moves = ({ panDegPerSec, tiltDegPerSec, zoomPerSec }: Speeds) =>
  panDegPerSec !== 0 || tiltDegPerSec !== 0 || zoomPerSec !== 0

function subjectLevels({ extras }: HeadProfile): Capabilities['subject'] {
  const subject = extras?.subject
  return subject ? { sensitivity: subject.sensitivity.levels, size: subject.size.levels } : null
}

const hex = (n: number) => n.toString(16).padStart(4, '0')
const key = (command: ViscaCommand) => encodeCommand(command).join()

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
  private readonly outcomes = new Map<number, (result: CameraResult) => void>()
  private readonly driveIds = new Map<number, Lane>()
  /** Questions that the camera does not know. */
  private readonly unknown = new Set<InquiryKind>()
  private device: string | null = null
  private trouble: string | null = null
  private polls = 0
  /** The next look at where it stands is near, so that a drive need not hurry it. */
  private pollingFast = false
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
    this.commands = new DriveCommands(options.profile, options.holdMs)
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
      onePush: lens,
      focusAt: lens && !!this.options.profile.extras?.focusAt,
      digitalZoom: lens && !!this.options.profile.lens.digital,
      subject: head && lens ? subjectLevels(this.options.profile) : null,
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

  drive(speeds: Speeds, refines = false): void {
    this.speeds = speeds
    const commands = this.commands.next(speeds, this.clock.now())
    const { head, lens } = this.options.parts
    for (const lane of LANES) {
      if (lane === 'panTilt' ? head : lens) this.driveLane(lane, commands[lane], refines)
    }
    this.port.settle()
    if (moves(speeds) && !this.pollingFast) this.pollSoon()
  }

  private driveLane(lane: Lane, command: ViscaCommand, refines: boolean): void {
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
    const options: SendOptions = { lanes: [lane], urgency: stop ? 'stop' : 'drive', refines }
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
            panStep: this.travelStep('pan', goal.panDeg, goal.seconds),
            tiltStep: this.travelStep('tilt', goal.tiltDeg, goal.seconds),
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

  /** The step with which an axis takes about so long to get there. */
  private travelStep(axis: 'pan' | 'tilt', toDeg: number, seconds: number | undefined): number {
    const { speedsDegPerSec, accelDegPerSec2 } = this.options.profile[axis]
    const from = this.reading[axis === 'pan' ? 'panDeg' : 'tiltDeg']
    if (seconds === undefined || from === null) return speedsDegPerSec.length
    const speed = speedForSeconds(toDeg - from, seconds, accelDegPerSec2)
    return Number.isFinite(speed) ? Math.max(1, nearestStep(speed, speedsDegPerSec)) : speedsDegPerSec.length
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

  async memory(action: MemoryAction, number: number): Promise<CameraResult> {
    const command: ViscaCommand = { kind: 'memory', action, slot: number - 1 }
    if (action === 'set') return this.order(command, [])
    this.takeOver('panTilt')
    this.takeOver('zoom')
    this.stopAcknowledgedMs = null
    this.expectMoveUntilMs = this.clock.now() + EXPECT_MOVE_MS
    const result = await this.order(command, ['panTilt', 'zoom', 'focus'])
    // What a camera says to an empty memory too: it has no answer of its own for that.
    return !result.ok && result.message === reasonText('not-executable')
      ? { ok: false, message: `The camera refused its memory ${number}. Nothing may be stored in it yet.` }
      : result
  }

  focusOnce(): Promise<CameraResult> {
    return this.order({ kind: 'focusOnePush' }, ['focus'])
  }

  focusAt(x: number, y: number): Promise<CameraResult> {
    const template = this.options.profile.extras?.focusAt
    if (!template) return Promise.resolve(CANNOT('focus on a place'))
    const percent = (share: number) => Math.round(100 * Math.min(1, Math.max(0, share)))
    return this.order({ kind: 'extra', bytes: extraBytes(template, { x: percent(x), y: percent(y) }) }, [
      'focus',
    ])
  }

  setDigitalZoom(on: boolean): Promise<CameraResult> {
    return this.order({ kind: 'digitalZoom', on }, [])
  }

  async followSubject({ on, sensitivity, size }: SubjectOrder): Promise<CameraResult> {
    const subject = this.options.profile.extras?.subject
    if (!subject) return CANNOT('follow a subject by itself')
    const send = (text: string, level = 1) =>
      this.order({ kind: 'extra', bytes: extraBytes(text, { level }) }, [])
    if (!on) return send(subject.off)
    const first = await send(subject.sensitivity.command, Math.min(sensitivity, subject.sensitivity.levels))
    if (!first.ok) return first
    const second = await send(subject.size.command, Math.min(size, subject.size.levels))
    if (!second.ok) return second
    this.takeOver('panTilt')
    this.takeOver('zoom')
    return send(subject.on)
  }

  keepWithin(bounds: Bounds, limited: boolean): void {
    const { profile, parts } = this.options
    if (!parts.head) return
    const corners = [
      ['upRight', bounds.pan.max, bounds.tilt.max],
      ['downLeft', bounds.pan.min, bounds.tilt.min],
    ] as const
    for (const [corner, pan, tilt] of corners) {
      const at = { pan: degToUnits(profile.pan, pan), tilt: degToUnits(profile.tilt, tilt) }
      // A head that does not know limits says so; ours are kept here all the same.
      void this.order(limited ? { kind: 'limitSet', corner, ...at } : { kind: 'limitClear', corner }, [])
    }
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
        if (lane && !moves(this.speeds)) this.stopAcknowledgedMs = event.atMs
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

  /** Back again: what is wanted now is sent anew, which is a stop where no hand is on them. */
  private regain(): void {
    this.unknown.clear()
    this.session.ask('version', this.clock.now())
    this.pollSoon(true)
    if ([...this.lastDrive.values()].includes(UNSURE)) this.drive(this.speeds)
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

  private linkState(): Health['state'] {
    const { session } = this
    if (session.state !== 'ready') return session.state
    if (!this.keeper.power) return 'standby'
    const slow = (session.stats.roundTripMs ?? 0) > this.options.slowMs || session.stats.loss > SLOW_LOSS
    return slow ? 'slow' : 'ready'
  }
}
