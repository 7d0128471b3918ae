/**
 * Follow hand: a point of the picture stays under the finger. The finger's own speed is passed on to the
 * head, and what is still off is made good in proportion; so it neither lags nor swings.
 */
import { type Fov, type PanTilt, poseToSee } from '../optics/aim'
import { rayAt, type Vec3, type View } from '../optics/sphere'

/** The share of the remaining error that is corrected in a second. */
const GAIN_PER_S = 7
/** The finger's speed is measured over this long, ms. */
const WINDOW_MS = 90
/** A finger that has not moved for this long stands, ms. */
const STANDS_MS = 60

interface Sample extends PanTilt {
  atMs: number
}

export class FollowHand {
  private readonly direction: Vec3
  private wanted: Sample[] = []
  private touched: { u: number; v: number }

  /** @param view what was seen when the finger was put down at (u, v) */
  constructor(view: View, u: number, v: number) {
    this.direction = rayAt(view, u, v)
    this.touched = { u, v }
  }

  /** The finger is at (u, v) now; the head at about `from`. */
  move(u: number, v: number, fov: Fov, from: PanTilt, nowMs: number): void {
    this.touched = { u, v }
    const pose = poseToSee(this.direction, u, v, fov, from)
    if (!pose) return
    this.wanted = [...this.wanted.filter((s) => nowMs - s.atMs <= WINDOW_MS), { ...pose, atMs: nowMs }]
  }

  /** Where the head must stand for the finger as it is now; null if it cannot. */
  target(fov: Fov, from: PanTilt): PanTilt | null {
    return poseToSee(this.direction, this.touched.u, this.touched.v, fov, from)
  }

  /** Degrees per second for a head that stands at `at`. */
  speeds(at: PanTilt, fov: Fov, nowMs: number): { panDegPerSec: number; tiltDegPerSec: number } {
    const target = this.target(fov, at)
    if (!target) return { panDegPerSec: 0, tiltDegPerSec: 0 }
    const hand = this.handSpeed(nowMs)
    const off = { pan: target.panDeg - at.panDeg, tilt: target.tiltDeg - at.tiltDeg }
    return {
      panDegPerSec: hand.pan + GAIN_PER_S * off.pan,
      tiltDegPerSec: hand.tilt + GAIN_PER_S * off.tilt,
    }
  }

  private handSpeed(nowMs: number): { pan: number; tilt: number } {
    const [first, last] = [this.wanted[0], this.wanted[this.wanted.length - 1]]
    if (!first || !last || last.atMs - first.atMs < 8 || nowMs - last.atMs > STANDS_MS)
      return { pan: 0, tilt: 0 }
    const seconds = (last.atMs - first.atMs) / 1000
    return { pan: (last.panDeg - first.panDeg) / seconds, tilt: (last.tiltDeg - first.tiltDeg) / seconds }
  }
}
