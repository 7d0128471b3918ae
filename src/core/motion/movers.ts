/** The movers of the Desk: the push of a hand, a finger on the picture, a zoom that glides. */
import type { Mount } from '../cameras/connection'
import { turnedStick } from '../cameras/mount'
import type { HeadProfile } from '../heads/profile'
import type { Lens } from '../optics/lens'
import type { View } from '../optics/sphere'
import type { FollowHand } from '../stick/follow'
import { ramp } from '../stick/ramp'
import {
  type Bounds,
  PUSH_AT_REST,
  pushSpeeds,
  type Range,
  type Speeds,
  type Standing,
  zoomSlope,
} from '../stick/speeds'
import type { Mover } from './mover'
import { evenly, type Trajectory } from './trajectory'

/** Longer than this between two steps counts as this, s: a stall must not make a push jump. */
const LONGEST_STEP_S = 0.1
/** Where a finger is held back, all of it is this much, picture widths per second. */
const FINGER_TOP = 0.8
/** What ran when a hand took over has faded after this, s. */
const CARRY_S = 0.4
/** Before a limit it is stopped so much earlier, s: what is told takes effect late. */
const REACH_S = 0.3
/** How fast a glide corrects its error, per s. */
const GLIDE_GAIN = 4

class Steps {
  private lastMs: number | null = null

  /** Seconds since the last step; 0 at the first. */
  since(nowMs: number): number {
    const seconds = this.lastMs === null ? 0 : (nowMs - this.lastMs) / 1000
    this.lastMs = nowMs
    return Math.min(LONGEST_STEP_S, Math.max(0, seconds))
  }
}

/** A hand turns the head; the push takes hold along its direction, so that a diagonal begins as one. */
export class TurnPush implements Mover {
  readonly byHand = true
  private readonly steps = new Steps()
  private ramped = { pan: 0, tilt: 0 }
  private carriedS = 0

  /**
   * @param push shares of the top speeds, as the head has right and up
   * @param carried what the head does when the hand comes: it fades instead of ending with a jerk
   */
  constructor(
    private readonly profile: HeadProfile,
    private readonly lens: Lens,
    public push: { pan: number; tilt: number },
    private readonly carried = { panDegPerSec: 0, tiltDegPerSec: 0 },
  ) {}

  velocity(nowMs: number, at: Standing | null): Partial<Speeds> {
    const { pan, tilt } = this.push
    const seconds = this.steps.since(nowMs)
    const length = Math.hypot(pan, tilt)
    const before = length === 0 ? 0 : (this.ramped.pan * pan + this.ramped.tilt * tilt) / length
    const share = length === 0 ? 0 : ramp(Math.max(0, before), length, seconds) / length
    this.ramped = { pan: pan * share, tilt: tilt * share }
    const speeds = pushSpeeds({ ...PUSH_AT_REST, ...this.ramped }, this.profile, this.lens, at)
    this.carriedS += seconds
    const left = Math.max(0, 1 - this.carriedS / CARRY_S)
    return {
      panDegPerSec: speeds.panDegPerSec + left * this.carried.panDegPerSec,
      tiltDegPerSec: speeds.tiltDegPerSec + left * this.carried.tiltDegPerSec,
    }
  }
}

/** What runs fades: a stop without a jolt. */
export class Brake implements Mover {
  readonly byHand = false

  constructor(
    private readonly from: Partial<Speeds>,
    private readonly startMs: number,
  ) {}

  velocity(nowMs: number): Partial<Speeds> | null {
    const left = 1 - (nowMs - this.startMs) / 1000 / CARRY_S
    if (left <= 0) return null
    return Object.fromEntries(Object.entries(this.from).map(([axis, speed]) => [axis, speed * left]))
  }
}

/** Runs at the head's own drive steps for a time, and never on beyond a limit. */
export class StepRun implements Mover {
  readonly byHand = false
  readonly bySteps = true

  /** @param bounds the limits that the operator has set: the head's own ends it may find by itself */
  constructor(
    private readonly speeds: Partial<Speeds>,
    private readonly untilMs: number,
    private readonly bounds: Bounds,
  ) {}

  velocity(nowMs: number, at: Standing | null): Partial<Speeds> | null {
    if (nowMs >= this.untilMs - 1) return null
    const within = (axis: 'panDegPerSec' | 'tiltDegPerSec', place: number | undefined, range: Range) => {
      const speed = this.speeds[axis]
      if (speed === undefined || place === undefined) return {}
      const goesOn = speed > 0 ? place < range.max - REACH_S * speed : place > range.min - REACH_S * speed
      return { [axis]: goesOn ? speed : 0 }
    }
    const { pan, tilt } = this.bounds
    return {
      ...this.speeds,
      ...within('panDegPerSec', at?.panDeg, pan),
      ...within('tiltDegPerSec', at?.tiltDeg, tilt),
    }
  }
}

/** A hand zooms. */
export class ZoomPush implements Mover {
  readonly byHand = true
  private readonly steps = new Steps()
  private ramped = 0

  constructor(
    private readonly profile: HeadProfile,
    private readonly lens: Lens,
    public push: number,
  ) {}

  velocity(nowMs: number, at: Standing | null): Partial<Speeds> {
    this.ramped = ramp(this.ramped, this.push, this.steps.since(nowMs))
    const { zoomPerSec } = pushSpeeds({ ...PUSH_AT_REST, zoom: this.ramped }, this.profile, this.lens, at)
    return { zoomPerSec }
  }
}

/** A hand's focus push, without a ramp. */
export class FocusPush implements Mover {
  readonly byHand = true
  constructor(public push: number) {}

  velocity(): Partial<Speeds> {
    return { focus: this.push }
  }
}

/** A finger holds a point of the picture. */
export class FingerHold implements Mover {
  readonly byHand = true
  /** The share of its top speed. */
  most = 1

  /** @param view what is seen when a camera stands somewhere, as the operator sees it */
  constructor(
    readonly follow: FollowHand,
    private readonly view: (at: Standing) => View,
    private readonly mount: Mount,
  ) {}

  velocity(nowMs: number, at: Standing | null): Partial<Speeds> {
    if (!at) return { panDegPerSec: 0, tiltDegPerSec: 0 }
    const view = this.view(at)
    const seen = this.follow.speeds(view, view, nowMs)
    // On air the picture follows only so fast: picture widths per second.
    const top = FINGER_TOP * this.most * view.hfovDeg
    const share = Math.min(1, top / Math.max(1e-6, Math.hypot(seen.panDegPerSec, seen.tiltDegPerSec)))
    const slowed = this.most < 1 ? share : 1
    const turned = turnedStick({ pan: seen.panDegPerSec, tilt: seen.tiltDegPerSec }, this.mount)
    return { panDegPerSec: turned.pan * slowed, tiltDegPerSec: turned.tilt * slowed }
  }
}

/** A zoom that is even to the eye: the logarithm of the focal length runs at one speed. */
export class ZoomGlide implements Mover {
  readonly byHand = false
  private readonly path: Trajectory

  /** @param from, to lens units */
  constructor(
    private readonly lens: Lens,
    from: number,
    to: number,
    seconds: number,
    private readonly startMs: number,
  ) {
    this.path = evenly(Math.log(lens.focalMm(from)), Math.log(lens.focalMm(to)), seconds)
  }

  velocity(nowMs: number, at: Standing | null): Partial<Speeds> | null {
    const s = (nowMs - this.startMs) / 1000
    if (s >= this.path.seconds) return null
    // Without readings it cannot be even; the absolute order at the end completes it.
    if (!at) return { zoomPerSec: 0 }
    const { lens } = this
    const wanted = this.path.at(s)
    const off = wanted.position - Math.log(lens.focalMm(at.zoom))
    return { zoomPerSec: (wanted.velocity + GLIDE_GAIN * off) / zoomSlope(lens, at.zoom) }
  }
}
