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
/** The slowest share of its top speed at which a head can be relied on to move. */
const LEAST_SHARE = 0.02

export interface SeekHost {
  readonly profile: HeadProfile
  readonly clock: Clock
  reading(): Reading
  drive(speeds: Speeds): void
  /** It was told something else since. */
  over(): boolean
}

function towards(left: number, top: number, tolerance: number): number {
  if (Math.abs(left) <= tolerance) return 0
  return Math.sign(left) * Math.min(top, Math.max(top * LEAST_SHARE, Math.abs(left) * EAGERNESS))
}

/** Settles at once when the way is known to lie open; it then goes on by itself. */
export function seek(host: SeekHost, goal: Goal): CameraResult {
  const { profile, clock } = host
  const { deg, zoom: zoomUnits } = arrivalOf(profile)
  const until = clock.now() + LONGEST_MS
  const zoomTop = profile.zoomSpeedsPerSec[profile.zoomSpeedsPerSec.length - 1]!
  const step = () => {
    if (host.over()) return
    const { panDeg, tiltDeg, zoom } = host.reading()
    const left = (to: number | null | undefined, at: number | null) =>
      to === null || to === undefined || at === null ? 0 : to - at
    const speeds: Speeds = {
      panDegPerSec: towards(left(goal.panDeg, panDeg), topSpeed(profile.pan), deg * 0.7),
      tiltDegPerSec: towards(left(goal.tiltDeg, tiltDeg), topSpeed(profile.tilt), deg * 0.7),
      zoomPerSec: towards(left(goal.zoom, zoom), zoomTop, zoomUnits * 0.7),
      focus: 0,
    }
    const there = speeds.panDegPerSec === 0 && speeds.tiltDegPerSec === 0 && speeds.zoomPerSec === 0
    host.drive(there || clock.now() > until ? SPEEDS_AT_REST : speeds)
    if (!there && clock.now() <= until) clock.after(EVERY_MS, step)
  }
  step()
  return DONE
}
