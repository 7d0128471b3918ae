/** Asks a device again and again, and sooner when something is about to change. */
import type { Clock } from './clock'

const SOON_MS = 10

export class Poller {
  private running = false
  private closed = false
  private cancel: () => void = () => {}

  /** @param work one round of questions; @returns ms until the next. It must not throw. */
  constructor(
    private readonly clock: Clock,
    private readonly work: () => number | Promise<number>,
  ) {}

  in(ms: number): void {
    this.cancel()
    if (!this.closed) this.cancel = this.clock.after(ms, () => this.run())
  }

  /** A poll under way is not disturbed: it will see the change. */
  soon(ms = SOON_MS): void {
    if (!this.running) this.in(ms)
  }

  close(): void {
    this.closed = true
    this.cancel()
  }

  private run(): void {
    this.running = true
    const next = this.work()
    if (typeof next === 'number') this.done(next)
    else void next.then((ms) => this.done(ms))
  }

  private done(ms: number): void {
    this.running = false
    this.in(ms)
  }
}
