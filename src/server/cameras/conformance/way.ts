/** The way between driver and device in the tests of the drivers: it loses, delays, and can be cut. */
export class Way {
  cut = false
  delayMs = 3
  /** 0..1, each direction. */
  loss = 0

  constructor(private readonly random: () => number) {}

  passes(): boolean {
    return !this.cut && this.random() >= this.loss
  }
}
