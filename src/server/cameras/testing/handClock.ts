/** A clock moved by hand, for tests: alarms ring when it is moved past them. */
import type { Clock } from '../clock'

/** So many alarms at one moment are an endless loop. */
const MOST_TURNS = 10_000

export class HandClock implements Clock {
  ms = 1000
  private alarms: { at: number; act: () => void }[] = []
  now = () => this.ms
  wall = () => this.ms + 1e12
  after(ms: number, act: () => void) {
    const alarm = { at: this.ms + ms, act }
    this.alarms.push(alarm)
    return () => {
      this.alarms = this.alarms.filter((a) => a !== alarm)
    }
  }
  async run(ms: number) {
    const end = this.ms + ms
    let turns = 0
    await settle()
    for (;;) {
      const next = this.alarms.filter((a) => a.at <= end).sort((a, b) => a.at - b.at)[0]
      if (!next) break
      this.alarms = this.alarms.filter((a) => a !== next)
      turns = next.at > this.ms ? 0 : turns + 1
      if (turns > MOST_TURNS) throw new Error(`time stands still at ${this.ms} ms`)
      this.ms = Math.max(this.ms, next.at)
      next.act()
      await settle()
    }
    this.ms = end
  }
}

/** Lets everything that waits only for promises run until it waits for the clock. */
async function settle(): Promise<void> {
  for (let i = 0; i < 12; i++) await null
}
