/** Counts answers in what came back from a device. */
import type { StopPacket } from '../core/guardian/stopOrder'

/** Far more than the answers to a handful of packets, hex digits. */
const MOST_KEPT = 4096

export class Answers {
  private heard = ''
  private readonly wanted = new Map<string, number>()

  constructor(packets: readonly StopPacket[]) {
    for (const { answered } of packets)
      if (answered !== null) this.wanted.set(answered, (this.wanted.get(answered) ?? 0) + 1)
  }

  hear(bytes: Uint8Array): void {
    this.heard = (this.heard + Buffer.from(bytes).toString('hex')).slice(-MOST_KEPT)
  }

  /** Has everything been answered that the packets ask for? Never, if nothing is ever answered. */
  get all(): boolean {
    if (this.wanted.size === 0) return false
    return [...this.wanted].every(
      ([pattern, count]) => (this.heard.match(new RegExp(pattern, 'g'))?.length ?? 0) >= count,
    )
  }
}
