/** Follows a recall from its start to its end, by what the camera reports. */
import { arrivalOf, type HeadProfile, topSpeed } from '../../core/heads/profile'
import { travelSeconds } from '../../core/motion/travel'
import { type Axes, isHere, type LivePose, offByDeg, type PresetPose } from '../../core/presets/pose'
import type { Travel } from '../../core/presets/standing'

/** A head may take this long to get going. */
const START_MS = 900
const SLACK_MS = 4000
/** An order that was taken, or seemed so, and moves nothing is given once more; so often. */
const MOST_AGAIN = 3
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
  private askedAgain = 0
  private readonly along: boolean
  /** What the way takes at its quickest, ms. */
  private readonly wayMs: number
  /** Something else moves the camera now. */
  private isLeft = false
  /** It reports where it is going instead of where it is. */
  tellsGoal = false

  constructor(
    presetId: string,
    private readonly goal: PresetPose,
    private readonly from: LivePose | null,
    private readonly profile: HeadProfile,
    nowMs: number,
    /** How long it is to take; null: as fast as it can. */
    private seconds: number | null = null,
    /** `eased`: the guard has made it slower; `along`: it follows a path, which may pass its end before it ends. */
    { eased = false, along = false } = {},
  ) {
    this.along = along
    this.wayMs = from ? this.estimateMs(from) : 0
    const totalMs = Math.max(this.wayMs, (seconds ?? 0) * 1000)
    this.travel = { presetId, state: 'travelling', leftMs: totalMs, totalMs, reason: null, eased }
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

  /** The guard lets it take so long from now on, s. */
  goesOn(seconds: number, nowMs: number): void {
    this.seconds = seconds
    this.startedMs = nowMs
    this.movedAtMs = nowMs
    this.travel = { ...this.travel, leftMs: seconds * 1000, totalMs: seconds * 1000, eased: true }
  }

  /** Takes a pose; returns whether the travel is over or its figures changed. */
  see(pose: LivePose, nowMs: number): boolean {
    if (this.travel.state === 'failed') return this.seeLate(pose)
    if (this.travel.state !== 'travelling') return false
    if (pose.moving) {
      this.movedAtMs = nowMs
      // It may still come to rest from what was before.
      this.hasMoved ||= !this.from || !isHere(pose, this.from, arrivalOf(this.profile))
    }
    const { totalMs } = this.travel
    const here = isHere(pose, this.goal, arrivalOf(this.profile))
    const tookMs = nowMs - this.startedMs
    // No head is there so soon: it tells where it goes, and only time tells when it has arrived.
    this.tellsGoal ||=
      !this.along && here && this.wayMs > WORTH_DOUBTING_MS && tookMs < this.wayMs * IMPOSSIBLE
    const onPath = this.along && nowMs < this.timeUpMs
    const tooSoon = onPath || (this.tellsGoal && tookMs < totalMs * UNSURE + START_MS)
    if (!pose.moving && !tooSoon && here) {
      this.travel = { ...this.travel, state: 'arrived', leftMs: 0 }
      return true
    }
    if (tooSoon && !onPath) return false
    const stuck = this.isTaken && nowMs - Math.max(this.movedAtMs, this.timeUpMs) > START_MS
    // The head has come and the lens has not: its packet was lost on a camera that takes few at once.
    const lensMissed = !this.along && offByDeg(pose, this.goal) <= arrivalOf(this.profile).deg
    if (stuck && (!this.hasMoved || lensMissed) && this.askedAgain < MOST_AGAIN) {
      this.askedAgain += 1
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

  /** It was given up too soon: a camera that was silent for a while got there all the same. */
  private seeLate(pose: LivePose): boolean {
    if (this.isLeft || this.tellsGoal || pose.moving) return false
    if (!isHere(pose, this.goal, arrivalOf(this.profile))) return false
    this.travel = { ...this.travel, state: 'arrived', leftMs: 0, reason: null }
    return true
  }

  fail(reason: string): boolean {
    if (this.travel.state !== 'travelling') return false
    this.travel = { ...this.travel, state: 'failed', leftMs: 0, reason }
    return true
  }

  interrupt(): boolean {
    this.isLeft = true
    if (this.travel.state !== 'travelling') return false
    this.travel = { ...this.travel, state: 'interrupted', leftMs: 0 }
    return true
  }
}
