/**
 * Goes to a position on a device that can only be driven: at speeds that fall with what is left, by the positions
 * that it reports.
 */
import type { HeadProfile } from '../../../core/heads/profile'
import { arrivalOf, topSpeed } from '../../../core/heads/profile'
import { SPEEDS_AT_REST, type Speeds } from '../../../core/stick/speeds'
import type { Goal, Reading } from '../body'
import { type CameraResult, DONE } from '../camera'
import type { Clock } from '../clock'

const EVERY_MS = 120
const LONGEST_MS = 30_000
/** Speed for what is left, per second: reports are late, so it must not be hasty. */
const EAGERNESS = 1.6
/** The slowest shares of its top speed that are tried: a head that does not move at the first is given more. */
const LEAST_SHARE = { from: 0.003, to: 0.06 }
const MORE = 1.5
/** It is there when it still is after so many looks: reports are late. */
const LOOKS = 4

export interface SeekHost {
  readonly profile: HeadProfile
  readonly clock: Clock
  reading(): Reading
  drive(speeds: Speeds): void
  /** It was told something else since. */
  over(): boolean
}

/** One axis on its way. Slowest speeds are learnt: what sticks gets more, what overshoots less. */
class Approach {
  private least = LEAST_SHARE.from
  private lastAt: number | null = null
  private lastSign = 0
  private still = 0

  constructor(
    private readonly top: number,
    private readonly tolerance: number,
  ) {}

  speed(to: number | null | undefined, at: number | null): number {
    if (to === null || to === undefined || at === null) return 0
    const left = to - at
    if (Math.abs(left) <= this.tolerance) {
      this.lastSign = 0
      return 0
    }
    const sign = Math.sign(left)
    this.still = this.lastSign === sign && at === this.lastAt ? this.still + 1 : 0
    if (this.still > 2) this.least = Math.min(LEAST_SHARE.to, this.least * MORE)
    if (this.lastSign === -sign) this.least = Math.max(LEAST_SHARE.from, this.least / MORE / MORE)
    this.lastAt = at
    this.lastSign = sign
    return sign * Math.min(this.top, Math.max(this.top * this.least, Math.abs(left) * EAGERNESS))
  }
}

/** Settles at once when the way is known to lie open; it then goes on by itself. */
export function seek(host: SeekHost, goal: Goal): CameraResult {
  const { profile, clock } = host
  const { deg, zoom: zoomUnits } = arrivalOf(profile)
  const until = clock.now() + LONGEST_MS
  const zoomTop = profile.zoomSpeedsPerSec[profile.zoomSpeedsPerSec.length - 1]!
  const pan = new Approach(topSpeed(profile.pan), deg * 0.7)
  const tilt = new Approach(topSpeed(profile.tilt), deg * 0.7)
  const zoom = new Approach(zoomTop, zoomUnits * 0.7)
  let there = 0
  const step = () => {
    if (host.over()) return
    const at = host.reading()
    const speeds: Speeds = {
      panDegPerSec: pan.speed(goal.panDeg, at.panDeg),
      tiltDegPerSec: tilt.speed(goal.tiltDeg, at.tiltDeg),
      zoomPerSec: zoom.speed(goal.zoom, at.zoom),
      focus: 0,
    }
    const stands = speeds.panDegPerSec === 0 && speeds.tiltDegPerSec === 0 && speeds.zoomPerSec === 0
    there = stands ? there + 1 : 0
    const late = clock.now() > until
    host.drive(stands || late ? SPEEDS_AT_REST : speeds)
    if (there < LOOKS && !late) clock.after(EVERY_MS, step)
  }
  step()
  return DONE
}
