/**
 * Scopes: what a picture's light and colours are, counted and drawn. A picture is RGBA, 8 bits a channel, row by row;
 * a scope is drawn into RGBA of its own size. Luma and colour differences after ITU-R BT.709.
 */

export interface Pixels {
  data: Uint8ClampedArray
  width: number
  height: number
}

export const SCOPES = ['waveform', 'parade', 'vectorscope', 'histogram'] as const
export type Scope = (typeof SCOPES)[number]
/** What is marked on the picture itself. */
export const MARKS = ['clips', 'falseColour', 'peaking'] as const
export type Mark = (typeof MARKS)[number]

/** From here on a channel has lost what was brighter; below the other, what was darker. */
export const CLIPPED = 252
export const CRUSHED = 3

const luma = (r: number, g: number, b: number) => 0.2126 * r + 0.7152 * g + 0.0722 * b
type Tone = readonly [number, number, number]
const LIGHT: Tone = [237, 230, 214]
const HERON: Tone = [134, 185, 208]
const CLAY: Tone = [216, 162, 94]

export const pixels = (width: number, height: number): Pixels => ({
  data: new Uint8ClampedArray(width * height * 4),
  width,
  height,
})

/** The share of the picture that is clipped in any channel, and that is crushed in all, 0..1. */
export function clips({ data }: Pixels): { clipped: number; crushed: number } {
  let [clipped, crushed] = [0, 0]
  for (let i = 0; i < data.length; i += 4) {
    const [r, g, b] = [data[i]!, data[i + 1]!, data[i + 2]!]
    if (r >= CLIPPED || g >= CLIPPED || b >= CLIPPED) clipped += 1
    else if (r <= CRUSHED && g <= CRUSHED && b <= CRUSHED) crushed += 1
  }
  const all = Math.max(1, data.length / 4)
  return { clipped: clipped / all, crushed: crushed / all }
}

/** Counts become light: few are seen, many do not drown the rest. */
function shade(counts: Uint32Array, full: number, tone: Tone, out: Pixels): void {
  for (let i = 0; i < counts.length; i++) {
    const n = counts[i]!
    if (n === 0) continue
    const light = Math.min(1, 0.25 + Math.sqrt(n / full))
    out.data.set([tone[0] * light, tone[1] * light, tone[2] * light, 255], i * 4)
  }
}

/** Draws horizontal lines at these shares of the height, from the bottom. */
function lines(out: Pixels, shares: readonly number[], tone: Tone = [47, 64, 70]): void {
  for (const share of shares) {
    const y = Math.round((1 - share) * (out.height - 1))
    for (let x = 0; x < out.width; x++) out.data.set([...tone, 255], (y * out.width + x) * 4)
  }
}

const clear = (out: Pixels) => {
  for (let i = 0; i < out.data.length; i += 4) out.data.set([6, 10, 11, 255], i)
}

function columns(
  from: Pixels,
  value: (i: number) => number,
  out: Pixels,
  x0: number,
  width: number,
): Uint32Array {
  const counts = new Uint32Array(out.width * out.height)
  for (let y = 0; y < from.height; y++)
    for (let x = 0; x < from.width; x++) {
      const level = value((y * from.width + x) * 4)
      const column = x0 + Math.floor((x / from.width) * width)
      const row = out.height - 1 - Math.round((level / 255) * (out.height - 1))
      counts[row * out.width + column]! += 1
    }
  return counts
}

const QUARTERS = [0, 0.25, 0.5, 0.75, 1]

function waveform(from: Pixels, out: Pixels): void {
  lines(out, QUARTERS)
  const { data } = from
  const counts = columns(from, (i) => luma(data[i]!, data[i + 1]!, data[i + 2]!), out, 0, out.width)
  shade(counts, from.height / 6, HERON, out)
}

/** Red, green and blue side by side. */
function parade(from: Pixels, out: Pixels): void {
  lines(out, QUARTERS)
  const third = Math.floor(out.width / 3)
  for (const channel of [0, 1, 2]) {
    const counts = columns(from, (i) => from.data[i + channel]!, out, channel * third, third - 2)
    shade(counts, from.height / 3, channel === 1 ? LIGHT : HERON, out)
  }
}

function histogram(from: Pixels, out: Pixels): void {
  const counts = new Uint32Array(256)
  for (let i = 0; i < from.data.length; i += 4)
    counts[Math.round(luma(from.data[i]!, from.data[i + 1]!, from.data[i + 2]!))]! += 1
  const most = Math.max(1, ...counts)
  for (let x = 0; x < out.width; x++) {
    const level = Math.floor((x / out.width) * 256)
    const n = counts[level]!
    const high = Math.round(Math.sqrt(n / most) * (out.height - 1))
    const tone = level >= CLIPPED || level <= CRUSHED ? CLAY : HERON
    for (let y = out.height - high; y < out.height; y++) out.data.set([...tone, 255], (y * out.width + x) * 4)
  }
}

/** Where a colour stands on the vectorscope: -1..1 each, blue to the right and red up. */
export function vectorOf(r: number, g: number, b: number): { u: number; v: number } {
  const y = luma(r, g, b)
  return { u: (b - y) / 1.8556 / 127.5, v: (r - y) / 1.5748 / 127.5 }
}

/** Skin of every shade lies near this direction, degrees from blue-right towards red-up. */
export const SKIN_DEG = 123

function vectorscope(from: Pixels, out: Pixels): void {
  const [cx, cy] = [(out.width - 1) / 2, (out.height - 1) / 2]
  const radius = Math.min(cx, cy) * 0.96
  const dot = (x: number, y: number, tone: Tone) => {
    const at = (Math.round(y) * out.width + Math.round(x)) * 4
    if (at >= 0 && at < out.data.length) out.data.set([...tone, 255], at)
  }
  for (let deg = 0; deg < 360; deg++)
    for (const share of [0.5, 1])
      dot(
        cx + radius * share * Math.cos((deg * Math.PI) / 180),
        cy - radius * share * Math.sin((deg * Math.PI) / 180),
        [47, 64, 70],
      )
  for (let s = 0; s < radius; s++)
    dot(cx + s * Math.cos((SKIN_DEG * Math.PI) / 180), cy - s * Math.sin((SKIN_DEG * Math.PI) / 180), CLAY)
  const counts = new Uint32Array(out.width * out.height)
  for (let i = 0; i < from.data.length; i += 4) {
    const { u, v } = vectorOf(from.data[i]!, from.data[i + 1]!, from.data[i + 2]!)
    const x = Math.round(cx + u * 2 * radius)
    const y = Math.round(cy - v * 2 * radius)
    if (x >= 0 && y >= 0 && x < out.width && y < out.height) counts[y * out.width + x]! += 1
  }
  shade(counts, (from.width * from.height) / 900, LIGHT, out)
}

const DRAW: Record<Scope, (from: Pixels, out: Pixels) => void> = { waveform, parade, vectorscope, histogram }

/** Draws a scope of a picture into `out`, whose size is its own. */
export function drawScope(scope: Scope, from: Pixels, out: Pixels): void {
  clear(out)
  DRAW[scope](from, out)
}

/** Light by its level: what is too dark, right for a face, nearly clipped. Upper end of each band, 0..1, and its tone. */
export const BANDS: readonly { to: number; tone: Tone; word: string }[] = [
  { to: 0.02, tone: [96, 48, 130], word: 'crushed' },
  { to: 0.12, tone: [40, 70, 140], word: 'very dark' },
  { to: 0.4, tone: [90, 96, 100], word: 'dark' },
  { to: 0.5, tone: [70, 150, 190], word: 'middle grey' },
  { to: 0.6, tone: [140, 140, 136], word: 'middle' },
  { to: 0.72, tone: [232, 190, 168], word: 'light skin' },
  { to: 0.92, tone: [200, 198, 190], word: 'light' },
  { to: 0.985, tone: [240, 220, 90], word: 'nearly clipped' },
  { to: 1.01, tone: [216, 130, 60], word: 'clipped' },
]

function falseColour(from: Pixels, out: Pixels): void {
  for (let i = 0; i < from.data.length; i += 4) {
    const level = luma(from.data[i]!, from.data[i + 1]!, from.data[i + 2]!) / 255
    const band = BANDS.find(({ to }) => level < to) ?? BANDS[BANDS.length - 1]!
    out.data.set([...band.tone, 255], i)
  }
}

/** Stripes over what is clipped, dots over what is crushed. */
function markClips(from: Pixels, out: Pixels): void {
  for (let y = 0; y < from.height; y++)
    for (let x = 0; x < from.width; x++) {
      const i = (y * from.width + x) * 4
      const [r, g, b] = [from.data[i]!, from.data[i + 1]!, from.data[i + 2]!]
      const clipped = r >= CLIPPED || g >= CLIPPED || b >= CLIPPED
      const crushed = r <= CRUSHED && g <= CRUSHED && b <= CRUSHED
      if (clipped && (x + y) % 4 < 2) out.data.set([12, 19, 21, 255], i)
      else if (crushed && x % 3 === 0 && y % 3 === 0) out.data.set([134, 185, 208, 255], i)
      else out.data[i + 3] = 0
    }
}

/** Steps of light from one point to the next that only a sharp edge has. */
const EDGE = 34

function peaking(from: Pixels, out: Pixels): void {
  const { data, width, height } = from
  const at = (i: number) => luma(data[i]!, data[i + 1]!, data[i + 2]!)
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = (y * width + x) * 4
      const across = Math.abs(at(i + 4) - at(i - 4))
      const down = Math.abs(at(i + width * 4) - at(i - width * 4))
      if (across + down > EDGE * 2) out.data.set([...HERON, 255], i)
      else out.data[i + 3] = 0
    }
}

const MARK: Record<Mark, (from: Pixels, out: Pixels) => void> = { clips: markClips, falseColour, peaking }

/** Draws what is to lie over a picture, of its size; what is left alone is transparent. */
export function drawMark(mark: Mark, from: Pixels, out: Pixels): void {
  MARK[mark](from, out)
}
