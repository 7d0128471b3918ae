/** By which a stand-in lives: the computer's own, or one that is moved by hand. */
export interface Time {
  /** Since some moment, ms. */
  now(): number
  /** Since 1970, ms. */
  wall(): number
  /** @returns to forget it */
  after(ms: number, act: () => void): () => void
}

export const REAL_TIME: Time = {
  now: () => performance.now(),
  wall: Date.now,
  after(ms, act) {
    const timer = setTimeout(act, ms)
    return () => clearTimeout(timer)
  },
}
