/**
 * A picture that the camera holds while it travels. Whatever becomes of the travel, the picture runs
 * again: an order to let it run is repeated until the camera has taken it.
 */
import type { CameraResult } from './camera'

export class PictureHold {
  /** As far as is known: told to hold it, and not yet known to run again. */
  held = false
  private wanted = false
  private newest = 0
  private underWay = false

  constructor(
    private readonly freeze: (on: boolean) => Promise<CameraResult>,
    private readonly changed: () => void,
  ) {}

  /** After a start of the server: an earlier one may have ended while the picture was held. */
  suspect(): void {
    this.held = true
  }

  start(): void {
    this.wanted = true
    this.tell()
  }

  end(): void {
    if (!this.held && !this.wanted) return
    this.wanted = false
    this.tell()
  }

  /** Called now and then while the camera answers. */
  check(): void {
    if (this.held && !this.wanted && !this.underWay) this.tell()
  }

  private tell(): void {
    const mine = ++this.newest
    const on = this.wanted
    this.underWay = true
    if (on) this.know(true)
    void this.freeze(on).then((result) => {
      if (mine !== this.newest) return
      this.underWay = false
      // One that does not know the order cannot be holding it.
      if (result.ok ? !on : result.refused) this.know(false)
    })
  }

  private know(held: boolean): void {
    if (held === this.held) return
    this.held = held
    this.changed()
  }
}
