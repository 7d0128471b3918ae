/** What becomes of a motion whose camera falls silent, and what its operator is told when it is back. */

const BACK_AND_STOPPED =
  'The link to this camera is back. It may have gone on moving meanwhile, and has been stopped: look where it points.'
const BACK_IN_HAND =
  'The link to this camera is back, and it follows your stick again. It may have gone on moving meanwhile.'

export interface LinkWatchHost {
  /** It moved, or was told to. */
  moved(): boolean
  /** Something drives it; `held`: a hand. */
  readonly steering: { readonly busy: boolean; readonly held: boolean }
  stop(): void
  notice(text: string): void
}

export class LinkWatch {
  private heard = false
  private movedWhenLost = false

  constructor(private readonly host: LinkWatchHost) {}

  /** @param hears it answers */
  see(hears: boolean): void {
    if (hears === this.heard) return
    this.heard = hears
    const { host } = this
    if (!hears) {
      this.movedWhenLost = host.moved()
      // A hand goes on when the link is back; what ran by itself is over.
      if (host.steering.busy && !host.steering.held) host.stop()
      return
    }
    if (!this.movedWhenLost) return
    this.movedWhenLost = false
    // Nobody knows what it did while silent: it is stopped on its return.
    host.notice(host.steering.held ? BACK_IN_HAND : BACK_AND_STOPPED)
  }
}
