/** A camera made of one body, or of several that do different parts of it. */
import { UPRIGHT } from '../../core/cameras/connection'
import type { Light } from '../../core/cameras/light'
import type { HeadProfile } from '../../core/heads/profile'
import { type Capabilities, type Health, isUsable } from '../../core/live/messages'
import type { Box } from '../../core/optics/aim'
import { createLens, type Lens } from '../../core/optics/lens'
import type { LivePose, PresetPose } from '../../core/presets/pose'
import type { Travel } from '../../core/presets/standing'
import {
  type Bounds,
  boundsOf,
  NO_LIMITS,
  type Push,
  SPEEDS_AT_REST,
  type Speeds,
} from '../../core/stick/speeds'
import type { Body, Goal } from './body'
import type {
  Camera,
  CameraEvents,
  CameraResult,
  CameraTuning,
  MemoryAction,
  Recall,
  RestingPose,
  SubjectOrder,
} from './camera'
import { CANNOT, DONE } from './camera'
import type { Clock } from './clock'
import { answers, joinedCapabilities, joinedHealth, joinedPose, type Parts } from './joined'
import { PictureMoves } from './pictureMoves'
import { Steering } from './steering'
import { Travels } from './travels'

const HEALTH_EVERY_MS = 1000
const LIGHT_WITHIN_MS = 1500
/** A focus that did not change for so long stands still, ms. */
const FOCUS_RESTS_MS = 130
/** So long after the head has come to rest the automatics may still begin to search, ms. */
const FOCUS_BEGINS_MS = 450
const SAME_NOTICE_MS = 3000
const BACK_AND_STOPPED =
  'The link to this camera is back. It may have gone on moving meanwhile, and has been stopped: look where it points.'
const BACK_IN_HAND =
  'The link to this camera is back, and it follows your stick again. It may have gone on moving meanwhile.'
const STANDBY = 'The camera is in standby. Switch it on first.'

export class OneCamera implements Camera {
  pose: LivePose | null = null
  private readonly lens: Lens
  private readonly bodies: readonly Body[]
  private readonly one: boolean
  private readonly steering: Steering
  private readonly moves: PictureMoves
  private tuning: CameraTuning = { mount: UPRIGHT, limits: NO_LIMITS, hold: false, leash: false }
  private digital = false
  private readonly travels: Travels
  /** When it was last seen to move, and its focus to change. */
  private movedAtMs = Number.NEGATIVE_INFINITY
  private focusedAtMs = Number.NEGATIVE_INFINITY
  private lastHealth = ''
  private lastCapabilities = ''
  private lastNotice = { text: '', atMs: 0 }
  private cancelHealth: () => void = () => {}
  private closed = false
  private heard = false
  private movedWhenLost = false

  constructor(
    readonly profile: HeadProfile,
    private readonly parts: Parts,
    private readonly events: CameraEvents,
    private readonly clock: Clock,
  ) {
    this.lens = createLens(profile.lens)
    this.one = parts.head === parts.lens
    this.steering = new Steering(
      {
        profile,
        lens: this.lens,
        known: () => {
          const [h, l] = [parts.head.reading, parts.lens.reading]
          const { panDeg, tiltDeg, panTiltAtMs } = h
          return { panDeg, tiltDeg, panTiltAtMs, zoom: l.zoom, zoomAtMs: l.zoomAtMs }
        },
        bounds: () => this.bounds,
        mount: () => this.tuning.mount,
        apply: (speeds, refines) => this.apply(speeds, refines),
      },
      clock,
    )
    this.travels = new Travels(
      {
        profile,
        lens: this.lens,
        pose: () => this.pose,
        freezes: () => this.capabilities.freeze,
        freeze: (on) => parts.lens.freeze(on),
        zoomsApart: () => parts.lens.zoomsApart,
        glideTo: (zoom, seconds, end) => this.steering.glideTo(zoom, seconds, end),
        travelTo: (goal) => this.travelTo(goal),
        tell: (travel) => events.travel(travel),
        heldChanged: () => this.update(),
      },
      clock,
    )
    this.moves = new PictureMoves(
      {
        profile,
        lens: this.lens,
        view: () => this.steering.view(),
        zoom: () => this.pose?.zoom ?? null,
        bounds: () => this.bounds,
        mount: () => this.tuning.mount,
        zoomsApart: () => parts.lens.zoomsApart,
        takeOver: () => {
          this.travels.interrupt()
          this.steering.yield()
        },
        glideTo: (zoom, seconds, end) => this.steering.glideTo(zoom, seconds, end),
        travelTo: (goal) => this.travelTo(goal),
        notice: (text) => this.tellNotice(text),
      },
      clock,
    )
    this.bodies = this.one ? [parts.head] : [parts.head, parts.lens]
    for (const body of this.bodies) {
      body.listen({
        reading: () => this.update(),
        health: () => {
          this.update()
          this.tellHealth()
        },
        notice: (text) => this.tellNotice(text),
      })
    }
    this.healthTick()
  }

  get travel(): Travel | null {
    return this.travels.travel
  }

  get zoomRange(): number {
    return this.lens.tele - this.lens.wide
  }

  get capabilities(): Capabilities {
    return joinedCapabilities(this.parts)
  }

  get health(): Health {
    return joinedHealth(this.parts)
  }

  get memoryRuns(): boolean {
    return this.parts.head.reading.running
  }

  configure(tuning: CameraTuning): void {
    const before = this.tuning.limits
    if (tuning.hold && !this.tuning.hold) this.travels.suspectHeld()
    this.tuning = tuning
    const { limits } = tuning
    const changed = JSON.stringify(before) !== JSON.stringify(limits)
    for (const body of this.bodies) body.keepOnLeash(tuning.leash ? this.bounds : null)
    if (changed)
      this.parts.head.keepWithin(
        this.bounds,
        Object.values(limits).some((x) => x !== null),
      )
  }

  drive(push: Push): void {
    if (push.pan !== 0 || push.tilt !== 0 || push.zoom !== 0) this.travels.interrupt()
    this.steering.setPush(push)
  }

  halt(): void {
    this.travels.interrupt()
    this.steering.yield()
    for (const body of this.bodies) body.halt()
  }

  hold(u: number, v: number): void {
    if (this.steering.hold(u, v)) this.travels.interrupt()
    else this.tellNotice('It is not known where this camera stands, so its picture cannot be held.')
  }

  moveFinger(u: number, v: number): void {
    this.steering.moveFinger(u, v)
  }

  release(): void {
    const target = this.steering.release()
    // What the hand left off by a little is made good, so that the point is where it was let go.
    if (target && isUsable(this.health.state)) void this.travelTo({ ...target })
  }

  aim(u: number, v: number, seconds: number | null): Promise<CameraResult> {
    return this.asked(() => this.moves.aim(u, v, seconds))
  }

  nudge(right: number, up: number): Promise<CameraResult> {
    return this.asked(() => this.moves.nudge(right, up))
  }

  frame(box: Box, seconds: number | null): Promise<CameraResult> {
    return this.asked(() => this.moves.frame(box, seconds))
  }

  zoomAbout(u: number, v: number, factor: number): Promise<CameraResult> {
    return this.moves.zoomAbout(u, v, factor)
  }

  memory(action: MemoryAction, number: number): Promise<CameraResult> {
    // A rig is two devices: neither remembers the whole.
    if (!this.one) return Promise.resolve(CANNOT('use memories of its own: its parts are two devices'))
    return this.asked(() => {
      if (action === 'recall') {
        this.travels.interrupt()
        this.steering.yield()
      }
      return this.parts.head.memory(action, number)
    })
  }

  focusOnce(): Promise<CameraResult> {
    return this.asked(() => this.parts.lens.focusOnce())
  }

  focusAt(u: number, v: number): Promise<CameraResult> {
    return this.asked(() => this.parts.lens.focusAt((1 + u) / 2, (1 - v) / 2))
  }

  setDigitalZoom(on: boolean): Promise<CameraResult> {
    return this.asked(async () => {
      const result = await this.parts.lens.setDigitalZoom(on)
      if (result.ok) this.digital = on
      return result
    })
  }

  followSubject(order: SubjectOrder): Promise<CameraResult> {
    return this.asked(() => {
      this.travels.interrupt()
      this.steering.yield()
      return this.parts.head.followSubject(order)
    })
  }

  async recall(recall: Recall): Promise<CameraResult> {
    const pose = this.travels.goalOf(recall)
    const refusal = this.refusal() ?? this.beyond(pose)
    if (refusal) return refusal
    this.steering.yield()
    const result = await this.travels.begin(recall, pose)
    if (result.ok && recall.light && recall.parts.light) void this.restoreLight(recall.light)
    return result
  }

  recallMemory(presetId: string, number: number): Promise<CameraResult> {
    return this.asked(async () => {
      const result = await this.memory('recall', number)
      if (result.ok) this.travels.sentTo(presetId)
      return result
    })
  }

  light(): Promise<Light | null> {
    return this.capabilities.light ? this.parts.lens.readLight(LIGHT_WITHIN_MS) : Promise.resolve(null)
  }

  setFocusMode(auto: boolean): Promise<CameraResult> {
    return this.parts.lens.setFocusMode(auto)
  }

  async setPower(on: boolean): Promise<CameraResult> {
    const able = this.bodies.filter((body) => body.capabilities.power)
    if (able.length === 0) return { ok: false, message: 'This camera cannot be switched from here.' }
    const results = await Promise.all(able.map((body) => body.setPower(on)))
    return results.find((result) => !result.ok) ?? DONE
  }

  async home(): Promise<CameraResult> {
    const refusal = this.refusal()
    if (refusal) return refusal
    this.travels.interrupt()
    this.steering.yield()
    return this.parts.head.home()
  }

  async restingPose(timeoutMs: number): Promise<RestingPose | null> {
    const since = this.clock.now()
    let resting: LivePose | null = null
    while (this.clock.now() - since < timeoutMs && !this.closed) {
      resting = this.restingSince(since) ? this.pose : null
      if (resting && this.focusStands(resting, since)) return { ...resting, focused: true }
      for (const body of this.bodies) body.readSoon()
      await new Promise<void>((resolve) => this.clock.after(20, resolve))
    }
    return resting && { ...resting, focused: false }
  }

  async close(): Promise<void> {
    this.closed = true
    this.steering.close()
    this.cancelHealth()
    await Promise.all(this.bodies.map((body) => body.close()))
  }

  private get bounds(): Bounds {
    return boundsOf(this.profile, this.tuning.limits, this.digital)
  }

  private async asked(order: () => Promise<CameraResult>): Promise<CameraResult> {
    return this.refusal() ?? order()
  }

  private async travelTo(goal: Goal): Promise<CameraResult> {
    const { head, lens } = this.parts
    if (this.one) return head.goTo(goal)
    const { panDeg, tiltDeg, seconds, ...optics } = goal
    const orders: Promise<CameraResult>[] = []
    if (panDeg !== undefined)
      orders.push(head.goTo(goal.seconds === undefined ? { panDeg, tiltDeg } : { panDeg, tiltDeg, seconds }))
    if (Object.keys(optics).length > 0) orders.push(lens.goTo(optics))
    return (await Promise.all(orders)).find((result) => !result.ok) ?? DONE
  }

  /** A preset that lies beyond the limits is not gone to. */
  private beyond(pose: PresetPose): CameraResult | null {
    const { pan, tilt } = this.bounds
    const slack = 0.05
    const inside =
      pose.panDeg >= pan.min - slack &&
      pose.panDeg <= pan.max + slack &&
      pose.tiltDeg >= tilt.min - slack &&
      pose.tiltDeg <= tilt.max + slack
    return inside
      ? null
      : {
          ok: false,
          message: 'This preset lies beyond the limits of this camera. Widen them, or store it anew.',
        }
  }

  private apply(speeds: Speeds, refines: boolean): void {
    const { head, lens } = this.parts
    if (this.one) {
      head.drive(speeds, refines)
      return
    }
    const { panDegPerSec, tiltDegPerSec, zoomPerSec, focus } = speeds
    head.drive({ ...SPEEDS_AT_REST, panDegPerSec, tiltDegPerSec }, refines)
    lens.drive({ ...SPEEDS_AT_REST, zoomPerSec, focus }, refines)
  }

  private refusal(): CameraResult | null {
    const { state, advice } = this.health
    if (isUsable(state)) return null
    if (state === 'standby') return { ok: false, message: STANDBY }
    if (state === 'silent')
      return {
        ok: false,
        message: 'The camera does not answer, so nothing was sent. Check its power and its cable.',
      }
    return { ok: false, message: advice ?? 'The camera is not ready yet, so nothing was sent.' }
  }

  private async restoreLight(light: Light): Promise<void> {
    const result = await this.parts.lens.setLight(light)
    if (!result.ok) this.tellNotice(`Exposure and white balance were not all set: ${result.message}`)
  }

  /** The automatics wait a little before they begin to search. */
  private focusStands(pose: LivePose, since: number): boolean {
    if (pose.focus === null) return true
    // Set by hand it stands, but what was read before the store was asked for may be older than that hand.
    if (!pose.focusAuto) return this.parts.lens.reading.focusAtMs > since
    const now = this.clock.now()
    return (
      this.parts.lens.reading.focusAtMs > since + FOCUS_RESTS_MS &&
      now - this.focusedAtMs > FOCUS_RESTS_MS &&
      now - this.movedAtMs > FOCUS_BEGINS_MS
    )
  }

  private restingSince(atMs: number): boolean {
    const head = this.parts.head.reading
    const lens = this.parts.lens.reading
    if (head.panTiltMoving || lens.zoomMoving) return false
    return head.panTiltAtMs > atMs && lens.zoomAtMs > atMs
  }

  private update(): void {
    const { health } = this
    const hears = answers(health)
    const before = this.pose
    if (hears !== this.heard) this.hearingChanged(hears)
    if (!hears) this.travels.lose(health.advice ?? 'The camera stopped answering.')
    const { lens, clock } = this
    const joined = hears ? joinedPose(this.parts, lens.hfovDeg, clock.wall() - clock.now()) : null
    this.pose = joined && { ...joined, held: this.travels.held }
    if (this.pose?.moving) this.movedAtMs = clock.now()
    if (this.pose?.focus !== before?.focus) this.focusedAtMs = clock.now()
    if (this.pose || before) this.events.pose(this.pose)
    if (this.pose) this.travels.see(this.pose)
    if (before?.power !== this.pose?.power) this.tellHealth()
  }

  /** What it did in a silence nobody knows: it is stopped on its return, and that is said. */
  private hearingChanged(hears: boolean): void {
    this.heard = hears
    if (!hears) {
      this.movedWhenLost =
        this.pose?.moving === true || this.steering.held || this.bodies.some((body) => body.stopPending)
      return
    }
    if (!this.movedWhenLost) return
    this.movedWhenLost = false
    this.tellNotice(this.steering.held ? BACK_IN_HAND : BACK_AND_STOPPED)
  }

  private tellNotice(text: string): void {
    const now = this.clock.now()
    if (text === this.lastNotice.text && now - this.lastNotice.atMs < SAME_NOTICE_MS) return
    this.lastNotice = { text, atMs: now }
    this.events.notice(text)
  }

  private tellHealth(): void {
    const health = this.health
    const text = JSON.stringify({ ...health, silentMs: health.state === 'ready' ? null : health.silentMs })
    const able = JSON.stringify(this.capabilities)
    if (text === this.lastHealth && able === this.lastCapabilities) return
    this.lastHealth = text
    this.lastCapabilities = able
    this.events.health(health, this.capabilities)
  }

  private healthTick(): void {
    if (this.closed) return
    this.tellHealth()
    if (isUsable(this.health.state)) this.travels.checkHeld()
    this.cancelHealth = this.clock.after(HEALTH_EVERY_MS, () => this.healthTick())
  }
}
