import { createCanvas, loadImage } from '@napi-rs/canvas'
import fc from 'fast-check'
import { vfovOf } from '../../core/optics/lens'
import { pointOf, type Vec3 } from '../../core/optics/sphere'
import { BARN } from './barn'
import { Projector } from './projector'
import { distanceAlong, renderShots, type Shot } from './render'

const EYE: Vec3 = [0, 3.4, 7]
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })

test('what is drawn lies where the optics say', () => {
  const ctx = createCanvas(8, 8).getContext('2d')
  const point = fc.tuple(number(-9, 9), number(0, 7), number(-2, 22))
  fc.assert(
    fc.property(
      point,
      number(-170, 170),
      number(-30, 90),
      number(3.2, 60),
      (at, panDeg, tiltDeg, hfovDeg) => {
        const drawn = new Projector(ctx, 640, 360, EYE, panDeg, tiltDeg, hfovDeg).point(at)
        const to: Vec3 = [at[0] - EYE[0], at[1] - EYE[1], at[2] - EYE[2]]
        const seen = pointOf({ panDeg, tiltDeg, hfovDeg, vfovDeg: vfovOf(hfovDeg, 16 / 9) }, to)
        if (!drawn || !seen) return
        const scale = Math.max(1, Math.abs(drawn[0]), Math.abs(drawn[1]))
        expect((drawn[0] - 320 - 320 * seen.u) / scale).toBeCloseTo(0, 6)
        expect((drawn[1] - 180 + 180 * seen.v) / scale).toBeCloseTo(0, 6)
      },
    ),
    { numRuns: 2000 },
  )
})

test('whatever way it looks there is something at a sensible distance', () => {
  fc.assert(
    fc.property(number(-170, 170), number(-30, 90), (pan, tilt) => {
      const metres = distanceAlong(EYE, 0, pan, tilt)
      expect(metres).toBeGreaterThanOrEqual(1)
      expect(metres).toBeLessThan(Math.hypot(BARN.right - BARN.left, BARN.back - BARN.front))
    }),
  )
})

const shot: Shot = {
  eye: EYE,
  yawDeg: 0,
  panDeg: 0,
  tiltDeg: -9,
  hfovDeg: 60,
  blurPx: 0,
  atS: 3,
  power: true,
}

/** Mean brightness and the sharpness (mean step between neighbours) of a frame. */
async function look(jpeg: Buffer): Promise<{ light: number; detail: number }> {
  const image = await loadImage(jpeg)
  const ctx = createCanvas(image.width, image.height).getContext('2d')
  ctx.drawImage(image, 0, 0)
  const { data } = ctx.getImageData(0, 0, image.width, image.height)
  let light = 0
  let detail = 0
  for (let i = 4; i < data.length; i += 4) {
    light += data[i]!
    detail += Math.abs(data[i]! - data[i - 4]!)
  }
  return { light: (4 * light) / data.length, detail: (4 * detail) / data.length }
}

test('a frame shows the barn; out of focus it is softer; people move; in standby it is dark', async () => {
  const sharp = renderShots([shot], 640, 360, 84)
  const seen = await look(sharp)
  expect(seen.light).toBeGreaterThan(30)
  const soft = await look(renderShots([{ ...shot, blurPx: 12 }], 640, 360, 84))
  expect(soft.detail).toBeLessThan(seen.detail * 0.6)
  expect(renderShots([{ ...shot, atS: 3.4 }], 640, 360, 84).equals(sharp)).toBe(false)
  expect(renderShots([shot], 640, 360, 84).equals(sharp)).toBe(true)
  expect((await look(renderShots([{ ...shot, power: false }], 640, 360, 84))).light).toBeLessThan(12)
})

test('the house lights and the scoreboard change the picture', async () => {
  const house = { hall: 1, stage: 1, title: 'Fenland Quiz Final', scores: [42, 38, 45, 29, 33, 40] }
  const seen = (change: Partial<typeof house>) =>
    look(renderShots([{ ...shot, house: { ...house, ...change } }], 640, 360, 84))
  const [full, half, dark] = [
    await seen({}),
    await seen({ hall: 0.5, stage: 0.5 }),
    await seen({ hall: 0, stage: 0 }),
  ]
  expect(half.light).toBeLessThan(full.light * 0.7)
  expect(dark.light).toBeLessThan(full.light * 0.25)
  // As it was before there were lights to set.
  expect(renderShots([{ ...shot, house }], 640, 360, 84)).toEqual(renderShots([shot], 640, 360, 84))
  const board = { ...shot, panDeg: 0, tiltDeg: 3, hfovDeg: 20, house }
  const other = { ...board, house: { ...house, scores: [42, 38, 48, 29, 33, 40] } }
  expect(renderShots([other], 640, 360, 84)).not.toEqual(renderShots([board], 640, 360, 84))
})
