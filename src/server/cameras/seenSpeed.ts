/** How fast an axis runs as its readings show, while it moves by orders of the camera's own. */

/** Readings further apart, or older, say nothing about now, ms. */
const LONGEST_MS = 400
/** Nearer ones say more about the head's counting than about its speed, ms. */
const LEAST_MS = 45

export class SeenSpeed {
  private readings: { atMs: number; value: number }[] = []

  see(value: number, atMs: number): void {
    const last = this.readings.at(-1)
    if (last?.atMs === atMs) return
    this.readings = [...this.readings.filter((r) => atMs - r.atMs <= LONGEST_MS), { atMs, value }]
  }

  /** Per second; 0 where it is not known. */
  at(nowMs: number): number {
    const last = this.readings.at(-1)
    if (!last || nowMs - last.atMs > LONGEST_MS) return 0
    const before = [...this.readings].reverse().find(({ atMs }) => last.atMs - atMs >= LEAST_MS)
    return before ? ((last.value - before.value) / (last.atMs - before.atMs)) * 1000 : 0
  }
}
