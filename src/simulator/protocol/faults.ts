/** A network that loses, delays, doubles and reorders packets, repeatably from a seed. */
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
  /** Nothing comes in and nothing goes out. */
  mute: v.optional(v.boolean(), false),
  bufferFull: v.optional(v.boolean(), false),
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
}
