/** Follows a recall from its start to its end, by what the camera reports. */
import { arrivalOf, type HeadProfile, topSpeed } from '../../core/heads/profile'
import { travelSeconds } from '../../core/motion/travel'
import { type Axes, isHere, type LivePose, offByDeg, type PresetPose } from '../../core/presets/pose'
import type { Travel } from '../../core/presets/standing'

/** A head may take this long to get going. */
const START_MS = 900
const SLACK_MS = 4000
/** Where only time tells, a head may be slower than its profile. */
const UNSURE = 1.4
/** A head may be faster than its profile, but not so much. */
const IMPOSSIBLE = 0.35
const WORTH_DOUBTING_MS = 500

export class TravelWatch {
  travel: Travel
  private startedMs: number
  private movedAtMs: number
  /** The camera has taken the order: until then it may have good reasons to stand. */
  private isTaken = false
  private hasMoved = false
  /** It was taken and nothing moves: the order is to be given once more. */
  wantsAgain = false
  private askedAgain = false
  /** It reports where it is going instead of where it is. */
  tellsGoal = false

  constructor(
    presetId: string,
    private readonly goal: PresetPose,
    from: LivePose | null,
    private readonly profile: HeadProfile,
    nowMs: number,
    /** How long it is to take; null: as fast as it can. */
    private readonly seconds: number | null = null,
  ) {
    const totalMs = Math.max(from ? this.estimateMs(from) : 0, (seconds ?? 0) * 1000)
    this.travel = { presetId, state: 'travelling', leftMs: totalMs, totalMs, reason: null }
    this.startedMs = nowMs
    this.movedAtMs = nowMs
  }

  private estimateMs(from: Axes): number {
    const { pan, tilt, zoomTravelPerSec } = this.profile
    const { goal } = this
    const way = (to: number | null, at: number | null) => (to === null || at === null ? 0 : to - at)
    const seconds = Math.max(
      travelSeconds(way(goal.panDeg, from.panDeg), topSpeed(pan), pan.accelDegPerSec2),
      travelSeconds(way(goal.tiltDeg, from.tiltDeg), topSpeed(tilt), tilt.accelDegPerSec2),
      Math.abs(way(goal.zoom, from.zoom)) / zoomTravelPerSec,
    )
    return Math.round(seconds * 1000)
  }

  /** When its time is up. */
  private get timeUpMs(): number {
    return this.startedMs + (this.seconds ?? 0) * 1000
  }

  /** The camera has taken the order. */
  taken(nowMs: number): void {
    this.isTaken = true
    this.startedMs = nowMs
    this.movedAtMs = Math.max(this.movedAtMs, nowMs)
  }

  /** Takes a pose; returns whether the travel is over or its figures changed. */
  see(pose: LivePose, nowMs: number): boolean {
    if (this.travel.state !== 'travelling') return false
    if (pose.moving) {
      this.movedAtMs = nowMs
      this.hasMoved = true
    }
    const { totalMs } = this.travel
    const here = isHere(pose, this.goal, arrivalOf(this.profile))
    const tookMs = nowMs - this.startedMs
    // No head is there so soon: it tells where it goes, and only time tells when it has arrived.
    this.tellsGoal ||= here && totalMs > WORTH_DOUBTING_MS && tookMs < totalMs * IMPOSSIBLE
    const tooSoon = this.tellsGoal && tookMs < totalMs * UNSURE + START_MS
    if (!pose.moving && !tooSoon && here) {
      this.travel = { ...this.travel, state: 'arrived', leftMs: 0 }
      return true
    }
    if (tooSoon) return false
    const stuck = this.isTaken && nowMs - Math.max(this.movedAtMs, this.timeUpMs) > START_MS
    if (stuck && !this.hasMoved && !this.askedAgain) {
      this.askedAgain = true
      this.wantsAgain = true
      this.movedAtMs = nowMs
      return false
    }
    if (stuck || nowMs - this.startedMs > this.travel.totalMs * 1.5 + SLACK_MS) {
      const off = offByDeg(pose, this.goal)
      const far = off > arrivalOf(this.profile).deg ? `${off.toFixed(1)}° short` : 'with the zoom off'
      return this.fail(`The camera stopped ${far}. Recall it again.`)
    }
    const leftMs = Math.max(this.estimateMs(pose), this.timeUpMs - nowMs)
    this.travel = { ...this.travel, leftMs: Math.round(Math.min(leftMs, this.travel.leftMs || 1e9)) }
    return true
  }

  fail(reason: string): boolean {
    if (this.travel.state !== 'travelling') return false
    this.travel = { ...this.travel, state: 'failed', leftMs: 0, reason }
    return true
  }

  interrupt(): boolean {
    if (this.travel.state !== 'travelling') return false
    this.travel = { ...this.travel, state: 'interrupted', leftMs: 0 }
    return true
  }
}
