import fc from 'fast-check'
import {
  BANDS,
  clips,
  drawMark,
  drawScope,
  MARKS,
  type Pixels,
  pixels,
  SCOPES,
  SKIN_DEG,
  vectorOf,
} from './scopes'

const flat = (r: number, g: number, b: number, width = 32, height = 18): Pixels => {
  const one = pixels(width, height)
  for (let i = 0; i < one.data.length; i += 4) one.data.set([r, g, b, 255], i)
  return one
}
const level = fc.integer({ min: 0, max: 255 })
/** Rows that are brighter than the ground and the lines. */
function rowsLit({ data, width, height }: Pixels): number[] {
  const rows: number[] = []
  for (let y = 0; y < height; y++) {
    let most = 0
    for (let x = 0; x < width; x++) most = Math.max(most, data[(y * width + x) * 4]!)
    if (most > 60) rows.push(y)
  }
  return rows
}

test('an even grey is one line of the waveform, at its level', () => {
  fc.assert(
    fc.property(level, (grey) => {
      const out = pixels(64, 101)
      drawScope('waveform', flat(grey, grey, grey), out)
      const rows = rowsLit(out)
      expect(rows).toHaveLength(1)
      expect(Math.abs(100 - rows[0]! - (grey / 255) * 100)).toBeLessThanOrEqual(0.51)
    }),
  )
})

test('the parade shows each channel at its own height, side by side', () => {
  const out = pixels(90, 101)
  drawScope('parade', flat(255, 128, 0), out)
  const heights = [15, 45, 75].map((x) => {
    for (let y = 0; y < 101; y++) if (out.data[(y * 90 + x) * 4]! > 60) return 100 - y
    return -1
  })
  expect(heights).toEqual([100, 50, 0])
})

test('on the vectorscope grey is the middle, and opposite colours lie opposite; skin lies near its line', () => {
  fc.assert(
    fc.property(level, level, level, (r, g, b) => {
      const a = vectorOf(r, g, b)
      const opposite = vectorOf(255 - r, 255 - g, 255 - b)
      expect(a.u + opposite.u).toBeCloseTo(0, 6)
      expect(a.v + opposite.v).toBeCloseTo(0, 6)
      expect(Math.hypot(vectorOf(g, g, g).u, vectorOf(g, g, g).v)).toBeCloseTo(0, 6)
      expect(Math.abs(a.u)).toBeLessThanOrEqual(1.001)
    }),
  )
  for (const [r, g, b] of [
    [224, 172, 135],
    [141, 85, 54],
    [198, 134, 102],
  ] as const) {
    const { u, v } = vectorOf(r, g, b)
    expect(Math.abs((Math.atan2(v, u) * 180) / Math.PI - SKIN_DEG)).toBeLessThan(14)
  }
})

test('clipped and crushed parts are counted and marked where they are', () => {
  const half = flat(255, 200, 10)
  half.data.set(flat(0, 0, 0).data.subarray(0, half.data.length / 2))
  expect(clips(half)).toEqual({ clipped: 0.5, crushed: 0.5 })
  expect(clips(flat(128, 128, 128))).toEqual({ clipped: 0, crushed: 0 })
  const out = pixels(32, 18)
  drawMark('clips', flat(128, 128, 128), out)
  expect(out.data.every((value, i) => i % 4 !== 3 || value === 0)).toBe(true)
  drawMark('peaking', flat(128, 128, 128), out)
  expect(out.data.every((value, i) => i % 4 !== 3 || value === 0)).toBe(true)
})

test('false colour rises with the light through all of its bands', () => {
  const seen = new Set<string>()
  let before = -1
  for (let grey = 0; grey < 256; grey++) {
    const out = pixels(32, 18)
    drawMark('falseColour', flat(grey, grey, grey), out)
    const tone = [...out.data.subarray(0, 3)].join()
    const band = BANDS.findIndex((one) => one.tone.join() === tone)
    expect(band).toBeGreaterThanOrEqual(before)
    before = band
    seen.add(tone)
  }
  expect(seen.size).toBe(BANDS.length)
})

test('whatever the picture, every scope and every mark is drawn into its own size', () => {
  const random = fc.uint8Array({ minLength: 8 * 6 * 4, maxLength: 8 * 6 * 4 })
  fc.assert(
    fc.property(random, (bytes) => {
      const from = { data: new Uint8ClampedArray(bytes), width: 8, height: 6 }
      for (const scope of SCOPES) drawScope(scope, from, pixels(20, 15))
      for (const mark of MARKS) drawMark(mark, from, pixels(8, 6))
    }),
    { numRuns: 40 },
  )
})
