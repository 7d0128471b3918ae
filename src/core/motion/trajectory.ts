/** A motion that is known beforehand. */

export interface Moment {
  position: number
  /** Per second. */
  velocity: number
}

export interface Trajectory {
  readonly seconds: number
  /** @param s seconds from its start; before and after it stands at its ends */
  at(s: number): Moment
}

/** From one value to another at one speed. */
export function evenly(from: number, to: number, seconds: number): Trajectory {
  const velocity = (to - from) / seconds
  return {
    seconds,
    at(s) {
      if (s < 0) return { position: from, velocity: 0 }
      if (s >= seconds) return { position: to, velocity: 0 }
      return { position: from + velocity * s, velocity }
    },
  }
}
