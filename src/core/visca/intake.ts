/**
 * How fast a camera takes packets. Many read one in a picture field and drop what comes sooner, so there is
 * a least gap between any two, stops apart. It is widened where packets that follow another closely go
 * unanswered more often than those that stand alone; a bad network loses both alike.
 */

/** Packets closer than this to the one before count as close, ms. */
const CLOSE_MS = 45
const WIDEN_MS = 10
const WIDEST_MS = 60
/** An outcome counts this much for the share that is lost. */
const GAIN = 0.12
const LEAST_SEEN = 8
/** With so much lost while answers still come, whatever the reason, less is sent. */
const TOO_MUCH = 0.5
const MANY = 24

export class Intake {
  private lastMs = Number.NEGATIVE_INFINITY
  private close = { seen: 0, lost: 0 }
  private alone = { seen: 0, lost: 0 }
  private all = { seen: 0, lost: 0 }

  /** @param gapMs between any two packets but stops, ms; 0 if the camera takes them as they come */
  constructor(public gapMs: number) {}

  /** When the next packet may go. */
  get readyAtMs(): number {
    return this.gapMs === 0 ? Number.NEGATIVE_INFINITY : this.lastMs + this.gapMs
  }

  /** @returns the time since the packet before, ms */
  sent(nowMs: number): number {
    const spaced = nowMs - this.lastMs
    this.lastMs = nowMs
    return spaced
  }

  /** @returns whether the gap was widened */
  outcome(spacedMs: number, answered: boolean): boolean {
    for (const of of [spacedMs < CLOSE_MS ? this.close : this.alone, this.all]) {
      of.seen += 1
      of.lost += ((answered ? 0 : 1) - of.lost) * Math.max(GAIN, 1 / of.seen)
    }
    const { close, alone, all } = this
    const apart = alone.seen < LEAST_SEEN / 2 ? 0 : alone.lost
    const tooClose = close.seen >= LEAST_SEEN && close.lost > 0.25 && close.lost > 0.1 + 1.5 * apart
    const tooMuch = all.seen >= MANY && all.lost > TOO_MUCH
    if (!(tooClose || tooMuch) || this.gapMs >= WIDEST_MS) return false
    this.gapMs = Math.min(WIDEST_MS, Math.max(this.gapMs, CLOSE_MS - 2 * WIDEN_MS) + WIDEN_MS)
    this.close = { seen: 0, lost: 0 }
    this.all = { seen: 0, lost: 0 }
    return true
  }
}
