/**
 * Is this still the same view? Two pictures of one camera are laid over each other by phase correlation,
 * which finds how far one is shifted against the other, whatever their light; then compared by what is
 * structure in them, so that a blur or a lamp is no change of scene.
 * Source: C. D. Kuglin and D. C. Hines, "The phase correlation image alignment method", 1975.
 */
import FFT from 'fft.js'

/** Both powers of two; pictures are scaled to this size. */
export const REGISTER_WIDTH = 256
export const REGISTER_HEIGHT = 128

const [W, H] = [REGISTER_WIDTH, REGISTER_HEIGHT]
const N = W * H
const fftRow = new FFT(W)
const fftColumn = new FFT(H)

export interface Registration {
  /** How far what is in the first picture has moved in the second, as shares of width and height; right and down positive. */
  dx: number
  dy: number
  /** Height of the correlation's peak against its mean: under about 6 nothing was found. */
  strength: number
  /** Of the parts with structure that tell either way, the share that has moved so: 1 for a view that is shifted as a whole. */
  agreement: number
  /** Likeness after the shift is taken out, -1..1; 1 is the same. */
  likeness: number
}

/** Real and imaginary parts in turn, row by row. */
type Complex = Float64Array

const rowOut = new Float64Array(2 * W)
const column = new Float64Array(2 * H)
const columnOut = new Float64Array(2 * H)

/** In place: rows, then columns. */
function transform(data: Complex, inverse: boolean): Complex {
  for (let y = 0; y < H; y++) {
    const row = data.subarray(2 * W * y, 2 * W * (y + 1))
    if (inverse) fftRow.inverseTransform(rowOut, row)
    else fftRow.transform(rowOut, row)
    row.set(rowOut)
  }
  for (let x = 0; x < W; x++) {
    for (let y = 0; y < H; y++) {
      const at = 2 * (W * y + x)
      column[2 * y] = data[at]!
      column[2 * y + 1] = data[at + 1]!
    }
    if (inverse) fftColumn.inverseTransform(columnOut, column)
    else fftColumn.transform(columnOut, column)
    for (let y = 0; y < H; y++) {
      const at = 2 * (W * y + x)
      data[at] = columnOut[2 * y]!
      data[at + 1] = columnOut[2 * y + 1]!
    }
  }
  return data
}

const fade = (i: number, n: number) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / n)
/** Towards its edges a picture is faded out, so that they are not taken for structure. */
const WINDOW = Float64Array.from({ length: N }, (_, i) => fade(i % W, W) * fade(Math.floor(i / W), H))
const share = (k: number, n: number) => Math.min(k, n - k) / n
/** Fine grain tells nothing about a shift. */
const WEIGHTS = Float64Array.from({ length: N }, (_, i) =>
  Math.exp(-(share(i % W, W) ** 2 + share(Math.floor(i / W), H) ** 2) * 18),
)

/** Both pictures are real, so that one transform does for two: the first as real part, the second as imaginary. */
function together(before: Float32Array, after: Float32Array): Complex {
  const mean = (luma: Float32Array) => luma.reduce((sum, value) => sum + value, 0) / N
  const [a, b] = [mean(before), mean(after)]
  const out = new Float64Array(2 * N)
  for (let i = 0; i < N; i++) {
    out[2 * i] = (before[i]! - a) * WINDOW[i]!
    out[2 * i + 1] = (after[i]! - b) * WINDOW[i]!
  }
  return out
}

/** Between the samples about a peak. */
function between(left: number, middle: number, right: number): number {
  const bend = left - 2 * middle + right
  return bend === 0 ? 0 : Math.max(-0.5, Math.min(0.5, (0.5 * (left - right)) / bend))
}

/** Likeness of the parts that both show, each against its own mean: Pearson's r on a coarse grid. */
function likeness(a: Float32Array, b: Float32Array, sx: number, sy: number): number {
  let [n, sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0, 0]
  // A coarse look, so that a slight blur or a small move of somebody says nothing.
  const STEP = 4
  const block = (luma: Float32Array, x: number, y: number) => {
    let sum = 0
    for (let dy = 0; dy < STEP; dy++) for (let dx = 0; dx < STEP; dx++) sum += luma[W * (y + dy) + x + dx]!
    return sum / (STEP * STEP)
  }
  for (let y = 0; y + STEP <= H; y += STEP) {
    for (let x = 0; x + STEP <= W; x += STEP) {
      const [bx, by] = [x + sx, y + sy]
      if (bx < 0 || by < 0 || bx + STEP > W || by + STEP > H) continue
      const [p, q] = [block(a, x, y), block(b, bx, by)]
      n += 1
      sa += p
      sb += q
      saa += p * p
      sbb += q * q
      sab += p * q
    }
  }
  const variance = (n * saa - sa * sa) * (n * sbb - sb * sb)
  return n > 8 && variance > 0 ? (n * sab - sa * sb) / Math.sqrt(variance) : 0
}

const PART = 16
/** Below this there is no structure: a squared difference in luma. */
const PLAIN = 20
/** A part counts when one of the two fits better by this factor. */
const CLEARLY = 0.75

/** Somebody who moves takes a part of the picture along; only a camera that was turned takes all of it. */
function agreement(a: Float32Array, b: Float32Array, sx: number, sy: number): number {
  let [moved, stayed] = [0, 0]
  for (let y = 0; y + PART <= H; y += PART) {
    for (let x = 0; x + PART <= W; x += PART) {
      if (x + sx < 0 || y + sy < 0 || x + sx + PART > W || y + sy + PART > H) continue
      const { misfit: still, structure } = partMisfit(a, b, x, y, 0, 0)
      if (structure < PLAIN) continue
      const { misfit: turned } = partMisfit(a, b, x, y, sx, sy)
      if (turned < CLEARLY * still) moved += 1
      else if (still < CLEARLY * turned) stayed += 1
    }
  }
  return moved + stayed === 0 ? 0 : moved / (moved + stayed)
}

/** Mean square of what differs between a part and its likely place in the other, each against its own mean. */
function partMisfit(a: Float32Array, b: Float32Array, x: number, y: number, sx: number, sy: number) {
  let [sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0]
  for (let dy = 0; dy < PART; dy++) {
    for (let dx = 0; dx < PART; dx++) {
      const [p, q] = [a[W * (y + dy) + x + dx]!, b[W * (y + dy + sy) + x + dx + sx]!]
      sa += p
      sb += q
      saa += p * p
      sbb += q * q
      sab += p * q
    }
  }
  const n = PART * PART
  const varA = saa / n - (sa / n) ** 2
  const varB = sbb / n - (sb / n) ** 2
  const both = sab / n - (sa / n) * (sb / n)
  return { misfit: varA + varB - 2 * both, structure: varA }
}

/** The same picture, moved back by whole pixels; what is not seen in it is its edge drawn on. */
function movedBack(luma: Float32Array, sx: number, sy: number): Float32Array {
  const clamp = (x: number, most: number) => Math.max(0, Math.min(most, x))
  const out = new Float32Array(N)
  for (let y = 0; y < H; y++) {
    const row = W * clamp(y + sy, H - 1)
    for (let x = 0; x < W; x++) out[W * y + x] = luma[row + clamp(x + sx, W - 1)]!
  }
  return out
}

/** @param before, after luma, REGISTER_WIDTH x REGISTER_HEIGHT, rows from the top */
export function register(before: Float32Array, after: Float32Array): Registration {
  const rough = correlate(before, after)
  const [sx, sy] = [Math.round(rough.x), Math.round(rough.y)]
  // Faded edges draw a large shift towards none: taken back first, what is left of it is measured true.
  const fine = sx === 0 && sy === 0 ? rough : correlate(before, movedBack(after, sx, sy))
  const near = Math.hypot(fine.x, fine.y) < 4
  const [x, y] =
    sx === 0 && sy === 0 ? [fine.x, fine.y] : near ? [sx + fine.x, sy + fine.y] : [rough.x, rough.y]
  return {
    dx: x / W,
    dy: y / H,
    strength: Math.max(rough.strength, fine.strength),
    agreement: agreement(before, after, Math.round(x), Math.round(y)),
    likeness: likeness(before, after, sx, sy),
  }
}

/** Shift in pixels of the second against the first, and how clearly it stands out. */
function correlate(before: Float32Array, after: Float32Array): { x: number; y: number; strength: number } {
  const z = transform(together(before, after), false)
  const cross = new Float64Array(2 * N)
  for (let y = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      const i = W * y + x
      // Where the frequency is the negative one: with it the two spectra come apart.
      const k = W * ((H - y) % H) + ((W - x) % W)
      const [zr, zi, kr, ki] = [z[2 * i]!, z[2 * i + 1]!, z[2 * k]!, z[2 * k + 1]!]
      const [a, b, c, d] = [zr + kr, zi - ki, zi + ki, kr - zr]
      // The second times the conjugate of the first, brought to one length: only the phase counts.
      const [re, im] = [a * c + b * d, a * d - b * c]
      const length = Math.sqrt(re * re + im * im)
      const weight = length > 1e-9 ? WEIGHTS[i]! / length : 0
      cross[2 * i] = re * weight
      cross[2 * i + 1] = im * weight
    }
  }
  const surface = transform(cross, true)
  const at = (x: number, y: number) => surface[2 * (W * ((y + H) % H) + ((x + W) % W))]!
  let [peak, px, py, sum] = [Number.NEGATIVE_INFINITY, 0, 0, 0]
  for (let y = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      const value = at(x, y)
      sum += Math.abs(value)
      if (value > peak) [peak, px, py] = [value, x, y]
    }
  }
  const [sx, sy] = [px > W / 2 ? px - W : px, py > H / 2 ? py - H : py]
  const fx = sx + between(at(px - 1, py), peak, at(px + 1, py))
  const fy = sy + between(at(px, py - 1), peak, at(px, py + 1))
  return { x: fx, y: fy, strength: peak / (sum / N) }
}

/** Colour to what register() takes. */
export function lumaOf(rgba: Uint8ClampedArray): Float32Array {
  const luma = new Float32Array(rgba.length / 4)
  for (let i = 0; i < luma.length; i++)
    luma[i] = 0.299 * rgba[4 * i]! + 0.587 * rgba[4 * i + 1]! + 0.114 * rgba[4 * i + 2]!
  return luma
}

export type Finding =
  | { kind: 'matches' }
  | { kind: 'changed' }
  /** How far what was in the middle now stands from it, -1..1 right and up. */
  | { kind: 'shifted'; u: number; v: number }

/** A smaller shift counts as none, as a share of the width. */
const STILL = 0.006
const FOUND = 7
const ALIKE = 0.6

/** If fewer of its parts than this have moved, it was somebody in the picture. */
const AS_A_WHOLE = 0.45

/** The whole view has moved by this, as far as can be told. */
export const isClear = ({ strength, agreement: whole, likeness: alike }: Registration): boolean =>
  strength >= FOUND && whole >= AS_A_WHOLE && alike >= ALIKE / 2

export function judge({ dx, dy, strength, agreement: whole, likeness: alike }: Registration): Finding {
  const same: Finding = { kind: alike > ALIKE ? 'matches' : 'changed' }
  if (strength < FOUND) return same
  if (alike < ALIKE / 2) return { kind: 'changed' }
  if (Math.hypot(dx, dy * (9 / 16)) < STILL || whole < AS_A_WHOLE) return same
  return { kind: 'shifted', u: 2 * dx, v: -2 * dy }
}
