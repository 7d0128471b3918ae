/**
 * How well neighbouring pictures of a survey fit, and how they are brought to fit: each pair is laid over each
 * other in a view between both; the turns that bring all pairs together best are solved for at once.
 */
import { lumaOf, REGISTER_HEIGHT, REGISTER_WIDTH, register } from '../image/register'
import { vfovOf } from '../optics/lens'
import { Raster, type Shot } from './raster'

const RAD = Math.PI / 180

export interface Seam {
  a: number
  b: number
  /** Where both are compared, degrees. */
  panDeg: number
  tiltDeg: number
  /** How far the second is off the first there, degrees to the right and up. */
  rightDeg: number
  upDeg: number
  /** How well either can be told there, 0..1: along planks nothing shows a shift. */
  holdsRight: number
  holdsUp: number
  /** Brightness of the second against the first. */
  ratio: number
}

/** Of what two pictures have in common, compared. */
const COMPARED = 0.8
/** Of a picture's width at most: far from the middle a turn is no shift. */
const MOST = 0.4
const LEAST_DEG = 3
/** Of the compared part, shown by both. */
const COVERED = 0.97
/** Whether they show it is looked at by so many points across. */
const COARSE = 24
/** No head is farther off than this, degrees. */
const MOST_OFF_DEG = 3
/** Below these nothing was found, or people have moved. */
const STRONG = 7
const ALIKE = 0.94
/** A head's own report is right to about this; what the seams say is to about that, degrees. */
const REPORTS_DEG = 0.4
const MEASURED_DEG = 0.04
const LOG_GAIN = 0.5
const LOG_RATIO = 0.05

/** A part of two pictures in the view between them; null where they show nothing in common. */
function between(a: Shot, b: Shot, hfovDeg: number): Omit<Seam, 'a' | 'b'> | null {
  // The middle of both directions, as one that the head could look in.
  const panDeg = (a.view.panDeg + b.view.panDeg) / 2
  const tiltDeg = (a.view.tiltDeg + b.view.tiltDeg) / 2
  const view = { panDeg, tiltDeg, hfovDeg, vfovDeg: vfovOf(hfovDeg, REGISTER_WIDTH / REGISTER_HEIGHT) }
  const coarse = (shot: Shot) => covered(new Raster([shot]).inView(view, COARSE, COARSE / 2))
  if (coarse(a) < COVERED || coarse(b) < COVERED) return null
  const both = [a, b].map((shot) =>
    new Raster([{ ...shot, gain: 1 }]).inView(view, REGISTER_WIDTH, REGISTER_HEIGHT),
  )
  const luma = both.map((pixels) => lumaOf(pixels))
  const mean = luma.map((values) => values.reduce((sum, x) => sum + x, 0) / values.length)
  const found = register(luma[0]!, luma[1]!)
  if (found.strength < STRONG || found.likeness < ALIKE) return null
  const rightDeg = Math.atan(2 * found.dx * Math.tan((hfovDeg * RAD) / 2)) / RAD
  const upDeg = -Math.atan(2 * found.dy * Math.tan((view.vfovDeg * RAD) / 2)) / RAD
  if (Math.hypot(rightDeg, upDeg) > MOST_OFF_DEG) return null
  const ratio = mean[0]! > 1 ? mean[1]! / mean[0]! : 1
  return { panDeg, tiltDeg, rightDeg, upDeg, ratio, ...holds(luma[0]!) }
}

/** From the structure across and along. */
function holds(luma: Float32Array): { holdsRight: number; holdsUp: number } {
  let across = 1e-6
  let along = 1e-6
  for (let y = 1; y < REGISTER_HEIGHT; y++)
    for (let x = 1; x < REGISTER_WIDTH; x++) {
      const at = y * REGISTER_WIDTH + x
      across += (luma[at]! - luma[at - 1]!) ** 2
      along += (luma[at]! - luma[at - REGISTER_WIDTH]!) ** 2
    }
  const share = across / (across + along)
  const held = (part: number) => Math.min(1, 2.5 * part) ** 2
  return { holdsRight: held(share), holdsUp: held(1 - share) }
}

/** The share of a picture that shows something. */
function covered(pixels: Uint8ClampedArray): number {
  let seen = 0
  for (let at = 3; at < pixels.length; at += 4) if (pixels[at]! > 0) seen += 1
  return (4 * seen) / pixels.length
}

/** All pairs that share enough. @param again those that were measured before; all without */
export function measureSeams(shots: readonly Shot[], again?: readonly Seam[]): Seam[] {
  const wanted = again && new Set(again.map(({ a, b }) => a * shots.length + b))
  const seams: Seam[] = []
  for (let a = 0; a < shots.length; a++)
    for (let b = a + 1; b < shots.length; b++) {
      if (wanted && !wanted.has(a * shots.length + b)) continue
      const [one, other] = [shots[a]!.view, shots[b]!.view]
      const { hfovDeg, vfovDeg } = one
      const up = Math.abs(one.tiltDeg - other.tiltDeg)
      const across = Math.abs(one.panDeg - other.panDeg) * Math.cos(((one.tiltDeg + other.tiltDeg) / 2) * RAD)
      const shared = Math.min(hfovDeg - across, (vfovDeg - up) * (REGISTER_WIDTH / REGISTER_HEIGHT))
      const compared = Math.min(COMPARED * shared, MOST * hfovDeg)
      if (compared < LEAST_DEG) continue
      const seam = between(shots[a]!, shots[b]!, compared)
      if (seam) seams.push({ a, b, ...seam })
    }
  return seams
}

interface Tie {
  a: number
  b: number
  apart: number
  /** Of its usual weight. */
  holds: number
}

/** Ties that are off by more than so many times what they are measured to count less: Huber's weights. */
const TRUSTED = 3
const ROUNDS = 600

/**
 * Robust least squares by Gauss-Seidel: few unknowns, each tied to its neighbours and to where it would rest.
 * @param rest what each would be without ties
 */
function settle(ties: readonly Tie[], own: number, measured: number, rest: readonly number[]): number[] {
  const x = [...rest]
  const wOwn = 1 / own ** 2
  const at: { other: number; sign: 1 | -1; apart: number; holds: number }[][] = x.map(() => [])
  for (const { a, b, apart, holds } of ties) {
    at[a]!.push({ other: b, sign: -1, apart, holds })
    at[b]!.push({ other: a, sign: 1, apart, holds })
  }
  for (let round = 0; round < ROUNDS; round++) {
    let moved = 0
    for (let i = 0; i < x.length; i++) {
      let sum = wOwn * rest[i]!
      let weight = wOwn
      for (const { other, sign, apart, holds } of at[i]!) {
        const wish = x[other]! + sign * apart
        const w = holds / measured ** 2 / Math.max(1, Math.abs(wish - x[i]!) / (TRUSTED * measured))
        sum += w * wish
        weight += w
      }
      const next = sum / weight
      moved = Math.max(moved, Math.abs(next - x[i]!))
      x[i] = next
    }
    if (moved < 1e-7) break
  }
  return x
}

/**
 * The same shots, turned by what their seams say, and made equally bright.
 * @param said where the head said that it looked, if they were turned before
 */
export function fitted(
  shots: readonly Shot[],
  seams: readonly Seam[],
  said: readonly Shot['view'][] = shots.map(({ view }) => view),
): Shot[] {
  const ties = (of: (seam: Seam) => number, holds: (seam: Seam) => number): Tie[] =>
    seams.map((seam) => ({ a: seam.a, b: seam.b, apart: of(seam), holds: holds(seam) }))
  const rest = (of: (view: Shot['view']) => number) => shots.map(({ view }, i) => of(said[i]!) - of(view))
  // What lies farther right in the second picture than in the first: the second looked farther left than it said.
  const panTies = ties(
    (s) => -s.rightDeg / Math.max(0.2, Math.cos(s.tiltDeg * RAD)),
    (s) => s.holdsRight,
  )
  const pan = settle(
    panTies,
    REPORTS_DEG,
    MEASURED_DEG,
    rest(({ panDeg }) => panDeg),
  )
  const tiltTies = ties(
    (s) => -s.upDeg,
    (s) => s.holdsUp,
  )
  const tilt = settle(
    tiltTies,
    REPORTS_DEG,
    MEASURED_DEG,
    rest(({ tiltDeg }) => tiltDeg),
  )
  const gains = ties(
    (s) => -Math.log(s.ratio),
    () => 1,
  )
  const gain = settle(
    gains,
    LOG_GAIN,
    LOG_RATIO,
    shots.map(() => 0),
  )
  return shots.map((shot, i) => ({
    ...shot,
    gain: Math.exp(gain[i]!),
    view: { ...shot.view, panDeg: shot.view.panDeg + pan[i]!, tiltDeg: shot.view.tiltDeg + tilt[i]! },
  }))
}

/** How far pictures are off each other along their seams, px of a map. @returns nulls where none could be measured */
export function seamErrors(
  seams: readonly Seam[],
  pxPerDeg: number,
): { medianPx: number | null; worstPx: number | null } {
  const off = seams
    .map((s) => Math.hypot(s.rightDeg * s.holdsRight, s.upDeg * s.holdsUp) * pxPerDeg)
    .sort((a, b) => a - b)
  if (off.length === 0) return { medianPx: null, worstPx: null }
  return { medianPx: off[off.length >> 1]!, worstPx: off.at(-1)! }
}
