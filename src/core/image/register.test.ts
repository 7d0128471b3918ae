import { seeded } from '../seeded'
import { REGISTER_HEIGHT as H, judge, register, REGISTER_WIDTH as W } from './register'

/** A made-up scene that can be looked at from anywhere: soft blobs of light. */
function scene(seed: number): (x: number, y: number) => number {
  const random = seeded(seed)
  const blobs = Array.from({ length: 160 }, () => ({
    x: random() * 1.6 - 0.3,
    y: random() * 1.6 - 0.3,
    size: 0.01 + random() * 0.05,
    light: random() * 160 - 60,
  }))
  return (x, y) => {
    let light = 90
    for (const b of blobs) {
      const [dx, dy] = [x - b.x, y - b.y]
      const far = (dx * dx + dy * dy) / (2 * b.size * b.size)
      // Farther out a blob gives nothing that could be seen.
      if (far < 8) light += b.light * Math.exp(-far)
    }
    return light
  }
}

/** What a camera sees that is shifted by (dx, dy) in shares; blurred, dimmed and grainy as asked. */
function look(of: (x: number, y: number) => number, dx = 0, dy = 0, gain = 1, grain = 0): Float32Array {
  const random = seeded(99)
  return Float32Array.from({ length: W * H }, (_, i) => {
    const [x, y] = [(i % W) / W, Math.floor(i / W) / H]
    return gain * of(x - dx, y - dy) + grain * (random() - 0.5)
  })
}

test('a shift is found to a fraction of a pixel, in less light and with grain', () => {
  const of = scene(4)
  const before = look(of)
  for (const [dx, dy, gain, grain] of [
    [0.021, -0.013, 1, 0],
    [-0.0433, 0.0289, 0.6, 0],
    [0.11, 0.06, 1.2, 25],
    [0, 0, 0.8, 10],
  ] as const) {
    const found = register(before, look(of, dx, dy, gain, grain))
    // Half of what is seen is another part of the scene where the shift is as large as the third one.
    const within = Math.hypot(dx, dy) > 0.1 ? 0.5 : 0.3
    expect(Math.abs(found.dx - dx) * W).toBeLessThan(within)
    expect(Math.abs(found.dy - dy) * H).toBeLessThan(within)
    expect(found.likeness).toBeGreaterThan(0.7)
  }
})

test('the three findings: it matches, it is shifted, it is another scene', () => {
  const of = scene(4)
  const before = look(of)
  expect(judge(register(before, look(of, 0.001, 0, 0.9, 8)))).toEqual({ kind: 'matches' })
  expect(judge(register(before, look(of, 0.05, -0.02)))).toMatchObject({
    kind: 'shifted',
    u: expect.closeTo(0.1, 2),
    v: expect.closeTo(0.04, 2),
  })
  expect(judge(register(before, look(scene(5))))).toEqual({ kind: 'changed' })
})
