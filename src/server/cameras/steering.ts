/**
 * Drives one camera: hands on the stick, a finger that holds a point of the picture, a zoom that glides.
 * A push acts at once; while anything is held, each tick brings it up to date with where the camera
 * stands. A stop is told in the same moment, whatever else is going on.
 */

import type { Mount } from '../../core/cameras/connection'
import { turnedPose, turnedStick } from '../../core/cameras/mount'
import type { HeadProfile } from '../../core/heads/profile'
import type { Lens } from '../../core/optics/lens'
import type { View } from '../../core/optics/sphere'
import { FollowHand } from '../../core/stick/follow'
import { ramp } from '../../core/stick/ramp'
import {
  type Bounds,
  type Push,
  SPEEDS_AT_REST,
  type Speeds,
  type Standing,
  speedsFor,
  withinBounds,
  zoomSlope,
} from '../../core/stick/speeds'
import { STICKS_AT_REST } from './camera'
import type { Clock } from './clock'

const TICK_MS = 20
/** A step sooner after the last than this would find nothing new, ms. */
const LEAST_STEP_MS = 4
/** What passes until a head does what it is told, s: its reading runs on with the speed that it had. */
const OBEYS_AFTER_S = 0.03
/** A reading older than this says nothing of now, ms. */
const READING_GOOD_MS = 1500
/** What is off of a glide is made good so fast, per s. */
const GLIDE_GAIN = 4

/** Where the parts of a camera were last known to be; null where they do not tell. */
export interface Known {
  panDeg: number | null
  tiltDeg: number | null
  zoom: number | null
  panTiltAtMs: number
  zoomAtMs: number
}

export interface SteeringHost {
  readonly profile: HeadProfile
  readonly lens: Lens
  known(): Known
  bounds(): Bounds
  mount(): Mount
  /** @param refines no hand has moved since the last time */
  apply(speeds: Speeds, refines: boolean): void
}

interface Glide {
  fromLog: number
  toLog: number
  startMs: number
  seconds: number
  end(): void
}

export class Steering {
  private push: Push = STICKS_AT_REST
  private ramped: Push = STICKS_AT_REST
  private follow: FollowHand | null = null
  private glide: Glide | null = null
  private speeds: Speeds = SPEEDS_AT_REST
  private steppedAtMs = Number.NEGATIVE_INFINITY
  private cancelTick: () => void = () => {}

  constructor(
    private readonly host: SteeringHost,
    private readonly clock: Clock,
  ) {}

  /** Is a hand on it? */
  get held(): boolean {
    const { pan, tilt, zoom, focus } = this.push
    return this.follow !== null || pan !== 0 || tilt !== 0 || zoom !== 0 || focus !== 0
  }

  /** A hand's push as the operator sees it; at rest all stops at once, and a finger lets go. */
  setPush(push: Push): void {
    this.push = turnedStick(push, this.host.mount())
    const { pan, tilt, zoom, focus } = push
    if (pan === 0 && tilt === 0) this.follow = null
    if (zoom !== 0) this.glide = null
    if (pan || tilt) this.follow = null
    if (pan === 0 && tilt === 0 && zoom === 0 && focus === 0) this.glide = null
    this.stepSoon()
  }

  /** A finger is put down at (u, v); false where it is not known what it points at. */
  hold(u: number, v: number): boolean {
    const view = this.view()
    if (!view) return false
    this.follow = new FollowHand(view, u, v)
    this.push = STICKS_AT_REST
    this.ramped = STICKS_AT_REST
    this.moveFinger(u, v)
    return true
  }

  moveFinger(u: number, v: number): void {
    const view = this.view()
    if (!this.follow || !view) return
    this.follow.move(u, v, view, view, this.clock.now())
    this.stepSoon()
  }

  /** The finger is lifted. @returns where the head must stand to be exact, as the head has it */
  release(): { panDeg: number; tiltDeg: number } | null {
    const view = this.view()
    const target = view && this.follow?.target(view, view)
    this.follow = null
    this.setPush(STICKS_AT_REST)
    return target ? turnedPose(target, this.host.mount()) : null
  }

  /** Zooms evenly to the eye, in a given time. @param end called when it is there */
  glideTo(zoom: number, seconds: number, end: () => void): void {
    const from = this.standing()?.zoom
    if (from === undefined) {
      end()
      return
    }
    const { lens } = this.host
    this.glide = {
      fromLog: Math.log(lens.focalMm(from)),
      toLog: Math.log(lens.focalMm(zoom)),
      startMs: this.clock.now(),
      seconds,
      end,
    }
    this.stepSoon()
  }

  /** Something else moves the camera now: what ran by itself is over, and nothing is told. */
  yield(): void {
    this.follow = null
    this.glide = null
    this.push = STICKS_AT_REST
    this.ramped = STICKS_AT_REST
    this.speeds = SPEEDS_AT_REST
    this.cancelTick()
  }

  /** Where the head stands by now, as far as can be known. */
  standing(): Standing | null {
    const { panDeg, tiltDeg, zoom, panTiltAtMs, zoomAtMs } = this.host.known()
    const now = this.clock.now()
    if (panDeg === null || tiltDeg === null || zoom === null) return null
    if (now - panTiltAtMs > READING_GOOD_MS || now - zoomAtMs > READING_GOOD_MS) return null
    const since = (atMs: number) => Math.max(0, (now - atMs) / 1000 - OBEYS_AFTER_S)
    return {
      panDeg: panDeg + this.speeds.panDegPerSec * since(panTiltAtMs),
      tiltDeg: tiltDeg + this.speeds.tiltDegPerSec * since(panTiltAtMs),
      zoom: zoom + this.speeds.zoomPerSec * since(zoomAtMs),
    }
  }

  /** What is seen by now, as the operator sees it. */
  view(): View | null {
    const at = this.standing()
    if (!at) return null
    const { lens } = this.host
    const seen = turnedPose(at, this.host.mount())
    return { ...seen, hfovDeg: lens.hfovDeg(at.zoom), vfovDeg: lens.vfovDeg(at.zoom) }
  }

  close(): void {
    this.cancelTick()
  }

  private stepSoon(): void {
    const wait = this.steppedAtMs + LEAST_STEP_MS - this.clock.now()
    const rest = !this.held && !this.glide
    if (rest || wait <= 0) this.step(false)
    else this.tickIn(wait, false)
  }

  private tickIn(ms: number, refines: boolean): void {
    this.cancelTick()
    this.cancelTick = this.clock.after(ms, () => this.step(refines))
  }

  private step(refines: boolean): void {
    const now = this.clock.now()
    const seconds = Math.min(0.1, Math.max(0, (now - this.steppedAtMs) / 1000))
    this.steppedAtMs = now
    this.ramped = this.rampedPush(seconds)
    this.speeds = this.wantedSpeeds(now)
    this.host.apply(this.speeds, refines)
    this.cancelTick()
    if (this.held || this.glide) this.tickIn(TICK_MS, true)
  }

  private rampedPush(seconds: number): Push {
    const { pan, tilt, zoom, focus } = this.push
    const length = Math.hypot(pan, tilt)
    // Along the direction of the hand, so that a diagonal begins as one.
    const before = length === 0 ? 0 : (this.ramped.pan * pan + this.ramped.tilt * tilt) / length
    const share = length === 0 ? 0 : ramp(Math.max(0, before), length, seconds) / length
    return { pan: pan * share, tilt: tilt * share, zoom: ramp(this.ramped.zoom, zoom, seconds), focus }
  }

  private wantedSpeeds(now: number): Speeds {
    const { profile, lens } = this.host
    const at = this.standing()
    const bounds = this.host.bounds()
    const speeds = speedsFor(this.ramped, profile, lens, at, bounds)
    if (!at) return speeds
    if (this.follow) {
      const view = this.view()!
      const seen = this.follow.speeds(view, view, now)
      const turned = turnedStick({ pan: seen.panDegPerSec, tilt: seen.tiltDegPerSec }, this.host.mount())
      speeds.panDegPerSec = turned.pan
      speeds.tiltDegPerSec = turned.tilt
    }
    if (this.glide) speeds.zoomPerSec = this.glideSpeed(this.glide, at.zoom, now)
    return withinBounds(speeds, profile, lens, at, bounds)
  }

  private glideSpeed(glide: Glide, zoom: number, now: number): number {
    const { fromLog, toLog, startMs, seconds } = glide
    const share = (now - startMs) / 1000 / seconds
    if (share >= 1) {
      this.glide = null
      glide.end()
      return 0
    }
    const { lens } = this.host
    const wantedLog = fromLog + (toLog - fromLog) * share
    const off = wantedLog - Math.log(lens.focalMm(zoom))
    return ((toLog - fromLog) / seconds + GLIDE_GAIN * off) / zoomSlope(lens, zoom)
  }
}
