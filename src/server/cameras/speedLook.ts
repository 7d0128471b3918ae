/** Looks at what a head does of what it is told, while it runs in one direction, and writes it down. */
import type { LearntAxis, SpeedLedger } from '../../core/motion/follow/ledger'
import type { Told } from '../../core/motion/follow/told'

/** Readings this far apart are compared, ms: nearer ones say more about how late they are. */
const LEAST_MS = 600
const LONGEST_MS = 1200
/** So many of the head's own steps: fewer say little. */
const LEAST_STEPS = 12

interface Look {
  atMs: number
  value: number
}

export interface Seen {
  axis: LearntAxis
  value: number
  /** When it was true, ms. */
  atMs: number
  /** The head's own step, in the unit of the value. */
  grain: number
}

const SPEED = { pan: 'panDegPerSec', tilt: 'tiltDegPerSec', zoom: 'zoomPerSec' } as const
const WAY = { pan: 'panDeg', tilt: 'tiltDeg', zoom: 'zoom' } as const

export class SpeedLook {
  private readonly first = new Map<LearntAxis, Look>()

  constructor(
    private readonly ledger: SpeedLedger,
    private readonly told: Told,
  ) {}

  /** @param delayMs from an order to its effect */
  see({ axis, value, atMs, grain }: Seen, delayMs: number): void {
    const first = this.first.get(axis)
    if (!first || atMs - first.atMs > LONGEST_MS) {
      this.first.set(axis, { atMs, value })
      return
    }
    if (atMs - first.atMs < LEAST_MS) return
    this.first.set(axis, { atMs, value })
    const [from, to] = [first.atMs - delayMs, atMs - delayMs]
    const pieces = this.told.pieces(SPEED[axis], from, to)
    const sign = Math.sign(pieces[0]?.speed ?? 0)
    // On its way back and forth a head may stick.
    if (sign === 0 || pieces.some(({ speed }) => Math.sign(speed) !== sign)) return
    const expected = this.told.between(from, to)[WAY[axis]]
    if (Math.abs(expected) < LEAST_STEPS * grain) return
    const ran = pieces.map(({ speed, seconds }) => ({ speed, share: (speed * seconds) / expected }))
    this.ledger.learn(axis, ran, (value - first.value) / expected)
  }
}
