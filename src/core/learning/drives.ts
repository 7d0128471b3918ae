/**
 * What a head makes of its drive steps, from what it reports while it runs: the speed of each step, how fast it
 * gathers speed, and how long it takes until a motion shows in its reports. Source: docs/learning.md.
 */
import type { Figure } from './turning'

/** One step, driven for a while and stopped; the head rested before and after. */
export interface DriveRun {
  /** Signed drive step of this axis, from 1. */
  step: number
  /** When it was told to run, and to stop, ms. */
  toldMs: number
  stoppedMs: number
  /** What it reported, in its own units, and when that reached the desk, ms. Repeats are left out. */
  seen: readonly { atMs: number; value: number }[]
  /** Where it rested before and after. */
  from: number
  to: number
}

export interface DrivesLearnt {
  /** Units per second by step, from step 1; null where it was not driven, or did not move. */
  speeds: (Figure | null)[]
  /** Units per second squared; null where all steps are too slow to tell. */
  accel: Figure | null
  /** From an order to the motion's showing in the reports, were these renewed all the time, s. */
  delaySeconds: Figure | null
  /** Between two new positions, as far as it shows, s. */
  renewSeconds: number | null
}

const { abs, hypot, max, min, sqrt } = Math
/** A report's time is known to about this, s. */
const TIME_S = 0.012
/** An order's time is known to about this: it waits for the line's turn, s. */
const TOLD_S = 0.004
/** Rounding of a report, units. */
const ROUNDING = 0.4
const SETTLED_S = 0.08
/** How much its braking is likely to differ from its start, as a share of the ramp's time. */
const UNLIKE = 0.1
/** Faster than this rounding no longer hides how unevenly positions come, units per second. */
const QUICK = 60
/** From the middle of absolute deviations to a standard deviation. */
const MAD = 1.48

interface Line {
  speed: number
  sigma: number
  /** How many positions it goes through, and how far apart they are, s, one standard deviation. */
  count: number
  spread: number
  /** When the line would have left the start, s after the order. */
  onset: number
  onsetSigma: number
  /** How unevenly new positions come, s, one standard deviation. */
  uneven: number
}

/** A line through what was reported while it ran evenly. */
function lineOf(run: DriveRun, rampS: number, delayS: number): Line | null {
  const begin = run.toldMs + 1000 * (delayS + rampS + SETTLED_S)
  const end = run.stoppedMs + 1000 * delayS * 0.6
  const used = run.seen.filter(({ atMs }) => atMs >= begin && atMs <= end)
  if (used.length < 4) return null
  const t0 = used.reduce((sum, { atMs }) => sum + atMs, 0) / used.length
  const x0 = used.reduce((sum, { value }) => sum + value, 0) / used.length
  let [tt, tx] = [0, 0]
  for (const { atMs, value } of used) {
    tt += (atMs - t0) ** 2
    tx += (atMs - t0) * (value - x0)
  }
  if (tt === 0) return null
  const speed = (1000 * tx) / tt
  if (speed === 0) return null
  const spread = sqrt(tt / used.length) / 1000
  const off = used.reduce((sum, { atMs, value }) => sum + (value - x0 - (speed * (atMs - t0)) / 1000) ** 2, 0)
  const uneven = sqrt(max(0, off / max(1, used.length - 2) - ROUNDING ** 2 / 2)) / abs(speed)
  const noise = hypot(ROUNDING, speed * TIME_S) / sqrt(used.length)
  const onset = (t0 - run.toldMs) / 1000 - (x0 - run.from) / speed
  return {
    speed: abs(speed),
    sigma: noise / spread,
    count: used.length,
    spread,
    onset,
    onsetSigma:
      hypot(noise, ROUNDING / 2) / abs(speed) + (noise / spread / abs(speed)) * ((t0 - run.toldMs) / 1000),
    uneven,
  }
}

/** Least squares of y = a + b x with weights. @param nearZero b is expected within this of 0, one standard deviation */
function fitLine(
  points: readonly { x: number; y: number; sigma: number }[],
  nearZero = Number.POSITIVE_INFINITY,
): { a: Figure; b: Figure } | null {
  let [s, sx, sy, sxx, sxy] = [0, 0, 0, nearZero ** -2, 0]
  for (const { x, y, sigma } of points) {
    const w = 1 / sigma ** 2
    s += w
    sx += w * x
    sy += w * y
    sxx += w * x * x
    sxy += w * x * y
  }
  const d = s * sxx - sx * sx
  if (points.length < 2 || d <= 1e-12 * s * sxx) return null
  return {
    a: { value: (sxx * sy - sx * sxy) / d, sigma: sqrt(sxx / d) },
    b: { value: (s * sxy - sx * sy) / d, sigma: sqrt(s / d) },
  }
}

const median = (list: readonly number[]): number => {
  const sorted = [...list].sort((a, b) => a - b)
  return sorted[sorted.length >> 1] ?? 0
}

/**
 * Two measures of each speed are joined: the line through the reports on the way, and the whole way against the time
 * between the two orders, in which delays cancel. What the ramps add to that is one number for the axis, found from
 * all steps together.
 * @param steps how many the axis has
 * @param accel units per second squared as the profile has it
 */
export function learnDrives(runs: readonly DriveRun[], steps: number, accel: number): DrivesLearnt {
  let ramp = accel
  let delay = 0.15
  let lines: { run: DriveRun; line: Line }[] = []
  let fitted: { a: Figure; b: Figure } | null = null
  for (let round = 0; round < 4; round++) {
    lines = runs.flatMap((run) => {
      const top = abs(run.to - run.from) / max(0.1, (run.stoppedMs - run.toldMs) / 1000)
      const line = lineOf(run, top / ramp, delay)
      return line ? [{ run, line }] : []
    })
    // When each motion seems to have begun grows with its speed by half the time of its ramp.
    const points = lines.map(({ line }) => ({ x: line.speed, y: line.onset, sigma: line.onsetSigma }))
    fitted = fitLine(points)
    if (!fitted) {
      delay = points.length > 0 ? median(points.map(({ y }) => y)) : delay
      break
    }
    delay = min(0.6, max(0, fitted.a.value))
    if (fitted.b.value > 0) ramp = min(20 * accel, max(accel / 20, 1 / (2 * fitted.b.value)))
  }
  // A position is up to one renewal old when it is seen, evenly between: by half of it on the mean.
  const quick = lines.filter(({ line }) => line.speed > QUICK)
  // Where the questions keep step with the renewals it only shows from run to run.
  const onsets = quick.map(({ line }) =>
    abs(line.onset - (fitted ? fitted.a.value + fitted.b.value * line.speed : line.onset)),
  )
  const uneven = max(median(quick.map(({ line }) => line.uneven)), MAD * median(onsets))
  const timeS = max(TIME_S, uneven)
  for (const { line } of lines)
    line.sigma = hypot(ROUNDING, line.speed * timeS) / sqrt(line.count) / line.spread
  // way = v (T - late) + c v²: the first order waits for the line, and braking runs on less than starting lags behind.
  const known = lines.map(({ run, line }) => {
    const seconds = (run.stoppedMs - run.toldMs) / 1000
    const [v, way] = [line.speed, abs(run.to - run.from)]
    return { x: v, y: (way - v * seconds) / v, sigma: (line.sigma * seconds + 0.5) / v }
  })
  const c = known.length >= 4 ? fitLine(known, UNLIKE / (2 * ramp)) : null
  const speeds: (Figure | null)[] = Array.from({ length: steps }, (_, i) => {
    const of = runs.filter((run) => abs(run.step) === i + 1)
    const found = of.flatMap((run): Figure[] => {
      const line = lines.find((one) => one.run === run)?.line
      const seconds = (run.stoppedMs - run.toldMs) / 1000
      const way = abs(run.to - run.from)
      if (way < 2 || seconds <= 0) return []
      const rough = line?.speed ?? way / seconds
      const whole = c ? (way - c.b.value * rough * rough) / (seconds + c.a.value) : way / seconds
      const unlike = (c?.b.sigma ?? 0) * rough * rough
      const wholeSigma = hypot(ROUNDING * 1.4, rough * TOLD_S, unlike) / seconds + 0.007 * whole
      const one = { value: whole, sigma: wholeSigma }
      return line ? [one, { value: line.speed, sigma: line.sigma + 0.006 * line.speed }] : [one]
    })
    return joined(found)
  })
  const renewal = sqrt(12) * uneven
  const late = renewal / 2
  const told = fitted && fitted.b.value > 2 * fitted.b.sigma
  return {
    speeds,
    accel: told ? { value: ramp, sigma: (ramp * fitted!.b.sigma) / fitted!.b.value } : null,
    delaySeconds: fitted
      ? { value: max(0, delay - late), sigma: hypot(fitted.a.sigma, TOLD_S, late / 3) }
      : lines.length > 0
        ? { value: max(0, delay - late), sigma: 0.02 }
        : null,
    renewSeconds: quick.length > 2 ? renewal : null,
  }
}

/** The mean by weight; where they disagree, less sure. */
function joined(figures: readonly Figure[]): Figure | null {
  if (figures.length === 0) return null
  let [sum, weight] = [0, 0]
  for (const { value, sigma } of figures) {
    sum += value / sigma ** 2
    weight += 1 / sigma ** 2
  }
  const value = sum / weight
  const apart = sqrt(figures.reduce((s, f) => s + (f.value - value) ** 2 / f.sigma ** 2, 0) / figures.length)
  return { value, sigma: max(1, apart) / sqrt(weight) }
}
