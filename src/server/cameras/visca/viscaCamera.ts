/** The driver for cameras that speak VISCA: a session on a link, kept fed with inquiries. */
import { degToUnits, type HeadProfile } from '../../../core/heads/profile'
import type { Health } from '../../../core/live/messages'
import { createLens, type Lens } from '../../../core/optics/lens'
import type { LivePose, PresetPose } from '../../../core/presets/pose'
import type { Travel } from '../../../core/presets/standing'
import { DEFAULT_FEEL } from '../../../core/stick/shape'
import { encodeCommand, type ViscaCommand } from '../../../core/visca/commands'
import type { InquiryKind } from '../../../core/visca/inquiries'
import { ViscaSession } from '../../../core/visca/session'
import type { FailReason, Lane, SendOptions, SessionEvent } from '../../../core/visca/sessionTypes'
import type { Link } from '../../links/link'
import type { Camera, CameraEvents, CameraResult, Sticks } from '../camera'
import { STICKS_AT_REST } from '../camera'
import type { Clock } from '../clock'
import { TravelWatch } from '../travelWatch'
import { driveCommands, isStop } from './driveCommands'
import { PoseKeeper } from './poseKeeper'
import { CONNECTING, reasonText, SILENT, SLOW, STANDBY } from './words'

const POLL_MOVING_MS = 50
const POLL_IDLE_MS = 250
/** Every so many polls the slow-changing values are asked too. */
const SLOW_VALUES_EVERY = 4
const HEALTH_EVERY_MS = 1000
/** A head that still moves this long after a stop was acknowledged is told again. */
const STOP_CHECK_MS = 600
const STOP_CHECK_UNTIL_MS = 1600
const MAX_STOP_REPEATS = 3
/** Marks a lane of which it is not known what the camera does. */
const UNSURE = 'unsure'
const SAME_NOTICE_MS = 3000
const SLOW_ROUND_TRIP_MS = 250
const SLOW_LOSS = 0.12
const SLOW_VALUES: readonly InquiryKind[] = ['focusMode', 'power', 'focusPosition']
const LANES: readonly Lane[] = ['panTilt', 'zoom', 'focus']

const key = (command: ViscaCommand) => encodeCommand(command).join()

export class ViscaCamera implements Camera {
  pose: LivePose | null = null
  private readonly session: ViscaSession
  private readonly keeper: PoseKeeper
  private readonly lens: Lens
  private watch: TravelWatch | null = null
  private sticks: Sticks = STICKS_AT_REST
  /** The bytes last asked for on each lane, so that only changes are sent. */
  private readonly lastDrive = new Map<Lane, string>()
  /** What was ever set in motion from here: after a silence nobody knows whether it still runs. */
  private readonly moved = new Set<Lane>()
  private readonly outcomes = new Map<number, (result: CameraResult) => void>()
  private readonly driveIds = new Map<number, Lane>()
  private trouble: string | null = null
  private polls = 0
  private lastHealth = ''
  private stopAcknowledgedMs: number | null = null
  private stopRepeats = 0
  private lastNotice = { text: '', atMs: 0 }
  private cancelTimer: () => void = () => {}
  private cancelPoll: () => void = () => {}
  private cancelHealth: () => void = () => {}
  private closed = false

  constructor(
    readonly profile: HeadProfile,
    private readonly address: string,
    private readonly link: Link,
    private readonly events: CameraEvents,
    private readonly clock: Clock,
  ) {
    this.lens = createLens(profile.lens)
    this.keeper = new PoseKeeper(profile, this.lens)
    this.session = new ViscaSession({ nonce: Math.floor(clock.wall()) % 0xffffffff })
    link.onReceive((bytes) => {
      this.session.receive(bytes, clock.now())
      this.settle()
    })
    link.onTrouble((trouble) => {
      this.trouble = trouble
      this.tellHealth()
    })
    this.advance()
    this.poll()
    this.healthTick()
  }

  get travel(): Travel | null {
    return this.watch?.travel ?? null
  }

  get health(): Health {
    const { session } = this
    const state = this.linkState()
    const advice = {
      connecting: this.trouble ?? CONNECTING(this.address),
      silent: this.trouble ?? SILENT,
      standby: STANDBY,
      slow: SLOW,
      ready: null,
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

  drive(sticks: Sticks): void {
    const moves = sticks.pan !== 0 || sticks.tilt !== 0 || sticks.zoom !== 0
    if (moves && this.watch?.interrupt()) this.tellTravel()
    this.sticks = sticks
    const wideHfovDeg = this.lens.hfovDeg(this.lens.wide)
    const hfovDeg = this.pose?.hfovDeg ?? wideHfovDeg
    const commands = driveCommands(sticks, this.profile, { hfovDeg, wideHfovDeg }, DEFAULT_FEEL)
    for (const lane of LANES) this.driveLane(lane, commands[lane])
    this.settle()
    if (moves) this.pollSoon()
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

  recall(presetId: string, pose: PresetPose): Promise<CameraResult> {
    const { profile, session } = this
    if (session.state !== 'ready') {
      const text = session.state === 'connecting' ? CONNECTING(this.address) : reasonText('silent')
      return Promise.resolve({ ok: false, message: text })
    }
    if (!this.keeper.power) return Promise.resolve({ ok: false, message: STANDBY })
    for (const lane of LANES) this.lastDrive.delete(lane)
    this.moved.add('panTilt').add('zoom')
    this.stopAcknowledgedMs = null
    const watch = new TravelWatch(presetId, pose, this.pose, profile, this.clock.now())
    this.watch = watch
    const results = [
      this.queue(
        {
          kind: 'ptAbsolute',
          panStep: profile.pan.speedsDegPerSec.length,
          tiltStep: profile.tilt.speedsDegPerSec.length,
          pan: degToUnits(profile.pan, pose.panDeg),
          tilt: degToUnits(profile.tilt, pose.tiltDeg),
        },
        ['panTilt'],
      ),
      this.queue({ kind: 'zoomTo', position: Math.round(pose.zoom) }, ['zoom']),
    ]
    const focus = this.recallFocus(pose)
    if (focus) results.push(focus)
    this.tellTravel()
    this.settle()
    this.pollSoon()
    return Promise.all(results).then((all) => {
      const failed = all.find((r) => !r.ok)
      if (!failed || failed.ok) return { ok: true }
      if (this.watch === watch && watch.fail(failed.message)) this.tellTravel()
      return failed
    })
  }

  /** A camera that is busy with both its sockets takes a mode only later, so none is sent without need. */
  private recallFocus(pose: PresetPose): Promise<CameraResult> | null {
    const { focus, focusAuto } = pose
    const goTo = (position: number) => this.queue({ kind: 'focusTo', position }, ['focus'])
    const known = this.pose?.focusAuto
    if (known === focusAuto) return focusAuto || focus === null ? null : goTo(focus)
    const mode = this.queue({ kind: 'focusMode', auto: focusAuto }, [])
    if (focusAuto || focus === null) return mode
    return mode.then((result) => {
      if (!result.ok) return result
      const going = goTo(focus)
      this.settle()
      return going
    })
  }

  setFocusMode(auto: boolean): Promise<CameraResult> {
    const result = this.queue({ kind: 'focusMode', auto }, [])
    this.settle()
    this.pollSoon(true)
    return result
  }

  async restingPose(timeoutMs: number): Promise<LivePose | null> {
    const since = this.clock.now()
    while (this.clock.now() - since < timeoutMs && !this.closed) {
      if (this.keeper.restingSince(since) && this.pose) return this.pose
      this.pollSoon(true)
      await new Promise<void>((resolve) => this.clock.after(20, resolve))
    }
    return null
  }

  /** Stops the head and gives the stop a moment to be answered. */
  async close(): Promise<void> {
    this.drive(STICKS_AT_REST)
    for (let i = 0; i < 25 && this.session.stopPending; i++) {
      await new Promise<void>((resolve) => this.clock.after(20, resolve))
    }
    this.closed = true
    this.cancelTimer()
    this.cancelPoll()
    this.cancelHealth()
    this.link.close()
  }

  private queue(command: ViscaCommand, lanes: readonly Lane[]): Promise<CameraResult> {
    const id = this.session.send(command, { lanes, urgency: 'queued' }, this.clock.now())
    return new Promise((resolve) => this.outcomes.set(id, resolve))
  }

  /** Sends what the session has to send, hands on what happened, and sets the next alarm. */
  private settle(): void {
    if (this.closed) return
    for (const event of this.session.takeEvents()) this.handle(event)
    for (const datagram of this.session.takeDatagrams()) this.link.send(datagram)
    this.cancelTimer()
    const now = this.clock.now()
    const next = this.session.nextAtMs(now)
    if (Number.isFinite(next)) {
      this.cancelTimer = this.clock.after(Math.max(0, Math.ceil(next - now)), () => this.advance())
    }
  }

  private advance(): void {
    this.session.advance(this.clock.now())
    this.settle()
  }

  private handle(event: SessionEvent): void {
    switch (event.type) {
      case 'answer':
        this.keeper.take(event.answer, event.trueAtMs)
        this.updatePose()
        return
      case 'state':
        this.keeper.forget()
        if (event.state === 'ready') this.regain()
        else this.lose()
        this.updatePose()
        this.tellHealth()
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
      if (reason !== 'silent') this.tellNotice(reasonText(reason))
    }
    this.resolve(id, { ok: false, message: reasonText(reason) })
  }

  /** The camera fell silent: nothing that was true of it is claimed any longer. */
  private lose(): void {
    if (this.watch?.fail(SILENT)) this.tellTravel()
    for (const lane of this.moved) this.lastDrive.set(lane, UNSURE)
  }

  /** Back again: the sticks as they are now are sent anew, which is a stop where no hand is on them. */
  private regain(): void {
    this.pollSoon(true)
    if ([...this.lastDrive.values()].includes(UNSURE)) this.drive(this.sticks)
  }

  private updatePose(): void {
    const now = this.clock.now()
    const ready = this.session.state === 'ready'
    const pose = ready ? this.keeper.pose(this.clock.wall() - now) : null
    const before = this.pose
    this.pose = pose
    if (before?.power !== pose?.power) this.tellHealth()
    if (pose || before) this.events.pose(pose)
    if (pose && this.watch?.see(pose, now)) this.tellTravel()
    if (pose?.moving) this.checkStop(now)
  }

  /** A stop that was overtaken on the way by an older drive would leave the head running. */
  private checkStop(now: number): void {
    const since = this.stopAcknowledgedMs === null ? null : now - this.stopAcknowledgedMs
    if (since === null || since < STOP_CHECK_MS || this.watch?.travel.state === 'travelling') return
    this.stopAcknowledgedMs = null
    // Later than this it is somebody else who moves the head.
    if (since > STOP_CHECK_UNTIL_MS || this.stopRepeats >= MAX_STOP_REPEATS) return
    this.stopRepeats += 1
    for (const lane of ['panTilt', 'zoom'] as const) this.lastDrive.set(lane, UNSURE)
    this.drive(this.sticks)
  }

  private poll(): void {
    if (this.closed) return
    const now = this.clock.now()
    this.session.ask('ptPosition', now)
    this.session.ask('zoomPosition', now)
    if (this.polls++ % SLOW_VALUES_EVERY === 0) for (const value of SLOW_VALUES) this.session.ask(value, now)
    this.settle()
    const { pan, tilt, zoom } = this.sticks
    const busy = pan || tilt || zoom || this.keeper.moving || this.watch?.travel.state === 'travelling'
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
    const slow = (session.stats.roundTripMs ?? 0) > SLOW_ROUND_TRIP_MS || session.stats.loss > SLOW_LOSS
    return slow ? 'slow' : 'ready'
  }

  private tellNotice(text: string): void {
    const now = this.clock.now()
    if (text === this.lastNotice.text && now - this.lastNotice.atMs < SAME_NOTICE_MS) return
    this.lastNotice = { text, atMs: now }
    this.events.notice(text)
  }

  private tellTravel(): void {
    this.events.travel(this.travel)
  }

  private tellHealth(): void {
    const health = this.health
    const text = JSON.stringify({ ...health, silentMs: health.state === 'ready' ? null : health.silentMs })
    if (text === this.lastHealth) return
    this.lastHealth = text
    this.events.health(health)
  }

  private healthTick(): void {
    if (this.closed) return
    this.tellHealth()
    this.cancelHealth = this.clock.after(HEALTH_EVERY_MS, () => this.healthTick())
  }
}
