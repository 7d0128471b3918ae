/** A camera made of one device, or of two that do different parts of it. */
import { UPRIGHT } from '../../core/cameras/connection'
import type { Light } from '../../core/cameras/light'
import type { Capabilities } from '../../core/facts/capabilities'
import { type Health, isUsable } from '../../core/facts/health'
import type { HeadRanges } from '../../core/heads/check'
import { arrivalOf, type HeadProfile, opened } from '../../core/heads/profile'
import { type Learnt, SpeedLedger } from '../../core/motion/follow/ledger'
import type { MoveRecord } from '../../core/motion/follow/record'
import { createLens, type Lens } from '../../core/optics/lens'
import type { Sight } from '../../core/optics/sight'
import { movesCamera, type OrderNamed } from '../../core/orders/orders'
import { DIGITAL_ZOOM, type SettingValues } from '../../core/picture/settings'
import { QUICK } from '../../core/presets/pace'
import type { LivePose, Tolerance } from '../../core/presets/pose'
import type { Travel } from '../../core/presets/standing'
import { speedOfStep } from '../../core/stick/dither'
import { type Bounds, boundsOf, isWithin, NO_LIMITS, type Push } from '../../core/stick/speeds'
import type { Body } from './body'
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
import { type DeviceOrder, doersOf, orderAll, refusalOf, refused, travelJoined } from './deviceOrders'
import type { Followed } from './followed'
import { HealthNews } from './healthNews'
import { answers, joinedCapabilities, joinedHealth, type Parts } from './joined'
import { KeptSight } from './keptSight'
import { LinkWatch } from './linkWatch'
import { makeMovers } from './movers'
import { News } from './news'
import type { PictureMoves } from './pictureMoves'
import { PoseReader } from './poseReader'
import { RestWatch } from './restWatch'
import type { Steering } from './steering'
import type { Travels } from './travels'

const LIGHT_WITHIN_MS = 1500
const PLACE_UNKNOWN = 'It is not known where this camera stands, so its picture cannot follow your finger.'
const BEYOND = 'This preset lies beyond the limits of this camera. Widen them, or store the preset again.'

const HOME_UNKNOWN =
  'This camera does not tell where its home is, so it cannot go there gently. Store a preset there.'
const NO_SUCH_STEP = 'This head has no such drive step.'
const TELLS_GOAL = 'It reports where it is going instead of where it is.'

export class OneCamera implements Camera {
  pose: LivePose | null = null
  private readonly lens: Lens
  private readonly bodies: readonly Body[]
  private readonly steering: Steering
  private readonly moves: PictureMoves
  private readonly travels: Travels
  private readonly resting: RestWatch
  private readonly news: News
  private readonly followed: Followed
  private readonly ledger: SpeedLedger
  private tuning: CameraTuning = {
    mount: UPRIGHT,
    limits: NO_LIMITS,
    hold: false,
    leash: false,
  }
  private readonly poses: PoseReader
  private readonly healths: HealthNews
  private readonly link: LinkWatch
  /** It moves by itself until it is told not to, so that its motion is nobody's. */
  private followsSubject = false
  private readonly kept = new KeptSight()

  constructor(
    readonly profile: HeadProfile,
    private readonly parts: Parts,
    events: CameraEvents,
    clock: Clock,
    /** Its profile is not confirmed: it goes to presets as the head itself counts. */
    byEncoder = false,
    /** What was learnt of it before. */
    known: Learnt | null = null,
  ) {
    this.lens = createLens(profile.lens)
    this.news = new News(events, clock)
    this.resting = new RestWatch(parts, clock)
    this.ledger = new SpeedLedger(profile, known)
    this.bodies = [...new Set([parts.head, parts.lens])]
    const movers = makeMovers({
      ...{ profile, parts, clock, byEncoder, lens: this.lens, ledger: this.ledger, news: this.news },
      sight: () => this.sight,
      pose: () => this.pose,
      follows: () => this.follows,
      stop: () => {
        for (const body of this.bodies) body.halt()
      },
      learnt: (learnt) => events.learnt?.(learnt),
      heldChanged: () => this.update(),
    })
    this.steering = movers.steering
    this.followed = movers.followed
    this.travels = movers.travels
    this.moves = movers.moves
    this.poses = new PoseReader(
      parts,
      {
        hfovDeg: this.lens.hfovDeg,
        held: () => this.travels.held,
        restless: () => this.steering.busy || this.travel?.state === 'travelling',
        lookAgain: () => this.update(),
      },
      clock,
    )
    this.link = new LinkWatch({
      steering: this.steering,
      moved: () =>
        this.pose?.moving === true || this.steering.busy || this.bodies.some((body) => body.stopPending),
      stop: () => this.halt(),
      notice: (text) => this.news.notice(text),
    })
    this.healths = new HealthNews(
      {
        health: () => this.health,
        capabilities: () => this.capabilities,
        settings: () => this.settings,
        tick: () => {
          if (isUsable(this.health.state)) this.travels.checkHeld()
        },
      },
      this.news,
      clock,
    )
    for (const body of this.bodies) {
      body.listen({
        reading: () => this.update(),
        health: () => {
          this.update()
          this.healths.tell()
        },
        notice: (text) => this.news.notice(text),
        runs: (speeds, atMs) => this.steering.runs(speeds, atMs),
      })
    }
    this.healths.start()
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

  get ranges(): HeadRanges | null {
    return this.parts.head.ranges ?? null
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
      this.steering.busy ||
      travelling ||
      this.memoryRuns ||
      (!this.followsSubject && this.pose?.moving === true)
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

  finger(phase: 'down' | 'move' | 'up', u: number, v: number, most = 1): void {
    this.steering.mostOfFinger = most
    if (phase === 'down') {
      if (this.steering.hold(u, v)) this.travels.interrupt()
      else this.news.notice(PLACE_UNKNOWN)
      return
    }
    this.steering.moveFinger(u, v)
    if (phase === 'move') return
    const target = this.steering.release()
    // Corrects the small error that the hand left, so that the point is where it was let go.
    if (target && isUsable(this.health.state)) void travelJoined(this.parts, target)
  }

  halt(): void {
    this.endMotion()
    for (const body of this.bodies) body.halt()
  }

  async perform(order: OwnOrder): Promise<CameraResult> {
    switch (order.t) {
      case 'aim':
        return this.refusal() ?? this.moves.aim(order.u, order.v, order)
      case 'frame':
        return this.refusal() ?? this.moves.frame(order, order)
      case 'nudge':
        return this.refusal() ?? this.moves.nudge(order.right, order.up, order)
      case 'zoomAbout':
        return this.refusal() ?? this.moves.zoomAbout(order.u, order.v, order.factor, order)
      case 'runSteps':
        return this.refusal() ?? this.runSteps(order)
      case 'hold':
        return this.holdStill()
      case 'home':
        return this.home(order)
      default:
        return this.byDevice(order)
    }
  }

  /** It came on air: what it does by itself becomes gentle. */
  ease(seconds: number): void {
    if (this.steering.bySteps) this.steering.brake()
    this.travels.ease(seconds)
  }

  get lastMove(): MoveRecord | null {
    return this.followed.last
  }

  private seeMove(): void {
    const { head, lens } = this.parts
    const { panDeg, tiltDeg, panTiltAtMs } = head.reading
    const { zoom } = lens.reading
    if (panDeg === null || tiltDeg === null || zoom === null) return
    this.followed.see({ panDeg, tiltDeg, zoom }, panTiltAtMs - this.profile.reportLagSeconds * 1000)
  }

  private runSteps({ pan, tilt, zoom, seconds }: OrderNamed<'runSteps'>): CameraResult {
    const { profile } = this
    this.travels.interrupt()
    const speeds = {
      panDegPerSec: speedOfStep(pan, profile.pan.speedsDegPerSec),
      tiltDegPerSec: speedOfStep(tilt, profile.tilt.speedsDegPerSec),
      zoomPerSec: speedOfStep(zoom, profile.zoomSpeedsPerSec),
      focus: 0,
    }
    if (![speeds.panDegPerSec, speeds.tiltDegPerSec, speeds.zoomPerSec].every(Number.isFinite))
      return refused(NO_SUCH_STEP)
    // Where its own ends are it is to find out; the limits that were set hold.
    this.steering.runSteps(speeds, seconds, boundsOf(opened(profile), this.tuning.limits, false))
    return DONE
  }

  private holdStill(): CameraResult {
    this.travels.interrupt()
    if (!this.steering.brake()) this.halt()
    return DONE
  }

  /** Its own home where it is to be quick; else where its axes are zero, if that is its home. */
  private async home(order: OrderNamed<'home'>): Promise<CameraResult> {
    const quick = (order.pace ?? QUICK).kind === 'quick' && order.atLeastSeconds === null
    if (quick) return this.byDevice(order)
    if (!this.parts.head.homeAtZero) return refused(HOME_UNKNOWN)
    return this.refusal() ?? this.moves.home(order)
  }

  async recall(recall: Recall): Promise<CameraResult> {
    const pose = this.travels.goalOf(recall)
    const refusal = this.refusal() ?? (isWithin(this.bounds, pose) ? null : refused(BEYOND))
    if (refusal) return refusal
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
    this.resting.close()
    this.steering.close()
    this.healths.close()
    this.poses.close()
    await Promise.all(this.bodies.map((body) => body.close()))
  }

  /** Can it be driven along a plan? On a leash each stretch is a move of its own. */
  private get follows(): boolean {
    const { panTilt, position, zoom } = this.capabilities
    return (
      this.profile.moves === 'followed' &&
      !this.tuning.leash &&
      panTilt &&
      zoom &&
      position.panTilt &&
      position.zoom
    )
  }

  private get settings(): SettingValues {
    return this.parts.lens.settings.values
  }

  private get sight(): Sight {
    const { mount, limits } = this.tuning
    const digital = this.settings[DIGITAL_ZOOM] === true
    return this.kept.get({ profile: this.profile, lens: this.lens, mount, limits, digital })
  }

  private get bounds(): Bounds {
    return this.sight.bounds
  }

  private async byDevice(order: DeviceOrder): Promise<CameraResult> {
    const able = doersOf(this.parts, order, this.health)
    if ('ok' in able) return able
    if (movesCamera(order)) this.endMotion()
    if (order.t === 'followSubject') this.followsSubject = order.on
    return orderAll(able, order)
  }

  /** Another order takes the place of whatever moves it. */
  private endMotion(): void {
    this.travels.interrupt()
    this.steering.yield()
  }

  /** Why the camera can take no order now. */
  private refusal(): CameraResult | null {
    return refusalOf(this.health)
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
    this.link.see(hears)
    if (!hears) this.travels.lose(health.advice ?? 'The camera stopped answering.')
    this.pose = hears ? this.poses.read() : null
    this.resting.see(this.pose)
    this.news.fact('pose', this.pose)
    if (this.pose) {
      this.travels.see(this.pose)
      this.steering.see()
      this.seeMove()
    }
    if (before?.power !== this.pose?.power) this.healths.tell()
  }
}
