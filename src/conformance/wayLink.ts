/** A link over a bad way to whatever answers at its far end, in virtual time. */
import type { HandClock } from '../server/cameras/testing/handClock'
import type { Way } from '../server/cameras/testing/way'
import type { Link } from '../server/links/link'

export type Over = 'framed' | 'raw' | 'tcp' | 'serial'

/** Takes what arrives, and answers: at once, and later when it is asked whether anything has come due. */
export interface FarEnd {
  take(bytes: number[], nowMs: number): number[][]
  poll(nowMs: number): number[][]
}

/** Bytes of a serial line take their time: ten bits each at 9600. */
const MS_PER_BYTE = 10 / 9.6

export class WayLink implements Link {
  private receive: (bytes: Uint8Array) => void = () => {}
  private opened: () => void = () => {}
  private lastThereMs = 0
  private lastBackMs = 0

  /** @param pollMs how often the far end is asked what has come due */
  constructor(
    private readonly over: Over,
    private readonly far: FarEnd,
    private readonly way: Way,
    private readonly clock: HandClock,
    pollMs: number,
  ) {
    const tick = () => {
      for (const bytes of far.poll(clock.now())) this.back(bytes)
      clock.after(pollMs, tick)
    }
    clock.after(pollMs, tick)
  }

  onReceive(listener: (bytes: Uint8Array) => void) {
    this.receive = listener
  }
  onTrouble() {}
  onOpen(listener: () => void) {
    this.opened = listener
  }
  renew() {
    if (this.over === 'tcp') this.opened()
  }
  close() {}

  send(bytes: Uint8Array): void {
    const delay = this.delay(bytes.length)
    if (delay === null) return
    this.clock.after(this.inOrder('lastThereMs', delay), () => {
      for (const answer of this.far.take([...bytes], this.clock.now())) this.back(answer)
    })
  }

  /** Null if it is lost. */
  private delay(bytes: number): number | null {
    if (this.over === 'serial') return bytes * MS_PER_BYTE
    if (this.over === 'tcp') return this.way.resent()
    return this.way.passes() ? this.way.delayMs : null
  }

  /** A stream never overtakes itself. */
  private inOrder(which: 'lastThereMs' | 'lastBackMs', delay: number): number {
    const now = this.clock.now()
    if (this.over !== 'tcp' && this.over !== 'serial') return delay
    this[which] = Math.max(this[which], now + delay)
    return this[which] - now
  }

  private back(bytes: number[]): void {
    const delay = this.delay(bytes.length)
    if (delay === null) return
    this.clock.after(this.inOrder('lastBackMs', delay), () => this.receive(Uint8Array.from(bytes)))
  }
}
