/** A camera made of one device, or of two that do different parts of it. */
import { UPRIGHT } from '../../core/cameras/connection'
import type { Light } from '../../core/cameras/light'
import type { Capabilities } from '../../core/facts/capabilities'
import { type Health, isUsable } from '../../core/facts/health'
import { arrivalOf, type HeadProfile } from '../../core/heads/profile'
import { createLens, type Lens } from '../../core/optics/lens'
import { type Sight, type SightOf, sightOf } from '../../core/optics/sight'
import { type DeviceOrderName, movesCamera, ORDERS } from '../../core/orders/orders'
import { DIGITAL_ZOOM, type SettingValues, unsuitable } from '../../core/picture/settings'
import type { LivePose, Tolerance } from '../../core/presets/pose'
import type { Travel } from '../../core/presets/standing'
import {
  type Bounds,
  isWithin,
  NO_LIMITS,
  type Push,
  SPEEDS_AT_REST,
  type Speeds,
} from '../../core/stick/speeds'
import type { Body, Goal } from './body'
import {
  CANNOT,
  type Camera,
  type CameraEvents,
  type CameraResult,
  type CameraTuning,
  DONE,
  type OwnOrder,
  type Recall,
  type RestingPose,
} from './camera'
import type { Clock } from './clock'
import { answers, joinedCapabilities, joinedHealth, joinedPose, type Parts } from './joined'
import { News } from './news'
import { PictureMoves } from './pictureMoves'
import { RestWatch } from './restWatch'
import { Steering } from './steering'
import { Travels } from './travels'

const HEALTH_EVERY_MS = 1000
const LIGHT_WITHIN_MS = 1500
/** What was told to move is looked at closely for this long after. */
const JUST_MOVED_MS = 1500
const LOOK_WHETHER_LATE_MS = 250
const BACK_AND_STOPPED =
  'The link to this camera is back. It may have gone on moving meanwhile, and has been stopped: look where it points.'
const BACK_IN_HAND =
  'The link to this camera is back, and it follows your stick again. It may have gone on moving meanwhile.'
const STANDBY = 'The camera is in standby. Switch it on first.'
const SILENT = 'The camera does not answer, so nothing was sent. Check its power and its cable.'
const NOT_READY = 'The camera is not ready yet, so nothing was sent.'
const PLACE_UNKNOWN = 'It is not known where this camera stands, so its picture cannot follow your finger.'
const BEYOND = 'This preset lies beyond the limits of this camera. Widen them, or store the preset again.'

const TELLS_GOAL = 'It reports where it is going instead of where it is.'

const firstFailure = (results: readonly CameraResult[]) => results.find((result) => !result.ok) ?? DONE
const refused = (message: string): CameraResult => ({ ok: false, message })

export class OneCamera implements Camera {
  pose: LivePose | null = null
  private readonly lens: Lens
  private readonly bodies: readonly Body[]
  private readonly steering: Steering
  private readonly moves: PictureMoves
  private readonly travels: Travels
  private readonly resting: RestWatch
  private readonly news: News
  private tuning: CameraTuning = {
    mount: UPRIGHT,
    limits: NO_LIMITS,
    hold: false,
    leash: false,
  }
  private cancelHealth: () => void = () => {}
  private cancelLate: () => void = () => {}
  private restlessMs = Number.NEGATIVE_INFINITY
  private closed = false
  private heard = false
  private movedWhenLost = false
  /** It moves by itself until it is told not to, so that its motion is nobody's. */
  private follows = false
  private lastSight: { of: SightOf; sight: Sight } | null = null

  constructor(
    readonly profile: HeadProfile,
    private readonly parts: Parts,
    events: CameraEvents,
    private readonly clock: Clock,
    /** Its profile is not confirmed: it goes to presets as the head itself counts. */
    byEncoder = false,
  ) {
    this.lens = createLens(profile.lens)
    this.news = new News(events, clock)
    this.resting = new RestWatch(parts, clock)
    const common = {
      profile,
      lens: this.lens,
      sight: () => this.sight,
      zoomsApart: () => parts.lens.zoomsApart,
      glideTo: (zoom: number, seconds: number, ended: () => void) =>
        this.steering.glideTo(zoom, seconds, ended),
      travelTo: (goal: Goal) => this.travelTo(goal),
    }
    this.steering = new Steering(
      {
        ...common,
        known: () => {
          const [h, l] = [parts.head.reading, parts.lens.reading]
          const { panDeg, tiltDeg, panTiltAtMs } = h
          return { panDeg, tiltDeg, panTiltAtMs, zoom: l.zoom, zoomAtMs: l.zoomAtMs }
        },
        apply: (speeds, refines) => this.apply(speeds, refines),
      },
      clock,
    )
    this.travels = new Travels(
      {
        ...common,
        pose: () => this.pose,
        byEncoder: () => byEncoder,
        freezes: () => parts.lens.orders.freeze !== undefined,
        freeze: async (on) => (await parts.lens.orders.freeze?.(on)) ?? CANNOT('hold its picture'),
        tell: (travel) => this.news.fact('travel', travel),
        heldChanged: () => this.update(),
      },
      clock,
    )
    this.moves = new PictureMoves(
      {
        ...common,
        view: () => this.steering.view(),
        zoom: () => this.pose?.zoom ?? null,
        takeOver: () => this.endMotion(),
        notice: (text) => this.news.notice(text),
      },
      clock,
    )
    this.bodies = [...new Set([parts.head, parts.lens])]
    for (const body of this.bodies) {
      body.listen({
        reading: () => this.update(),
        health: () => {
          this.update()
          this.tellHealth()
        },
        notice: (text) => this.news.notice(text),
      })
    }
    this.healthTick()
  }

  get travel(): Travel | null {
    return this.travels.travel
  }

  get arrival(): Tolerance {
    return arrivalOf(this.profile)
  }

  get capabilities(): Capabilities {
    return joinedCapabilities(this.parts)
  }

  get quirks(): readonly string[] {
    const told = this.bodies.flatMap((body) => body.quirks ?? [])
    return this.travels.tellsGoal ? [...told, TELLS_GOAL] : told
  }

  get health(): Health {
    return joinedHealth(this.parts)
  }

  get memoryRuns(): boolean {
    return this.parts.head.reading.running
  }

  get busy(): boolean {
    const travelling = this.travel?.state === 'travelling'
    return (
      this.steering.busy || travelling || this.memoryRuns || (!this.follows && this.pose?.moving === true)
    )
  }

  configure(tuning: CameraTuning): void {
    const { limits } = tuning
    const changed = JSON.stringify(this.tuning.limits) !== JSON.stringify(limits)
    if (tuning.hold && !this.tuning.hold) this.travels.suspectHeld()
    this.tuning = tuning
    for (const body of this.bodies) void body.orders.keepOnLeash?.(tuning.leash ? this.bounds : null)
    const limited = Object.values(limits).some((x) => x !== null)
    if (changed) void this.parts.head.orders.keepWithin?.({ bounds: this.bounds, limited })
  }

  drive(push: Push): void {
    if (push.pan !== 0 || push.tilt !== 0 || push.zoom !== 0) {
      this.travels.interrupt()
      this.steering.endByItself()
    }
    this.steering.setPush(push)
  }

  finger(phase: 'down' | 'move' | 'up', u: number, v: number): void {
    if (phase === 'down') {
      if (this.steering.hold(u, v)) this.travels.interrupt()
      else this.news.notice(PLACE_UNKNOWN)
      return
    }
    this.steering.moveFinger(u, v)
    if (phase === 'move') return
    const target = this.steering.release()
    // Corrects the small error that the hand left, so that the point is where it was let go.
    if (target && isUsable(this.health.state)) void this.travelTo(target)
  }

  halt(): void {
    this.endMotion()
    for (const body of this.bodies) body.halt()
  }

  async perform(order: OwnOrder): Promise<CameraResult> {
    switch (order.t) {
      case 'aim':
        return this.refusal() ?? this.moves.aim(order.u, order.v, order.seconds)
      case 'frame':
        return this.refusal() ?? this.moves.frame(order, order.seconds)
      case 'nudge':
        return this.refusal() ?? this.moves.nudge(order.right, order.up)
      case 'zoomAbout':
        return this.refusal() ?? this.moves.zoomAbout(order.u, order.v, order.factor)
      default:
        return this.byDevice(order)
    }
  }

  async recall(recall: Recall): Promise<CameraResult> {
    const pose = this.travels.goalOf(recall)
    const refusal = this.refusal() ?? (isWithin(this.bounds, pose) ? null : refused(BEYOND))
    if (refusal) return refusal
    this.steering.yield()
    const result = await this.travels.begin(recall, pose)
    if (result.ok && recall.light && recall.parts.light) void this.restoreLight(recall.light)
    return result
  }

  async recallMemory(presetId: string, number: number): Promise<CameraResult> {
    const result = await this.perform({ t: 'memory', camera: '', action: 'recall', number })
    if (result.ok) this.travels.sentTo(presetId)
    return result
  }

  light(): Promise<Light | null> {
    const { lens } = this.parts
    return lens.orders.light ? lens.readLight(LIGHT_WITHIN_MS) : Promise.resolve(null)
  }

  restingPose(timeoutMs: number): Promise<RestingPose | null> {
    return this.resting.rest(timeoutMs)
  }

  async close(): Promise<void> {
    this.closed = true
    this.resting.close()
    this.steering.close()
    this.cancelHealth()
    this.cancelLate()
    await Promise.all(this.bodies.map((body) => body.close()))
  }

  private get settings(): SettingValues {
    return this.parts.lens.settings.values
  }

  /** As the operator sees it; recreated when what it follows from has changed. */
  private get sight(): Sight {
    const { mount, limits } = this.tuning
    const digital = this.settings[DIGITAL_ZOOM] === true
    const known = this.lastSight
    if (known && known.of.mount === mount && known.of.limits === limits && known.of.digital === digital)
      return known.sight
    const of = { profile: this.profile, lens: this.lens, mount, limits, digital }
    this.lastSight = { of, sight: sightOf(of) }
    return this.lastSight.sight
  }

  private get bounds(): Bounds {
    return this.sight.bounds
  }

  private async byDevice(order: Extract<OwnOrder, { t: DeviceOrderName }>): Promise<CameraResult> {
    const { by, what } = ORDERS[order.t]
    const anyTime = 'anyTime' in ORDERS[order.t]
    const refusal = anyTime ? null : this.refusal()
    if (refusal) return refusal
    if (by === 'whole' && this.bodies.length > 1) return CANNOT(`${what}: its parts are two devices`)
    const able = this.doers(by).filter((body) => body.orders[order.t])
    if (able.length === 0) return CANNOT(what)
    if (order.t === 'setting') {
      const spec = this.parts.lens.settings.specs.find(({ key }) => key === order.key)
      const problem = spec ? unsuitable(spec, order.value) : 'This camera has no such setting.'
      if (problem) return refused(problem)
    }
    if (movesCamera(order)) this.endMotion()
    if (order.t === 'followSubject') this.follows = order.on
    const results = able.map((body) =>
      (body.orders[order.t] as (order: OwnOrder) => Promise<CameraResult>)(order),
    )
    return firstFailure(await Promise.all(results))
  }

  private doers(by: 'head' | 'lens' | 'each' | 'whole'): readonly Body[] {
    if (by === 'each') return this.bodies
    return [by === 'lens' ? this.parts.lens : this.parts.head]
  }

  /** Another order takes the place of whatever moves it. */
  private endMotion(): void {
    this.travels.interrupt()
    this.steering.yield()
  }

  private async travelTo(goal: Goal): Promise<CameraResult> {
    const { head, lens } = this.parts
    const go = async (body: Body, part: Goal) =>
      (await body.orders.goTo?.(part)) ?? CANNOT('go to a position')
    if (head === lens) return go(head, goal)
    const { panDeg, tiltDeg, seconds, ...optics } = goal
    const orders: Promise<CameraResult>[] = []
    if (panDeg !== undefined)
      orders.push(go(head, seconds === undefined ? { panDeg, tiltDeg } : { panDeg, tiltDeg, seconds }))
    if (Object.keys(optics).length > 0) orders.push(go(lens, optics))
    return firstFailure(await Promise.all(orders))
  }

  private apply(speeds: Speeds, refines: boolean): void {
    const { head, lens } = this.parts
    if (head === lens) {
      head.drive(speeds, refines)
      return
    }
    const { panDegPerSec, tiltDegPerSec, zoomPerSec, focus } = speeds
    head.drive({ ...SPEEDS_AT_REST, panDegPerSec, tiltDegPerSec }, refines)
    lens.drive({ ...SPEEDS_AT_REST, zoomPerSec, focus }, refines)
  }

  /** Why the camera can take no order now. */
  private refusal(): CameraResult | null {
    const { state, advice } = this.health
    if (isUsable(state)) return null
    if (state === 'standby') return refused(STANDBY)
    return refused(state === 'silent' ? SILENT : (advice ?? NOT_READY))
  }

  private async restoreLight(light: Light): Promise<void> {
    const set = this.parts.lens.orders.light
    const result = set ? await set(light) : CANNOT('set its exposure and white balance')
    if (!result.ok) this.news.notice(`Exposure and white balance were not all set: ${result.message}`)
  }

  private update(): void {
    const { health } = this
    const hears = answers(health)
    const before = this.pose
    if (hears !== this.heard) this.hearingChanged(hears)
    if (!hears) this.travels.lose(health.advice ?? 'The camera stopped answering.')
    this.pose = hears ? this.readPose() : null
    this.resting.see(this.pose)
    this.news.fact('pose', this.pose)
    if (this.pose) this.travels.see(this.pose)
    if (before?.power !== this.pose?.power) this.tellHealth()
  }

  private readPose(): LivePose | null {
    const { parts, lens, clock, travels } = this
    const nowMs = clock.now()
    const restless = this.steering.busy || this.travel?.state === 'travelling'
    if (restless) this.restlessMs = nowMs
    const pose = joinedPose(parts, lens.hfovDeg, {
      wallMs: clock.wall() - nowMs,
      nowMs,
      held: travels.held,
      restless: nowMs - this.restlessMs < JUST_MOVED_MS,
    })
    // Where no further reading comes it is looked at again, so that an old pose does not pass for a new one.
    this.cancelLate()
    if (pose?.moving || nowMs - this.restlessMs < JUST_MOVED_MS)
      this.cancelLate = clock.after(LOOK_WHETHER_LATE_MS, () => this.update())
    return pose
  }

  /** Nobody knows what it did while silent: it is stopped on its return, and the operator is told. */
  private hearingChanged(hears: boolean): void {
    this.heard = hears
    if (!hears) {
      this.movedWhenLost =
        this.pose?.moving === true || this.steering.held || this.bodies.some((body) => body.stopPending)
      return
    }
    if (!this.movedWhenLost) return
    this.movedWhenLost = false
    this.news.notice(this.steering.held ? BACK_IN_HAND : BACK_AND_STOPPED)
  }

  private tellHealth(): void {
    const { health } = this
    // While all is well, the age of the last answer is not worth telling.
    const like = { ...health, silentMs: health.state === 'ready' ? null : health.silentMs }
    this.news.fact('able', this.capabilities)
    this.news.fact('settings', this.settings)
    this.news.fact('health', health, like)
  }

  private healthTick(): void {
    if (this.closed) return
    this.tellHealth()
    if (isUsable(this.health.state)) this.travels.checkHeld()
    this.cancelHealth = this.clock.after(HEALTH_EVERY_MS, () => this.healthTick())
  }
}
