/** The way between driver and device in the tests of the drivers: it loses, delays, and can be cut. */
/** What a TCP connection waits before it sends again. */
const RESENT_AFTER_MS = 200

export class Way {
  cut = false
  delayMs = 3
  /** 0..1, each direction. */
  loss = 0

  constructor(private readonly random: () => number) {}

  passes(): boolean {
    return !this.cut && this.random() >= this.loss
  }

  /** Over a connection what is lost is sent again: it only comes late. @returns ms; null if it is cut */
  resent(): number | null {
    if (this.cut) return null
    return this.delayMs + (this.random() < this.loss ? RESENT_AFTER_MS : 0)
  }
}
