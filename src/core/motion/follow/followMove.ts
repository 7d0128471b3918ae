/**
 * Follows a trajectory by velocity: what the plan has at the moment when the order takes effect, and a correction
 * by what the head reports. The last stretch is left to one absolute order, which closes what error remains.
 */
import type { Lens } from '../../optics/lens'
import { type Speeds, type Standing, zoomSlope } from '../../stick/speeds'
import type { Mover } from '../mover'
import type { MoveState, MoveTrajectory } from '../plan/types'

/** How fast an error is corrected, per second. */
const GAIN = 3.2
/** The end that the closing order has for itself, s. */
export const CLOSING_S = 0.16

export interface FollowOf {
  trajectory: MoveTrajectory
  startMs: number
  /** From an order to its effect, s. */
  delaySeconds: number
  /** How long a speed runs before the next is told, s: it is the one that the plan has in the middle of that. */
  heldSeconds: number
  /** Errors below this are the head's own counting: degrees, degrees, zoom units. */
  grain: { pan: number; tilt: number; zoom: number }
  /** Lets an order close the rest. Without one it is driven to the very end. */
  closes: boolean
}

/** How fast what stays of an error is corrected, per second squared: a head that runs slower than it is told. */
const STAYING_GAIN = 3.2
/** Of the speed that is planned: what stays is never taken for more than this. */
const MOST_STAYING = 0.5
const LONGEST_STEP_S = 0.1

/** What is worth correcting. */
const beyond = (error: number, grain: number) => Math.sign(error) * Math.max(0, Math.abs(error) - grain)

/** Corrects one axis: by the error now, and by what stays of it. */
class Correction {
  private stays = 0
  private lastMs: number | null = null

  /** @param planned its speed; @param error what is missing of its position */
  speed(planned: number, error: number, nowMs: number): number {
    const seconds = this.lastMs === null ? 0 : Math.min(LONGEST_STEP_S, (nowMs - this.lastMs) / 1000)
    this.lastMs = nowMs
    const most = MOST_STAYING * Math.abs(planned)
    this.stays = Math.max(-most, Math.min(most, this.stays + STAYING_GAIN * error * seconds))
    return planned + this.stays + GAIN * error
  }
}

type Axis = 'pan' | 'tilt' | 'zoom'

/** What both have in common: when it is, and when it ends. */
class Following {
  readonly byHand = false
  constructor(protected readonly of: FollowOf) {}

  /** Where it is to be, and how fast to run from there; null when it is over. */
  protected plan(nowMs: number): MoveState | null {
    const { trajectory, startMs, delaySeconds, heldSeconds, closes } = this.of
    const s = (nowMs - startMs) / 1000 + delaySeconds
    const end = trajectory.seconds - (closes ? CLOSING_S : 0)
    if (s >= end) return null
    const now = trajectory.at(s)
    const then = trajectory.at(Math.min(trajectory.seconds, s + heldSeconds / 2))
    const axis = (name: Axis) => ({ ...now[name], velocity: then[name].velocity })
    return { pan: axis('pan'), tilt: axis('tilt'), zoom: axis('zoom'), focus: now.focus }
  }
}

export class FollowTurn extends Following implements Mover {
  private readonly pan = new Correction()
  private readonly tilt = new Correction()

  velocity(nowMs: number, _at: Standing | null, then: Standing | null): Partial<Speeds> | null {
    const plan = this.plan(nowMs)
    if (!plan) return null
    const { grain } = this.of
    const speed = (axis: 'pan' | 'tilt', at: number | undefined) => {
      const error = at === undefined ? 0 : beyond(plan[axis].position - at, grain[axis])
      return this[axis].speed(plan[axis].velocity, error, nowMs)
    }
    return { panDegPerSec: speed('pan', then?.panDeg), tiltDegPerSec: speed('tilt', then?.tiltDeg) }
  }
}

export class FollowZoom extends Following implements Mover {
  private readonly zoom = new Correction()

  constructor(
    of: FollowOf,
    private readonly lens: Lens,
  ) {
    super(of)
  }

  velocity(nowMs: number, _at: Standing | null, then: Standing | null): Partial<Speeds> | null {
    const plan = this.plan(nowMs)
    if (!plan) return null
    const { lens } = this
    const wanted = zoomOf(lens, plan.zoom.position)
    const slope = zoomSlope(lens, then?.zoom ?? wanted)
    const error = then ? beyond(wanted - then.zoom, this.of.grain.zoom) : 0
    return { zoomPerSec: this.zoom.speed(plan.zoom.velocity / slope, error, nowMs) }
  }
}

/** The zoom position of a focal length, told by its logarithm. */
export const zoomOf = (lens: Lens, log: number): number =>
  lens.zoomForMagnification(Math.exp(log) / lens.focalMm(lens.wide))

export const logOf = (lens: Lens, zoom: number): number => Math.log(lens.focalMm(zoom))
