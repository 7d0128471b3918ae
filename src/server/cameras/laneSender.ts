/**
 * Sends drives, stops and travels over requests: of the drives only the newest, one at a time; a stop at once,
 * past whatever is under way, and again until it was answered. Requests may overtake each other on the way, so that
 * what must have the last word is sent once more when those that it may have overtaken are over.
 */
import type { Clock } from './clock'

export interface LaneOrder {
  stop: boolean
  send(): Promise<unknown>
}

const STOP_AGAIN_MS = 120
/** The longest that a travel waits for the answer to a stop. */
const STOP_FIRST_MS = 1500
/** How often a travel that may have been overtaken is tried again, at most. */
const TRAVEL_TRIES = 4

export class LaneSender {
  private waiting: LaneOrder | null = null
  private driving = 0
  private travelling = 0
  private stopping: LaneOrder | null = null
  /** Counts what it was told, so that an older order knows that it is over. */
  private orders = 0
  private closed = false
  /** Called when a drive, a travel or a stop is over. */
  private watchers: (() => void)[] = []

  constructor(
    private readonly clock: Clock,
    private readonly onFault: (error: Error) => void,
  ) {}

  get stopPending(): boolean {
    return this.stopping !== null
  }

  set(order: LaneOrder): void {
    this.orders += 1
    if (order.stop) {
      this.waiting = null
      this.stopping = order
      void this.stop(order, this.orders)
      return
    }
    this.stopping = null
    this.waiting = order
    this.pump()
    this.changed()
  }

  /**
   * Sends what makes it move without a hand, in place of the drives. A stop that waits for its answer comes first.
   * @returns the answer; null if something newer took its place
   */
  async travel<T>(send: () => Promise<T>): Promise<T | null> {
    this.waiting = null
    if (this.stopping === null) this.orders += 1
    const mine = this.orders
    if (this.stopping) await this.stopAnswered(mine)
    if (this.orders !== mine || this.closed) return null
    const overtaken = this.driving > 0
    const answer = await this.sendTravel(send)
    if (overtaken) void this.travelAgain(send, mine)
    return answer
  }

  close(): void {
    this.closed = true
    this.changed()
  }

  private async stopAnswered(mine: number): Promise<void> {
    let waited = false
    const forget = this.clock.after(STOP_FIRST_MS, () => {
      waited = true
      this.changed()
    })
    await this.until(() => waited || this.stopping === null || this.orders !== mine || this.closed)
    forget()
  }

  private async sendTravel<T>(send: () => Promise<T>): Promise<T> {
    this.travelling += 1
    try {
      return await send()
    } finally {
      this.travelling -= 1
      this.changed()
    }
  }

  /** A drive that was under way may have reached the camera after it. */
  private async travelAgain(send: () => Promise<unknown>, mine: number): Promise<void> {
    const over = () => this.orders !== mine || this.closed
    await this.until(() => this.driving === 0 || over())
    for (let i = 0; i < TRAVEL_TRIES && !over(); i++) {
      try {
        await this.sendTravel(send)
        return
      } catch (error) {
        if (i === TRAVEL_TRIES - 1 && !over()) this.onFault(error as Error)
      }
    }
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
        this.changed()
      })
  }

  private async stop(order: LaneOrder, mine: number): Promise<void> {
    while (this.orders === mine && !this.closed) {
      const overtaken = this.driving > 0 || this.travelling > 0
      const done = await order.send().then(
        () => true,
        () => false,
      )
      if (this.orders !== mine) return
      // What was under way may have reached the camera after the stop did.
      if (done && !overtaken) break
      await new Promise<void>((resolve) => this.clock.after(done ? 30 : STOP_AGAIN_MS, resolve))
    }
    if (this.orders === mine) this.stopping = null
    this.changed()
  }

  private changed(): void {
    for (const watch of this.watchers.splice(0)) watch()
  }

  private async until(what: () => boolean): Promise<void> {
    while (!what()) await new Promise<void>((resolve) => this.watchers.push(resolve))
  }
}
