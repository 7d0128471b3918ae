/**
 * Patches of a picture in linear light, and how far two of them are apart.
 *
 * Colours: sRGB's transfer curve (IEC 61966-2-1); difference: CIEDE2000.
 */
import { converter, differenceCiede2000 } from 'culori'

/** Mean of a patch in linear light, 0..1 each. */
export interface Linear {
  r: number
  g: number
  b: number
}

export interface Patch extends Linear {
  /** How uneven it is: deviation of its light, beside its mean. */
  spread: number
  /** Share of its points that are clipped, and that are too dark to tell a colour. */
  clipped: number
  dark: number
}

const CLIPPED = 250
const DARK = 4
const toLinear = Float64Array.from({ length: 256 }, (_, i) => {
  const x = i / 255
  return x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4
})

/** Points in the linear light of sRGB to what they look like there, 0..255. */
export const fromLinear = (y: number): number =>
  255 * (y <= 0.0031308 ? 12.92 * y : 1.055 * Math.max(0, y) ** (1 / 2.4) - 0.055)

/** @param rgba of the patch alone, 8 bits a channel */
export function measurePatch(rgba: Uint8ClampedArray): Patch {
  const sum = { r: 0, g: 0, b: 0 }
  let [taken, clipped, dark, light, squares] = [0, 0, 0, 0, 0]
  for (let i = 0; i < rgba.length; i += 4) {
    const [r, g, b] = [rgba[i]!, rgba[i + 1]!, rgba[i + 2]!]
    if (r >= CLIPPED || g >= CLIPPED || b >= CLIPPED) {
      clipped += 1
      continue
    }
    if (Math.max(r, g, b) <= DARK) {
      dark += 1
      continue
    }
    const y = toLinear[g]!
    sum.r += toLinear[r]!
    sum.g += y
    sum.b += toLinear[b]!
    light += y
    squares += y * y
    taken += 1
  }
  const all = Math.max(1, rgba.length / 4)
  const n = Math.max(1, taken)
  const mean = light / n
  const spread = mean > 0 ? Math.sqrt(Math.max(0, squares / n - mean * mean)) / mean : 0
  return {
    ...{ r: sum.r / n, g: sum.g / n, b: sum.b / n, spread },
    ...{ clipped: clipped / all, dark: dark / all },
  }
}

const MOST_CLIPPED = 0.1
const MOST_DARK = 0.3
const MOST_SPREAD = 0.45

/** Why a patch cannot be matched by, in a sentence; null if it can. */
export function unfit({ clipped, dark, spread, g }: Patch): string | null {
  if (clipped > MOST_CLIPPED) return 'it is too bright there, so that its colour is lost'
  if (dark > MOST_DARK || g < 0.004) return 'it is too dark there to tell a colour'
  if (spread > MOST_SPREAD) return 'it is too uneven or too noisy there: touch something plain'
  return null
}

/** Did something move over the patch between two pictures? */
export function movedBetween(a: Linear, b: Linear): boolean {
  const far = (x: number, y: number) => Math.abs(x - y) > 0.12 * Math.max(x, y) + 0.004
  return far(a.r, b.r) || far(a.g, b.g) || far(a.b, b.b)
}

const lab = converter('lab65')
const ciede = differenceCiede2000()
const asColour = ({ r, g, b }: Linear) => lab({ mode: 'lrgb', r, g, b })

/** CIEDE2000 between patches of the same order: their mean, and the worst. */
export function difference(a: readonly Linear[], b: readonly Linear[]): { mean: number; most: number } {
  const each = a.map((one, i) => ciede(asColour(one), asColour(b[i] ?? one)))
  return { mean: each.reduce((sum, d) => sum + d, 0) / Math.max(1, each.length), most: Math.max(0, ...each) }
}

/** Where the patches of a 24-patch chart lie, from its four corners clockwise from the top left; shares of the picture. */
export function chartPatches(corners: readonly { x: number; y: number }[]): { x: number; y: number }[] {
  const [a, b, c, d] = corners as [Point, Point, Point, Point]
  return Array.from({ length: 24 }, (_, i) => {
    const [s, t] = [((i % 6) + 0.5) / 6, (Math.floor(i / 6) + 0.5) / 4]
    const mix = (k: 'x' | 'y') => (1 - t) * ((1 - s) * a[k] + s * b[k]) + t * ((1 - s) * d[k] + s * c[k])
    return { x: mix('x'), y: mix('y') }
  })
}
type Point = { x: number; y: number }
