import { PictureScale } from './pictureScale'

/** A way that carries so many bytes a second. @returns how long halves were shown, as a share, and how often it changed */
function over(bytesPerSec: (nowMs: number) => number, forMs: number, wayMs = 60) {
  const scale = new PictureScale()
  let [nowMs, halfMs, changes] = [0, 0, 0]
  while (nowMs < forMs) {
    const before = scale.half
    const took = wayMs + 20 + (1000 * (scale.half ? 18_000 : 60_000)) / bytesPerSec(nowMs)
    scale.shown(took, wayMs, nowMs + took)
    const gone = Math.max(100, took)
    if (before) halfMs += gone
    if (scale.half !== before) changes += 1
    nowMs += gone
  }
  return { share: halfMs / nowMs, changes, half: scale.half }
}

test('over a good way, near or far, pictures stay whole; over a slow one they are halved within seconds', () => {
  expect(over(() => 3e6, 60_000)).toMatchObject({ share: 0, changes: 0 })
  expect(over(() => 3e6, 60_000, 600)).toMatchObject({ share: 0, changes: 0 })
  const slow = over(() => 120_000, 60_000)
  expect(slow.half).toBe(true)
  expect(slow.share).toBeGreaterThan(0.9)
})

test('where the way becomes better they are whole again; where it never does, trying costs little', () => {
  const better = over((nowMs) => (nowMs < 20_000 ? 100_000 : 3e6), 60_000)
  expect(better.half).toBe(false)
  expect(better.changes).toBe(2)
  // Just good enough to tempt.
  expect(over(() => 470_000, 600_000).changes).toBeLessThan(20)
})
