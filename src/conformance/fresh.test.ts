/** A link that loses a tenth of its packets each way: the pose of a camera that moves, or has just stopped, stays fresh. */
import { PUSH_AT_REST } from '../core/stick/speeds'
import { fieldRig } from './fieldRig'
import { connects } from './proof'
import type { Over } from './wayLink'

const OLDEST_MS = 500
const DRIVES = 20

test.each<Over>(['framed', 'raw'])(
  '%s: what is shown is hardly ever old, and when it is it says so',
  async (over) => {
    const rig = fieldRig({ over, seed: 3 })
    const { camera, clock, way } = rig
    way.delayMs = 5
    await connects(rig)
    await rig.until(() => camera.pose !== null, 12_000)
    way.loss = 0.1
    let [looks, late] = [0, 0]
    for (let i = 0; i < DRIVES; i++) {
      for (let ms = 0; ms < 2200; ms += 20) {
        camera.drive({ ...PUSH_AT_REST, pan: ms < 1200 ? (i % 2 === 0 ? 0.5 : -0.5) : 0 })
        await clock.run(20)
        if (ms < 300) continue
        looks += 1
        const { panTiltAtMs, zoomAtMs } = rig.body.reading
        const ageMs = clock.now() - Math.min(panTiltAtMs, zoomAtMs)
        if (camera.pose?.late) late += 1
        else expect(ageMs).toBeLessThanOrEqual(OLDEST_MS)
      }
    }
    expect(late / looks).toBeLessThan(0.08)
  },
)

test('a gap is not widened for good by a network that loses packets, and is by a camera that drops them', async () => {
  const gapAfter = async (loss: number, gapMs: number) => {
    const rig = fieldRig({ over: 'raw', odd: { visca: { gapMs } }, seed: 5 })
    await connects(rig)
    rig.way.loss = loss
    for (let ms = 0; ms < 40_000; ms += 40) {
      rig.camera.drive({ ...PUSH_AT_REST, pan: Math.sin(ms / 900) })
      await rig.clock.run(40)
    }
    return rig.body.quirks.join(' ')
  }
  expect(await gapAfter(0.1, 0)).not.toMatch(/drops packets/)
  expect(await gapAfter(0, 45)).toMatch(/drops packets that follow each other quickly/)
})
