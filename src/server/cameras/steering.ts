/**
 * Runs what moves one camera: at most one mover for each group of axes. A new push acts at once; while
 * anything runs, each tick brings the speeds up to date with where the camera stands. A stop is told in the
 * same moment, whatever else is going on.
 */
import { turnedStick } from '../../core/cameras/mount'
import type { HeadProfile } from '../../core/heads/profile'
import { AXIS_GROUPS, type AxisGroup, type Mover } from '../../core/motion/mover'
import { FingerHold, FocusPush, TurnPush, ZoomGlide, ZoomPush } from '../../core/motion/movers'
import type { Sight } from '../../core/optics/sight'
import type { View } from '../../core/optics/sphere'
import { FollowHand } from '../../core/stick/follow'
import {
  PUSH_AT_REST,
  type Push,
  SPEEDS_AT_REST,
  type Speeds,
  type Standing,
  withinBounds,
} from '../../core/stick/speeds'
import type { Clock } from './clock'

const TICK_MS = 20
/** A hand that moves says so about every 20 ms: a tick need not run just before it, ms. */
const TICK_AFTER_HAND_MS = 26
/** A hand's push sooner after its last than this is taken together with it, ms. */
const LEAST_STEP_MS = 4
/** A reading older than this says nothing about now, ms. */
const READING_GOOD_MS = 1500

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
  private cancelTick: () => void = () => {}

  constructor(
    private readonly host: SteeringHost,
    private readonly clock: Clock,
  ) {}

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
    else this.push('panTilt', TurnPush, { pan, tilt }, () => new TurnPush(profile, lens, { pan, tilt }))
    if (push.zoom === 0) letGo('zoom')
    else this.push('zoom', ZoomPush, push.zoom, () => new ZoomPush(profile, lens, push.zoom))
    if (push.focus === 0) letGo('focus')
    else this.push('focus', FocusPush, push.focus, () => new FocusPush(push.focus))
    // A stop never waits.
    if (released) this.step(false)
    else this.stepSoon()
  }

  /** A finger is put down at (u, v); false where it is not known what it points at. */
  hold(u: number, v: number): boolean {
    const view = this.view()
    if (!view) return false
    for (const group of AXIS_GROUPS) this.letGo(group)
    const { view: viewFrom, mount } = this.host.sight()
    const finger = new FingerHold(new FollowHand(view, u, v), viewFrom, mount)
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

  /** Ends what runs without a hand, as a hand takes over. */
  endByItself(): void {
    for (const [group, { mover }] of this.running) if (!mover.byHand) this.running.delete(group)
  }

  /** Something else moves the camera now: every mover ends, and the devices are told nothing. */
  yield(): void {
    this.running.clear()
    this.speeds = SPEEDS_AT_REST
    this.cancelTick()
  }

  /** Where the head stands by now, as far as can be known. */
  standing(): Standing | null {
    const { panDeg, tiltDeg, zoom, panTiltAtMs, zoomAtMs } = this.host.known()
    const now = this.clock.now()
    if (panDeg === null || tiltDeg === null || zoom === null) return null
    if (now - panTiltAtMs > READING_GOOD_MS || now - zoomAtMs > READING_GOOD_MS) return null
    const { delaySeconds } = this.host.profile
    const since = (atMs: number) => Math.max(0, (now - atMs) / 1000 - delaySeconds)
    return {
      panDeg: panDeg + this.speeds.panDegPerSec * since(panTiltAtMs),
      tiltDeg: tiltDeg + this.speeds.tiltDegPerSec * since(panTiltAtMs),
      zoom: zoom + this.speeds.zoomPerSec * since(zoomAtMs),
    }
  }

  /** What is seen by now, as the operator sees it. */
  view(): View | null {
    const at = this.standing()
    return at && this.host.sight().view(at)
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

  private step(refines: boolean): void {
    const now = this.clock.now()
    if (!refines) this.pushedAtMs = now
    const ended: (() => void)[] = []
    this.speeds = this.wantedSpeeds(now, ended)
    this.host.apply(this.speeds, refines)
    this.cancelTick()
    if (this.busy) this.tickIn(refines ? TICK_MS : TICK_AFTER_HAND_MS, true)
    for (const tell of ended) tell()
  }

  private wantedSpeeds(now: number, ended: (() => void)[]): Speeds {
    const { lens, bounds } = this.host.sight()
    const at = this.standing()
    const speeds = { ...SPEEDS_AT_REST }
    for (const [group, run] of this.running) {
      const own = run.mover.velocity(now, at)
      if (own) Object.assign(speeds, own)
      else {
        this.running.delete(group)
        ended.push(run.ended)
      }
    }
    return at ? withinBounds(speeds, this.host.profile, lens, at, bounds) : speeds
  }
}
