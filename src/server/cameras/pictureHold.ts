/**
 * A picture that the camera holds while it travels. Whatever becomes of the travel, the picture runs
 * again: an order to let it run is repeated until the camera has taken it.
 */
import type { CameraResult } from './camera'

export class PictureHold {
  /** As far as is known: told to hold it, and not yet known to run again. */
  held = false
  private wanted = false
  /** The camera has taken an order to hold it, or left it in doubt, and none to let it run since. */
  private told = false
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
      // What an overtaken order came to still tells whether it can be holding the picture.
      if (on && !saysNo(result)) this.told = true
      if (mine !== this.newest) return
      this.underWay = false
      if (on ? saysNo(result) && !this.told : this.runs(result)) this.know(false)
    })
  }

  /** Does it run after this answer to the order to let it run? */
  private runs(result: CameraResult): boolean {
    if (result.ok) this.told = false
    // One that was never seen to hold it, and says no, has nothing to let run.
    return result.ok || result.unknown === true || (!this.told && saysNo(result))
  }

  private know(held: boolean): void {
    if (held === this.held) return
    this.held = held
    this.changed()
  }
}

const saysNo = (result: CameraResult): boolean => !result.ok && (!!result.refused || !!result.unknown)
