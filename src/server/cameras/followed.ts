/**
 * Moves that take a given time: planned with all axes together, followed by velocity, closed by one absolute order.
 * A new goal during a move is planned from where the camera stands, at the speed that it has.
 */
import type { HeadProfile } from '../../core/heads/profile'
import { CLOSING_S, type FollowOf, FollowTurn, FollowZoom, logOf } from '../../core/motion/follow/followMove'
import { hfovAt, limitsOf, longestSmoothSeconds } from '../../core/motion/follow/limits'
import { type MoveRecord, MoveRecorder } from '../../core/motion/follow/record'
import { planMove } from '../../core/motion/plan/planMove'
import { type Moment, type MoveTrajectory, resting } from '../../core/motion/plan/types'
import type { Lens } from '../../core/optics/lens'
import { RAMP_HOLD_MS } from '../../core/stick/dither'
import { type Standing, zoomSlope } from '../../core/stick/speeds'
import type { Goal } from './body'
import { type CameraResult, DONE } from './camera'
import type { Clock } from './clock'
import type { Steering } from './steering'

/** A focus motor is told its next place so often, ms. */
const FOCUS_EVERY_MS = 120
/** Of the time that is left to it, the closing order takes so much by the profile's speeds. */
const CLOSING_SHARE = 0.6
/** How well it is known when a head did what, s. */
const DOUBT_S = 0.04
/** A closing order that is not taken within this has not come through, ms. */
const CLOSES_WITHIN_MS = 450
/** Then it is stopped first, and told again after this, ms. */
const AFTER_STOP_MS = 150
/** About how long a speed runs until the next is told, where the head takes them as they come, s. */
const HELD_S = 0.06
/** A correction below half a step of the head's own would only make it tremble. */
const GRAIN_STEPS = 0.5

export interface FollowedHost {
  readonly profile: HeadProfile
  readonly lens: Lens
  /** Can it be driven, and does it tell where it stands? */
  follows(): boolean
  /** The focus as it was last read; null where it is automatic or not known. */
  focus(): number | null
  travelTo(goal: Goal): Promise<CameraResult>
  /** A move has come to its end. */
  closed(): void
  /** Stops what it does. */
  stop(): void
}

export interface PlannedMove {
  trajectory: MoveTrajectory
  leastSeconds: number
  tooShort: boolean
  /** In more it cannot be smooth, s; null: in any time. */
  longestSmoothSeconds: number | null
}

export class Followed {
  private endFocus: () => void = () => {}
  /** The newest move was ended by something else. */
  private over = true
  private recording: { recorder: MoveRecorder; startMs: number } | null = null

  constructor(
    private readonly host: FollowedHost,
    private readonly steering: Steering,
    private readonly clock: Clock,
  ) {}

  /** @param seconds null: as short as is smooth @returns null where the camera cannot follow a plan */
  plan(goal: Goal, seconds: number | null): PlannedMove | null {
    const { profile, lens } = this.host
    const motion = this.host.follows() ? this.steering.motion() : null
    if (!motion) return null
    const { at, speeds: moving } = motion
    const zoom = goal.zoom ?? at.zoom
    const focus = this.focusWay(goal)
    const plan = planMove({
      from: {
        pan: movingAt(at.panDeg, moving.panDegPerSec),
        tilt: movingAt(at.tiltDeg, moving.tiltDegPerSec),
        zoom: movingAt(logOf(lens, at.zoom), moving.zoomPerSec * zoomSlope(lens, at.zoom)),
        focus: resting(focus?.from ?? 0),
      },
      to: {
        pan: goal.panDeg ?? at.panDeg,
        tilt: goal.tiltDeg ?? at.tiltDeg,
        zoom: logOf(lens, zoom),
        focus: focus?.to ?? 0,
      },
      seconds,
      limits: limitsOf(profile, lens, at.zoom, zoom),
      hfovDeg: (log) => hfovAt(profile, log),
    })
    // A plan that never ends is none: the head is then told where to go, and goes as it can.
    if (!Number.isFinite(plan.trajectory.seconds)) return null
    const smooth = longestSmoothSeconds(plan.trajectory, profile, lens, [at.zoom, zoom])
    return { ...plan, longestSmoothSeconds: smooth }
  }

  /** A path that is given. @returns null where the camera cannot follow one */
  along(trajectory: MoveTrajectory): PlannedMove | null {
    if (!this.host.follows() || !this.steering.motion()) return null
    return { trajectory, leastSeconds: 0, tooShort: false, longestSmoothSeconds: null }
  }

  start({ trajectory }: PlannedMove, goal: Goal): CameraResult {
    const { profile, lens } = this.host
    const startMs = this.clock.now()
    this.endFocus()
    this.over = false
    this.recording = {
      startMs,
      recorder: new MoveRecorder(trajectory, (log) => hfovAt(profile, log)),
    }
    const grain = {
      pan: GRAIN_STEPS / profile.pan.unitsPerDeg,
      tilt: GRAIN_STEPS / profile.tilt.unitsPerDeg,
      zoom: 1,
    }
    const { delaySeconds } = profile
    const heldSeconds = profile.restartsRamp ? RAMP_HOLD_MS / 1000 : HELD_S
    const of: FollowOf = { trajectory, startMs, delaySeconds, heldSeconds, grain, closes: true }
    const movers = {
      ...(goal.panDeg === undefined ? {} : { panTilt: new FollowTurn(of) }),
      ...(goal.zoom === undefined ? {} : { zoom: new FollowZoom(of, lens) }),
    }
    if (this.focusWay(goal)) this.pullFocus(of)
    this.steering.follow(movers, () => {
      this.endFocus()
      this.host.closed()
      const at = this.steering.standing(delaySeconds * 1000)
      const from = at && {
        panDeg: atLeast(at, goal, 'panDeg', trajectory),
        tiltDeg: atLeast(at, goal, 'tiltDeg', trajectory),
      }
      void this.close({ ...goal, seconds: CLOSING_S * CLOSING_SHARE, ...(from ? { from } : {}) }, startMs)
    })
    return DONE
  }

  /** The newest move, as it was planned and as it went; null before the first. */
  get last(): MoveRecord | null {
    return this.recording?.recorder.record ?? null
  }

  /** A reading has come. @param atMs when it was true */
  see(at: Standing, atMs: number): void {
    const { recording } = this
    if (!recording) return
    const { panDeg, tiltDeg, zoom } = at
    const s = (atMs - recording.startMs) / 1000
    recording.recorder.see({ s, panDeg, tiltDeg, zoom: logOf(this.host.lens, zoom) })
  }

  /**
   * Until the closing order is taken the camera still runs at its last speeds. If it does not come through it is
   * stopped, and told once more where to go.
   */
  private async close(goal: Goal, startMs: number): Promise<void> {
    const mine = () => this.recording?.startMs === startMs && !this.over
    const late = new Promise<null>((resolve) => this.clock.after(CLOSES_WITHIN_MS, () => resolve(null)))
    const taken = await Promise.race([this.host.travelTo(goal), late])
    if (taken?.ok || !mine()) return
    this.host.stop()
    this.clock.after(AFTER_STOP_MS, () => {
      if (mine()) void this.host.travelTo(goal)
    })
  }

  /** Something else moves the camera now. */
  end(): void {
    this.over = true
    this.endFocus()
  }

  private focusWay({ focusAuto, focus }: Goal): { from: number; to: number } | null {
    const from = this.host.focus()
    return focusAuto === false && focus !== null && focus !== undefined && from !== null
      ? { from, to: focus }
      : null
  }

  private pullFocus({ trajectory, startMs, delaySeconds }: FollowOf): void {
    let cancel = () => {}
    let last: number | null = null
    const pull = () => {
      const s = (this.clock.now() - startMs) / 1000 + delaySeconds
      const focus = Math.round(trajectory.at(s).focus.position)
      if (focus !== last) void this.host.travelTo({ focusAuto: false, focus })
      last = focus
      cancel = this.clock.after(FOCUS_EVERY_MS, pull)
    }
    pull()
    this.endFocus = () => cancel()
  }
}

/**
 * Where it stands when the closing order comes, but at least as far off as it may be: after a quick move that is
 * known less well, and an order that is too slow would be seen for longer than one that is a little quick.
 */
function atLeast(
  at: Standing,
  goal: Goal,
  axis: 'panDeg' | 'tiltDeg',
  { at: plan, seconds }: MoveTrajectory,
): number {
  const to = goal[axis] ?? at[axis]
  const name = axis === 'panDeg' ? 'pan' : 'tilt'
  const mean = Math.abs(to - plan(0)[name].position) / seconds
  return to - (Math.abs(to - at[axis]) + DOUBT_S * mean)
}

const movingAt = (position: number, velocity: number): Moment => ({ position, velocity, acceleration: 0 })
