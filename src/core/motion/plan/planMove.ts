/**
 * Plans a move of pan, tilt, zoom and focus together. From rest it is one way with one progress, so that all axes
 * start and end in the same moment. From any motion it is the sum of two: what the axes do comes to rest, and
 * meanwhile the move begins from where they will stand; so a new goal never makes a step.
 */
import { type Progress, peaksOf, progressAt } from './easing'
import { emptyPoint, type Path, pathBetween } from './path'
import { accelerationLeft, type Stop, stopFor, velocityLeft, wayLeft } from './stopping'
import {
  MOVE_AXES,
  type MoveAxis,
  type MoveInput,
  type MoveLimits,
  type MoveState,
  type MoveTrajectory,
  type Plan,
} from './types'

/** Shares of the time for each of the two ramps, the one liked best first. */
const SHARES = [0.35, 0.42, 0.28, 0.5, 0.2, 0.14] as const
const LEAST_S = 0.05
const SAMPLES = 16
/** For what lies between the samples. */
const MARGIN = 1.02
/** Moments at which a move that begins in motion is looked at. */
const CHECKS = 24
const TRIES = 10
const LONGER = 1.4

interface Peaks {
  first: number
  second: number
  third: number
}

/** The greatest derivatives of each axis along the way. */
function peaksAlong(path: Path): Record<MoveAxis, Peaks> {
  const peaks = {} as Record<MoveAxis, Peaks>
  for (const axis of MOVE_AXES) peaks[axis] = { first: 0, second: 0, third: 0 }
  let [point, before] = [emptyPoint(), emptyPoint()]
  for (let i = 0; i <= SAMPLES; i++) {
    path(i / SAMPLES, point)
    for (const axis of MOVE_AXES) {
      const most = peaks[axis]
      most.first = Math.max(most.first, Math.abs(point[axis].first))
      most.second = Math.max(most.second, Math.abs(point[axis].second))
      if (i === 0) continue
      most.third = Math.max(most.third, Math.abs(point[axis].second - before[axis].second) * SAMPLES)
    }
    ;[point, before] = [before, point]
  }
  return peaks
}

/** The shortest time with ramps of this share. */
function leastFor(peaks: Record<MoveAxis, Peaks>, limits: MoveLimits, share: number): number {
  const p = peaksOf(share)
  let least = LEAST_S
  for (const axis of MOVE_AXES) {
    const { first: a, second: b, third: c } = peaks[axis]
    if (a === 0 && b === 0) continue
    const { speed, accel, jerk } = limits[axis]
    const byJerk = c * p.rate ** 3 + 3 * b * p.rate * p.change + a * p.jerk
    least = Math.max(
      least,
      (a * p.rate) / speed,
      Math.sqrt((b * p.rate ** 2 + a * p.change) / accel),
      Math.cbrt(byJerk / jerk),
    )
  }
  return least * MARGIN
}

interface Motion {
  path: Path
  seconds: number
  share: number
  from: MoveState
  /** Null: it starts from rest. */
  stops: Record<MoveAxis, Stop> | null
}

function stateAt({ path, seconds, share, from, stops }: Motion, t: number): MoveState {
  const { s, rate, change } = progressAt(t, seconds, share)
  const point = path(s, emptyPoint())
  const state = {} as MoveState
  for (const axis of MOVE_AXES) {
    const { value, first, second } = point[axis]
    state[axis] = {
      position: value + (stops ? wayLeft(from[axis], stops[axis], t) : 0),
      velocity: first * rate + (stops ? velocityLeft(from[axis], stops[axis], t) : 0),
      acceleration:
        second * rate * rate + first * change + (stops ? accelerationLeft(from[axis], stops[axis], t) : 0),
    }
  }
  return state
}

/** When all of it is over. */
const endOf = ({ seconds, stops }: Pick<Motion, 'seconds' | 'stops'>) =>
  Math.max(seconds, ...(stops ? MOVE_AXES.map((axis) => Math.max(stops[axis].speed, stops[axis].accel)) : []))

/** How far a move of one second is at the moments that are looked at, by the share of its ramps. */
const PROGRESS: ReadonlyMap<number, readonly Progress[]> = new Map(
  SHARES.map((share) => [
    share,
    Array.from({ length: CHECKS + 1 }, (_, i) => progressAt(i / CHECKS, 1, share)),
  ]),
)
/** Two derivatives of each axis. */
const NUMBERS = 2 * MOVE_AXES.length

/**
 * The way's derivatives at those moments: they are the same however long the move takes, so that each is worked out
 * once, when it is first asked for.
 */
function derivativesOf(path: Path): (share: number, i: number) => Float64Array {
  const known = new Map<number, Float64Array>()
  const point = emptyPoint()
  return (share, i) => {
    const numbers = known.get(share) ?? new Float64Array(NUMBERS * (CHECKS + 1)).fill(Number.NaN)
    known.set(share, numbers)
    const start = NUMBERS * i
    if (!Number.isNaN(numbers[start])) return numbers
    path(PROGRESS.get(share)![i]!.s, point)
    for (let k = 0; k < MOVE_AXES.length; k++) {
      const { first, second } = point[MOVE_AXES[k]!]
      numbers[start + 2 * k] = first
      numbers[start + 2 * k + 1] = second
    }
    return numbers
  }
}

/** Once the way is done only the stop goes on, and that does not gain speed. */
function isWithin(
  { seconds, share, from, stops }: Motion,
  limits: MoveLimits,
  i: number,
  derivatives: Float64Array,
): boolean {
  const t = (seconds * i) / CHECKS
  const progress = PROGRESS.get(share)![i]!
  const rate = progress.rate / seconds
  const change = progress.change / seconds ** 2
  for (let k = 0; k < MOVE_AXES.length; k++) {
    const axis = MOVE_AXES[k]!
    const first = derivatives[NUMBERS * i + 2 * k]!
    const second = derivatives[NUMBERS * i + 2 * k + 1]!
    const velocity = first * rate + (stops ? velocityLeft(from[axis], stops[axis], t) : 0)
    const acceleration =
      second * rate * rate + first * change + (stops ? accelerationLeft(from[axis], stops[axis], t) : 0)
    // What it does already cannot be undone: it may not get worse.
    const { velocity: v0, acceleration: a0 } = from[axis]
    if (Math.abs(velocity) > Math.max(limits[axis].speed / MARGIN, Math.abs(v0) * MARGIN)) return false
    if (Math.abs(acceleration) > Math.max(limits[axis].accel / MARGIN, Math.abs(a0) * MARGIN)) return false
  }
  return true
}

/**
 * @param first the moment that is looked at first: one that was too much is likely to be so in the next try
 * @returns which of the moments is too much; null if none is
 */
function tooMuchAt(
  motion: Motion,
  limits: MoveLimits,
  first: number,
  derivatives: ReturnType<typeof derivativesOf>,
): number | null {
  for (let k = 0; k <= CHECKS; k++) {
    const i = (first + k) % (CHECKS + 1)
    if (!isWithin(motion, limits, i, derivatives(motion.share, i))) return i
  }
  return null
}

const trajectoryOf = (motion: Motion): MoveTrajectory => ({
  seconds: endOf(motion),
  at: (s) => stateAt(motion, s < 0 ? 0 : s),
})

/** Where the axes will stand. */
const placeOf = (state: MoveState, stops: Motion['stops']) => {
  const place = {} as Record<MoveAxis, number>
  for (const axis of MOVE_AXES) {
    const far = stops ? -wayLeft(state[axis], stops[axis], 0) : 0
    place[axis] = state[axis].position + far
  }
  return place
}

function stopsOf(from: MoveState, limits: MoveLimits): Motion['stops'] {
  if (MOVE_AXES.every((axis) => from[axis].velocity === 0 && from[axis].acceleration === 0)) return null
  const stops = {} as Record<MoveAxis, Stop>
  for (const axis of MOVE_AXES) stops[axis] = stopFor(from[axis], limits[axis])
  return stops
}

export function planMove({ from, to, seconds, limits, hfovDeg }: MoveInput): Plan {
  const stops = stopsOf(from, limits)
  const path = pathBetween(placeOf(from, stops), to, hfovDeg)
  const peaks = peaksAlong(path)
  const byShare = SHARES.map((share) => ({ share, least: leastFor(peaks, limits, share) }))
  const quickest = byShare.reduce((a, b) => (b.least < a.least ? b : a))
  const of = (time: number): Motion => {
    // A little slack, since a time that was told as the least is to be taken as it was told.
    const share = byShare.find(({ least }) => least <= time * 1.0001)?.share ?? quickest.share
    return { path, seconds: time, share, from, stops }
  }
  let least = quickest.least
  if (stops) {
    const derivatives = derivativesOf(path)
    let at: number | null = 0
    for (let i = 0; i < TRIES; i++) {
      at = tooMuchAt(of(least), limits, at, derivatives)
      if (at === null) break
      least *= LONGER
    }
    least = Math.max(least, endOf({ seconds: 0, stops }))
  }
  const tooShort = seconds !== null && seconds < least * 0.9999
  const time = seconds === null || tooShort ? least : seconds
  return { trajectory: trajectoryOf(of(time)), leastSeconds: least, tooShort }
}
