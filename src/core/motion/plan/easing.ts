/**
 * How far along its way a move is: it gains speed along half a cosine, runs evenly, and slows down the same way.
 * Speed and acceleration are continuous, and the jerk is bounded.
 */

export interface Progress {
  /** 0..1 */
  s: number
  /** Per second, and per second squared. */
  rate: number
  change: number
}

/** @param share of the time that each of the two ramps takes, above 0 and at most 0.5 */
export function progressAt(t: number, seconds: number, share: number): Progress {
  if (t <= 0) return { s: 0, rate: 0, change: 0 }
  if (t >= seconds) return { s: 1, rate: 0, change: 0 }
  const ramp = share * seconds
  const even = 1 / (seconds - ramp)
  if (t > seconds - ramp) {
    const back = rising(seconds - t, ramp, even)
    return { s: 1 - back.s, rate: back.rate, change: -back.change }
  }
  if (t < ramp) return rising(t, ramp, even)
  return { s: even * (t - ramp / 2), rate: even, change: 0 }
}

function rising(t: number, ramp: number, even: number): Progress {
  const angle = (Math.PI * t) / ramp
  return {
    s: even * (t / 2 - (ramp / (2 * Math.PI)) * Math.sin(angle)),
    rate: (even / 2) * (1 - Math.cos(angle)),
    change: ((even * Math.PI) / (2 * ramp)) * Math.sin(angle),
  }
}

/** The most of each in a move of one second; over T seconds they fall with T, its square and its cube. */
export const peaksOf = (share: number) => {
  const rate = 1 / (1 - share)
  return {
    rate,
    change: (rate * Math.PI) / (2 * share),
    jerk: (rate * Math.PI ** 2) / (2 * share ** 2),
  }
}
