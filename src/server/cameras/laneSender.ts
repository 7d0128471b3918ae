/**
 * Sends drives and stops over requests: of the drives only the newest, one at a time; a stop at once,
 * past whatever is under way, and again until it was answered.
 */
import type { Clock } from './clock'

export interface LaneOrder {
  stop: boolean
  send(): Promise<unknown>
}

const STOP_AGAIN_MS = 120

export class LaneSender {
  private waiting: LaneOrder | null = null
  private driving = 0
  private stopping: LaneOrder | null = null
  private generation = 0
  private closed = false

  constructor(
    private readonly clock: Clock,
    private readonly onFault: (error: Error) => void,
  ) {}

  get stopPending(): boolean {
    return this.stopping !== null
  }

  set(order: LaneOrder): void {
    this.generation += 1
    if (order.stop) {
      this.waiting = null
      this.stopping = order
      void this.stop(order, this.generation)
      return
    }
    this.stopping = null
    this.waiting = order
    this.pump()
  }

  close(): void {
    this.closed = true
  }

  private pump(): void {
    const order = this.waiting
    if (!order || this.driving > 0) return
    this.waiting = null
    this.driving += 1
    order
      .send()
      .catch((error: Error) => this.onFault(error))
      .finally(() => {
        this.driving -= 1
        this.pump()
      })
  }

  private async stop(order: LaneOrder, generation: number): Promise<void> {
    while (this.generation === generation && !this.closed) {
      const overtaken = this.driving > 0
      const done = await order.send().then(
        () => true,
        () => false,
      )
      if (this.generation !== generation) return
      // A drive that was under way may have reached the camera after the stop did.
      if (done && !overtaken) break
      await new Promise<void>((resolve) => this.clock.after(done ? 30 : STOP_AGAIN_MS, resolve))
    }
    if (this.generation === generation) this.stopping = null
  }
}
