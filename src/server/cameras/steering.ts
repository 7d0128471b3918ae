/**
 * Runs what moves one camera: at most one mover for each group of axes. A new push acts at once; while
 * anything runs, each tick brings the speeds up to date with where the camera stands. A stop is told in the
 * same moment, whatever else is going on.
 */
import { turnedStick } from '../../core/cameras/mount'
import type { HeadProfile } from '../../core/heads/profile'
import type { LearntAxis, SpeedLedger } from '../../core/motion/follow/ledger'
import { Told } from '../../core/motion/follow/told'
import { AXIS_GROUPS, type AxisGroup, type Mover } from '../../core/motion/mover'
import {
  Brake,
  FingerHold,
  FocusPush,
  StepRun,
  TurnPush,
  ZoomGlide,
  ZoomPush,
} from '../../core/motion/movers'
import type { Sight } from '../../core/optics/sight'
import type { View } from '../../core/optics/sphere'
import { FollowHand } from '../../core/stick/follow'
import {
  type Bounds,
  PUSH_AT_REST,
  type Push,
  SPEEDS_AT_REST,
  type Speeds,
  type Standing,
  withinBounds,
} from '../../core/stick/speeds'
import type { Clock } from './clock'
import { SeenMotion } from './seenMotion'
import { SpeedLook } from './speedLook'

const TICK_MS = 20
/** A hand that moves says so about every 20 ms: a tick need not run just before it, ms. */
const TICK_AFTER_HAND_MS = 26
/** A hand's push sooner after its last than this is taken together with it, ms. */
const LEAST_STEP_MS = 4
/** A reading older than this says nothing about now, ms. */
const READING_GOOD_MS = 1500
/** One of a camera that stood still, and has been told nothing since, is good for longer, ms. */
const GOOD_AT_REST_MS = 4000
/** A camera that was told something so long before it was seen to stand has come to rest, ms. */
const RESTS_AFTER_MS = 1000

/** Where the parts of a camera were last known to be; null if they do not report it. */
export interface Known {
  panDeg: number | null
  tiltDeg: number | null
  zoom: number | null
  panTiltAtMs: number
  zoomAtMs: number
}

export interface SteeringHost {
  readonly profile: HeadProfile
  /** What the head makes of the speeds that it is told. */
  readonly ledger: SpeedLedger
  /** As the operator sees it now. */
  sight(): Sight
  known(): Known
  /** @param refines no hand has moved since the last time */
  apply(speeds: Speeds, refines: boolean): void
}

interface Running {
  mover: Mover
  /** Called when the mover ends by itself. */
  ended(): void
}

export class Steering {
  private readonly running = new Map<AxisGroup, Running>()
  private speeds: Speeds = SPEEDS_AT_REST
  private pushedAtMs = Number.NEGATIVE_INFINITY
  /** When anything was last told to move it, from here or past here. */
  private orderedAtMs = Number.NEGATIVE_INFINITY
  /** What ran by itself when a hand came. */
  private carried: Speeds = SPEEDS_AT_REST
  private mostOfFingerNow = 1
  private readonly told = new Told()
  /** What it does by what it was told last, and for which axes it says that itself. */
  private ran = { ...SPEEDS_AT_REST }
  private says = { turn: false, zoom: false }
  private cancelTick: () => void = () => {}
  private readonly look: SpeedLook
  private readonly seen = new SeenMotion()

  constructor(
    private readonly host: SteeringHost,
    private readonly clock: Clock,
  ) {
    this.look = new SpeedLook(host.ledger, this.told)
  }

  /** Is a hand on it? */
  get held(): boolean {
    return [...this.running.values()].some(({ mover }) => mover.byHand)
  }

  get busy(): boolean {
    return this.running.size > 0
  }

  /** A hand's push as the operator sees it. At rest every axis that a hand moves stops at once. */
  setPush(push: Push): void {
    const { profile } = this.host
    const { lens, mount } = this.host.sight()
    const { pan, tilt } = turnedStick(push, mount)
    let released = false
    const letGo = (group: AxisGroup) => {
      released = this.letGo(group) || released
    }
    if (pan === 0 && tilt === 0) letGo('panTilt')
    else
      this.push('panTilt', TurnPush, { pan, tilt }, () => {
        const { carried } = this
        this.carried = SPEEDS_AT_REST
        return new TurnPush(profile, lens, { pan, tilt }, carried)
      })
    if (push.zoom === 0) letGo('zoom')
    else this.push('zoom', ZoomPush, push.zoom, () => new ZoomPush(profile, lens, push.zoom))
    if (push.focus === 0) letGo('focus')
    else this.push('focus', FocusPush, push.focus, () => new FocusPush(push.focus))
    // A stop never waits.
    if (released) this.step(false)
    else this.stepSoon()
  }

  /** The share of its top speed with which a finger is followed. */
  set mostOfFinger(most: number) {
    this.mostOfFingerNow = most
    if (this.finger) this.finger.most = most
  }

  /** A finger is put down at (u, v); false where it is not known what it points at. */
  hold(u: number, v: number): boolean {
    const view = this.view()
    if (!view) return false
    for (const group of AXIS_GROUPS) this.letGo(group)
    const { view: viewFrom, mount } = this.host.sight()
    const finger = new FingerHold(new FollowHand(view, u, v), viewFrom, mount)
    finger.most = this.mostOfFingerNow
    this.run('panTilt', finger)
    this.moveFinger(u, v)
    return true
  }

  moveFinger(u: number, v: number): void {
    const view = this.view()
    const finger = this.finger
    if (!finger || !view) return
    finger.follow.move(u, v, view, view, this.clock.now())
    this.stepSoon()
  }

  /** The finger is lifted. @returns where the head must stand to be exact, as the head has it */
  release(): { panDeg: number; tiltDeg: number } | null {
    const view = this.view()
    const target = view && this.finger?.follow.target(view, view)
    this.setPush(PUSH_AT_REST)
    return target ? this.host.sight().turned(target) : null
  }

  /** Zooms evenly to the eye, in a given time. @param ended called when it is there, and not when it is ended */
  glideTo(zoom: number, seconds: number, ended: () => void): void {
    const from = this.standing()?.zoom
    if (from === undefined) {
      ended()
      return
    }
    this.run('zoom', new ZoomGlide(this.host.sight().lens, from, zoom, seconds, this.clock.now()), ended)
    this.stepSoon()
  }

  /** Follows a planned move. @param ended called once, when the rest is left to an order that closes it */
  follow(movers: Partial<Record<AxisGroup, Mover>>, ended: () => void): void {
    this.running.clear()
    let told = false
    const once = () => {
      if (!told) ended()
      told = true
    }
    for (const group of AXIS_GROUPS) {
      const mover = movers[group]
      if (mover) this.run(group, mover, once)
    }
    this.step(false)
  }

  /** Runs at the head's own steps, for so long. */
  runSteps(speeds: Speeds, seconds: number, bounds: Bounds): void {
    const { panDegPerSec, tiltDegPerSec, zoomPerSec } = speeds
    const until = this.clock.now() + 1000 * seconds
    this.running.clear()
    if (panDegPerSec !== 0 || tiltDegPerSec !== 0)
      this.run('panTilt', new StepRun({ panDegPerSec, tiltDegPerSec }, until, bounds))
    if (zoomPerSec !== 0) this.run('zoom', new StepRun({ zoomPerSec }, until, bounds))
    this.step(false)
    // Its time is what it is measured by: it ends no tick later.
    this.clock.after(1000 * seconds, () => {
      if (this.bySteps) this.step(false)
    })
  }

  /** Is it driven by the head's own steps? */
  get bySteps(): boolean {
    return [...this.running.values()].some(({ mover }) => mover.bySteps)
  }

  /** What is driven from here comes to rest softly. @returns false where nothing is */
  brake(): boolean {
    if (!this.busy) return false
    const { panDegPerSec, tiltDegPerSec, zoomPerSec } = this.speeds
    const now = this.clock.now()
    this.running.clear()
    this.run('panTilt', new Brake({ panDegPerSec, tiltDegPerSec }, now))
    this.run('zoom', new Brake({ zoomPerSec }, now))
    this.step(false)
    return true
  }

  private get rests(): boolean {
    const { panTiltAtMs, zoomAtMs } = this.host.known()
    const seenMs = Math.min(panTiltAtMs, zoomAtMs)
    return !this.busy && this.seen.rested && seenMs - this.orderedAtMs > RESTS_AFTER_MS
  }

  /** Where it is and how fast it runs, whoever moves it: as it is told, or else as it is seen. */
  motion(): { at: Standing; speeds: Speeds } | null {
    const at = this.standing(0, this.rests ? GOOD_AT_REST_MS : READING_GOOD_MS)
    if (!at || this.busy) return at && { at, speeds: this.speeds }
    const { panTiltAtMs, zoomAtMs } = this.host.known()
    const readMs = { panDeg: panTiltAtMs, tiltDeg: panTiltAtMs, zoom: zoomAtMs }
    return this.seen.now(at, readMs, this.host.profile, this.host.sight(), this.clock.now())
  }

  /** Ends what runs without a hand, as a hand takes over. */
  endByItself(): void {
    if (this.running.get('panTilt')?.mover.byHand === false) this.carried = this.speeds
    for (const [group, { mover }] of this.running) if (!mover.byHand) this.running.delete(group)
  }

  /** Something else moves the camera now: every mover ends, and the devices are told nothing. */
  yield(): void {
    this.orderedAtMs = this.clock.now()
    this.running.clear()
    this.speeds = SPEEDS_AT_REST
    this.ran = { ...SPEEDS_AT_REST }
    this.told.forget(this.clock.now())
    this.cancelTick()
  }

  /** Where the head stands by now, or so much later, as far as can be known. */
  standing(aheadMs = 0, goodMs = READING_GOOD_MS): Standing | null {
    const { panDeg, tiltDeg, zoom, panTiltAtMs, zoomAtMs } = this.host.known()
    const now = this.clock.now()
    if (panDeg === null || tiltDeg === null || zoom === null) return null
    if (now - panTiltAtMs > goodMs || now - zoomAtMs > goodMs) return null
    const { delaySeconds, reportLagSeconds } = this.host.profile
    const delayMs = delaySeconds * 1000
    // What is said now takes effect after the delay, and what was said until then still runs.
    const until = now + aheadMs - delayMs
    const from = (atMs: number) => atMs - reportLagSeconds * 1000 - delayMs
    const turn = this.told.between(from(panTiltAtMs), until)
    const lens = this.told.between(from(zoomAtMs), until)
    return {
      panDeg: panDeg + turn.panDeg,
      tiltDeg: tiltDeg + turn.tiltDeg,
      zoom: zoom + lens.zoom,
    }
  }

  /** What is seen by now, as the operator sees it. */
  view(): View | null {
    const at = this.standing()
    return at && this.host.sight().view(at)
  }

  /** A reading has come. */
  see(): void {
    const { panDeg, tiltDeg, zoom, panTiltAtMs, zoomAtMs } = this.host.known()
    const { profile } = this.host
    const lagMs = profile.reportLagSeconds * 1000
    const delayMs = profile.delaySeconds * 1000
    const see = (axis: LearntAxis, value: number | null, atMs: number, grain: number) => {
      if (value !== null && this.busy && !this.held)
        this.look.see({ axis, value, atMs: atMs - lagMs, grain }, delayMs)
    }
    if (panDeg !== null) this.seen.see('panDeg', panDeg, panTiltAtMs)
    if (tiltDeg !== null) this.seen.see('tiltDeg', tiltDeg, panTiltAtMs)
    if (zoom !== null) this.seen.see('zoom', zoom, zoomAtMs)
    see('pan', panDeg, panTiltAtMs, 1 / profile.pan.unitsPerDeg)
    see('tilt', tiltDeg, panTiltAtMs, 1 / profile.tilt.unitsPerDeg)
    see('zoom', zoom, zoomAtMs, 1)
  }

  close(): void {
    this.cancelTick()
  }

  private get finger(): FingerHold | null {
    const mover = this.running.get('panTilt')?.mover
    return mover instanceof FingerHold ? mover : null
  }

  private run(group: AxisGroup, mover: Mover, ended = () => {}): void {
    this.running.set(group, { mover, ended })
  }

  /** A push that goes on is told to its mover, which knows how far it has risen. */
  private push<P>(
    group: AxisGroup,
    kind: new (...args: never[]) => Mover & { push: P },
    push: P,
    make: () => Mover,
  ): void {
    const mover = this.running.get(group)?.mover
    if (mover instanceof kind) mover.push = push
    else this.run(group, make())
  }

  /** @returns whether a hand was on it */
  private letGo(group: AxisGroup): boolean {
    const byHand = this.running.get(group)?.mover.byHand === true
    return byHand && this.running.delete(group)
  }

  private stepSoon(): void {
    const wait = this.pushedAtMs + LEAST_STEP_MS - this.clock.now()
    if (!this.busy || wait <= 0) this.step(false)
    else this.tickIn(wait, false)
  }

  private tickIn(ms: number, refines: boolean): void {
    this.cancelTick()
    this.cancelTick = this.clock.after(ms, () => this.step(refines))
  }

  /**
   * A device says what it has been told, and when: that is better known than what was wanted of it.
   * @param speeds as the profile counts; null: it cannot say any more
   */
  runs(speeds: Partial<Speeds> | null, atMs: number): void {
    const { ledger } = this.host
    const does = (axis: LearntAxis, nominal: number) =>
      nominal === 0 ? 0 : nominal * ledger.factor(axis, nominal)
    if (!speeds) this.says = { turn: false, zoom: false }
    if (speeds?.panDegPerSec !== undefined && speeds.tiltDegPerSec !== undefined) {
      this.says.turn = true
      this.ran.panDegPerSec = does('pan', speeds.panDegPerSec)
      this.ran.tiltDegPerSec = does('tilt', speeds.tiltDegPerSec)
    }
    if (speeds?.zoomPerSec !== undefined) {
      this.says.zoom = true
      this.ran.zoomPerSec = does('zoom', speeds.zoomPerSec)
    }
    this.told.tell(this.ran, atMs)
  }

  /**
   * What is wanted of it, where it does not say itself what it was told. Nothing wanted is nothing told: after the order
   * that closes a move no stop is sent, of which the device could tell.
   */
  private tell({ panDegPerSec, tiltDegPerSec, zoomPerSec }: Speeds, atMs: number): void {
    const turns = panDegPerSec !== 0 || tiltDegPerSec !== 0
    if (!this.says.turn || !turns) Object.assign(this.ran, { panDegPerSec, tiltDegPerSec })
    if (!this.says.zoom || zoomPerSec === 0) this.ran.zoomPerSec = zoomPerSec
    this.told.tell(this.ran, atMs)
  }

  private step(refines: boolean): void {
    const now = this.clock.now()
    this.orderedAtMs = now
    if (!refines) this.pushedAtMs = now
    const ended: (() => void)[] = []
    this.speeds = this.wantedSpeeds(now, ended)
    this.tell(this.speeds, now)
    // What closes a move takes the place of its last speed: a stop between the two would be seen.
    for (const tell of ended) tell()
    this.host.apply(this.corrected(this.speeds), refines)
    this.cancelTick()
    if (this.busy) this.tickIn(refines ? TICK_MS : TICK_AFTER_HAND_MS, true)
  }

  /** What the head is to be told, so that it does what is wanted. */
  private corrected(speeds: Speeds): Speeds {
    const { ledger } = this.host
    // A hand corrects for itself, and is not to find another head under it than a moment ago.
    if (this.held || this.bySteps) return speeds
    return {
      ...speeds,
      panDegPerSec: ledger.toTell('pan', speeds.panDegPerSec),
      tiltDegPerSec: ledger.toTell('tilt', speeds.tiltDegPerSec),
      zoomPerSec: ledger.toTell('zoom', speeds.zoomPerSec),
    }
  }

  private wantedSpeeds(now: number, ended: (() => void)[]): Speeds {
    const { lens, bounds } = this.host.sight()
    const at = this.standing()
    const then = this.standing(this.host.profile.delaySeconds * 1000)
    const speeds = { ...SPEEDS_AT_REST }
    const soft = { ...SPEEDS_AT_REST }
    for (const [group, run] of this.running) {
      const own = run.mover.velocity(now, at, then)
      // A planned move knows the limits, and brakes for its own end.
      if (own) Object.assign(run.mover.byHand ? soft : speeds, own)
      else {
        this.running.delete(group)
        ended.push(run.ended)
      }
    }
    const held = at ? withinBounds(soft, this.host.profile, lens, at, bounds) : soft
    return {
      panDegPerSec: speeds.panDegPerSec + held.panDegPerSec,
      tiltDegPerSec: speeds.tiltDegPerSec + held.tiltDegPerSec,
      zoomPerSec: speeds.zoomPerSec + held.zoomPerSec,
      focus: speeds.focus + held.focus,
    }
  }
}
