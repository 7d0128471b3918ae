/** What can be wrong with a stand-in and its network, repeatably from a seed. */
import * as v from 'valibot'
import { seeded } from '../../core/seeded'

const Share = v.pipe(v.number(), v.minValue(0), v.maxValue(1))
const Ms = v.pipe(v.number(), v.minValue(0), v.maxValue(60_000))

export const Faults = v.object({
  dropRate: v.optional(Share, 0),
  delayMs: v.optional(Ms, 0),
  /** Added to the delay, evenly spread from 0 to this. */
  jitterMs: v.optional(Ms, 0),
  duplicateRate: v.optional(Share, 0),
  /** Nothing comes in and nothing goes out; connections stay open as if all were well. */
  mute: v.optional(v.boolean(), false),
  bufferFull: v.optional(v.boolean(), false),
  /** Commands are acknowledged and never completed. */
  neverComplete: v.optional(v.boolean(), false),
  /** It does not know the questions where it stands. */
  noPosition: v.optional(v.boolean(), false),
  /** Serial: share of bytes before which noise comes on the line. */
  garbageRate: v.optional(Share, 0),
  /** Serial: the adapter is pulled out of the computer. */
  unplugged: v.optional(v.boolean(), false),
  /** ONVIF: the camera's clock minus the true time. */
  clockOffsetMs: v.optional(v.number(), 0),
  /** ONVIF: it tells a time other than the one by which it judges logins. */
  clockLies: v.optional(v.boolean(), false),
  /** RTSP: connections stay open and no video comes. */
  videoStalls: v.optional(v.boolean(), false),
  /** Somebody has knocked against the camera: it is turned by so much against what it says, degrees. */
  bumpPanDeg: v.optional(v.number(), 0),
  bumpTiltDeg: v.optional(v.number(), 0),
  /** Clockwise, as the camera sees itself: its picture turns the other way. */
  bumpRollDeg: v.optional(v.number(), 0),
  /** Power is cut now and comes back after this. */
  rebootMs: v.optional(Ms, 0),
  seed: v.optional(v.pipe(v.number(), v.integer()), 1),
})
export type Faults = v.InferOutput<typeof Faults>

export const NO_FAULTS: Faults = v.parse(Faults, {})

export class FaultyPath {
  private random: () => number

  constructor(private faults: Faults) {
    this.random = seeded(faults.seed)
  }

  set(faults: Faults): void {
    this.faults = faults
    this.random = seeded(faults.seed)
  }

  /** The delays in ms after which copies of a packet arrive; none where it is lost. */
  copies(): number[] {
    const { dropRate, delayMs, jitterMs, duplicateRate, mute } = this.faults
    if (mute) return []
    const delay = () => delayMs + this.random() * jitterMs
    const out = this.random() < dropRate ? [] : [delay()]
    if (this.random() < duplicateRate) out.push(delay())
    return out
  }

  /** Noise that comes before a byte; none mostly. */
  noise(): number[] {
    const { garbageRate } = this.faults
    if (garbageRate === 0 || this.random() >= garbageRate) return []
    return Array.from({ length: 1 + Math.floor(this.random() * 4) }, () => Math.floor(this.random() * 256))
  }
}
