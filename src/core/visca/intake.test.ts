/** Cameras that take every packet over networks that lose many, and cameras that drop what follows too closely. */
import { seeded } from '../seeded'
import { Intake } from './intake'

/**
 * Packets as a drive brings them, two or three in quick succession, or later where the gap wants that.
 * @param needsMs what comes sooner than this after the last one that was taken is dropped
 * @param loss each way, 0..1
 * @returns after how many outcomes it was said that the camera needs a wider gap; null if it never was
 */
function said(seed: number, needsMs: number, loss: number, packets: number): number | null {
  const random = seeded(seed)
  const intake = new Intake(0)
  let [nowMs, takenMs] = [0, Number.NEGATIVE_INFINITY]
  for (let i = 1; i <= packets; i++) {
    nowMs = Math.max(nowMs + (random() < 0.6 ? 2 + 18 * random() : 20 + 60 * random()), intake.readyAtMs)
    const spaced = intake.sent(nowMs)
    const arrives = random() >= loss
    const taken = arrives && nowMs - takenMs >= needsMs
    if (taken) takenMs = nowMs
    const answered = taken && random() >= loss
    if (intake.outcome(spaced, answered)) return i
  }
  return null
}

const SEEDS = Array.from({ length: 40 }, (_, i) => i + 1)

test.each([0.05, 0.2])('a network that loses %d each way is not taken for a slow camera', (loss) => {
  expect(SEEDS.filter((seed) => said(seed, 0, loss, 20_000) !== null).length).toBeLessThanOrEqual(1)
})

test.each([0, 0.05, 0.2])(
  'a camera that takes one packet in 34 ms is found out, where %d are lost',
  (loss) => {
    const found = SEEDS.map((seed) => said(seed, 34, loss, 4000))
    expect(found.filter((at) => at === null).length).toBeLessThanOrEqual(loss > 0.1 ? 4 : 0)
  },
)
