/** A driver's clock: the real one, or one that a test moves by hand. */
export interface Clock {
  /** Ms on a clock that never jumps. */
  now(): number
  /** Ms since 1970. */
  wall(): number
  /** Calls back once; returns how to call it off. */
  after(ms: number, act: () => void): () => void
}

export const realClock: Clock = {
  now: () => performance.now(),
  wall: () => Date.now(),
  after(ms, act) {
    const timer = setTimeout(act, ms)
    return () => clearTimeout(timer)
  },
}
