/** A camera that takes, loses, refuses and leaves in doubt what it is told about its picture. */
import fc from 'fast-check'
import type { CameraResult } from './camera'
import { PictureHold } from './pictureHold'

type Fate = 'taken' | 'lost' | 'unanswered' | 'refused'

const ANSWERS: Record<Fate, CameraResult> = {
  taken: { ok: true },
  lost: { ok: false, message: 'no answer' },
  unanswered: { ok: false, message: 'no answer' },
  refused: { ok: false, message: 'not now', refused: true },
}

/** Acts in the order in which it is told; its answers come when the test lets them. */
class Frozen {
  frozen = false
  fates: Fate[] = []
  told = 0
  private answers: (() => void)[] = []
  readonly hold = new PictureHold(
    (on) => {
      this.told += 1
      const fate = this.fates.shift() ?? 'taken'
      if (fate === 'taken' || fate === 'unanswered') this.frozen = on
      return new Promise((resolve) => this.answers.push(() => resolve(ANSWERS[fate])))
    },
    () => {},
  )

  async answer(count = Number.POSITIVE_INFINITY): Promise<void> {
    for (const answer of this.answers.splice(0, count)) answer()
    for (let i = 0; i < 3; i++) await null
  }
}

const fates = fc.array(fc.constantFrom<Fate>('taken', 'lost', 'unanswered', 'refused'), { maxLength: 12 })
const steps = fc.array(fc.constantFrom('start', 'end', 'check', 'answer'), { maxLength: 14 })

test('whatever the camera makes of it: never held untold, and in the end the picture runs', () =>
  fc.assert(
    fc.asyncProperty(fates, steps, async (list, what) => {
      const camera = new Frozen()
      camera.fates = [...list]
      for (const step of what) {
        if (step === 'answer') await camera.answer(1)
        else camera.hold[step as 'start' | 'end' | 'check']()
        if (camera.frozen) expect(camera.hold.held).toBe(true)
      }
      camera.hold.end()
      for (let i = 0; i < list.length + 3; i++) {
        await camera.answer()
        if (camera.frozen) expect(camera.hold.held).toBe(true)
        camera.hold.check()
      }
      await camera.answer()
      expect([camera.frozen, camera.hold.held]).toEqual([false, false])
      const { told } = camera
      camera.hold.check()
      camera.hold.end()
      expect(camera.told).toBe(told)
    }),
    { numRuns: 2000 },
  ))

test('after a start: a camera that says no to letting its picture run is not told again', async () => {
  for (const no of [{ refused: true }, { unknown: true }]) {
    let told = 0
    const hold = new PictureHold(
      async () => {
        told += 1
        return { ok: false, message: 'no', ...no }
      },
      () => {},
    )
    hold.suspect()
    for (let i = 0; i < 3; i++) {
      hold.check()
      await null
      await null
    }
    expect([hold.held, told]).toEqual([false, 1])
  }
})
