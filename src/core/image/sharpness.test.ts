import { seeded } from '../seeded'
import { sharpness } from './sharpness'

const [W, H] = [64, 48]

/** Noise of blocks, blurred this many times by its neighbours. */
function picture(blurs: number, gain = 1): Uint8ClampedArray {
  const random = seeded(3)
  const blocks = Array.from({ length: 16 * 12 }, () => random() * 255)
  let luma = Array.from(
    { length: W * H },
    (_, i) => blocks[Math.floor(Math.floor(i / W) / 4) * 16 + Math.floor((i % W) / 4)]!,
  )
  for (let n = 0; n < blurs; n++)
    luma = luma.map((_, i) => {
      const at = (dx: number, dy: number) => {
        const x = Math.min(W - 1, Math.max(0, (i % W) + dx))
        const y = Math.min(H - 1, Math.max(0, Math.floor(i / W) + dy))
        return luma[y * W + x]!
      }
      return (at(0, 0) + at(1, 0) + at(-1, 0) + at(0, 1) + at(0, -1)) / 5
    })
  return Uint8ClampedArray.from(luma.flatMap((l) => [l * gain, l * gain, l * gain, 255]))
}

test('the sharper the picture the higher, without a turn on the way', () => {
  const readings = [8, 6, 4, 3, 2, 1, 0].map((blurs) => sharpness(picture(blurs), W, H))
  for (const [i, reading] of readings.entries())
    if (i > 0) expect(reading).toBeGreaterThan(readings[i - 1]! * 1.05)
})

test('less light is not less sharp, and a plain surface is nothing', () => {
  expect(sharpness(picture(1, 0.4), W, H) / sharpness(picture(1), W, H)).toBeCloseTo(1, 1)
  expect(sharpness(new Uint8ClampedArray(W * H * 4).fill(90), W, H)).toBe(0)
  expect(sharpness(new Uint8ClampedArray(16), 2, 2)).toBe(0)
})
