/** Pictures of a survey put together on their thread: large, unreadable, none. */
import { createCanvas, loadImage } from '@napi-rs/canvas'
import { stillSeen } from '../../core/survey/renewed'
import { TILE } from '../../core/survey/surveys'
import { stitchSurvey, surveyPng, surveyView, type TakenPicture } from './surveys'

const VFOV = (2 * Math.atan(Math.tan(Math.PI / 6) * (9 / 16)) * 180) / Math.PI

/** Looks at a pan; its left half is of one colour, its right half of another. */
function picture(panDeg: number, left: string, right: string, width = 320): TakenPicture {
  const height = (width * 9) / 16
  const canvas = createCanvas(width, height)
  const context = canvas.getContext('2d')
  context.fillStyle = left
  context.fillRect(0, 0, width / 2, height)
  context.fillStyle = right
  context.fillRect(width / 2, 0, width / 2, height)
  return { jpeg: canvas.toBuffer('image/jpeg', 95), view: { panDeg, tiltDeg: 0, hfovDeg: 60, vfovDeg: VFOV } }
}
const map = {
  ...{ projection: 'equirectangular' as const, panDeg: -30, tiltDeg: 15, pxPerDeg: 10 },
  ...{ width: 1200, height: 300 },
}
const colourAt = async (jpeg: Uint8Array, x: number, y: number) => {
  const image = await loadImage(Buffer.from(jpeg))
  const canvas = createCanvas(image.width, image.height)
  canvas.getContext('2d').drawImage(image, 0, 0)
  return [...canvas.getContext('2d').getImageData(x, y, 1, 1).data.slice(0, 3)]
}

test('pieces at every size, each where it belongs; what cannot be read is left out', async () => {
  const broken = { ...picture(0, 'red', 'red'), jpeg: Uint8Array.of(0xff, 0xd8, 1, 2, 3) }
  const made = (await stitchSurvey({
    pictures: [picture(0, '#c02020', '#20a020'), broken, picture(60, '#2020c0', '#c0c020')],
    map,
  }))!
  expect(made.shots.map(({ of }) => of)).toEqual([0, 2])
  const level = (n: number) => made.tiles.filter((tile) => tile.level === n)
  expect(level(0)).toHaveLength(Math.ceil(map.width / TILE))
  expect(level(made.levels - 1)).toHaveLength(1)
  // At pan -15, which is 150 px from the left, the first picture's left half.
  const [r, g] = await colourAt(level(0)[0]!.jpeg, 150, 150)
  expect(r!).toBeGreaterThan(g! + 80)
  const [r2, , b2] = await colourAt(level(0)[1]!.jpeg, 750 - TILE, 150)
  expect(b2!).toBeGreaterThan(r2! + 80)
})

test('a view out of it shows what is there; without a picture that can be read there is none', async () => {
  const pictures = [{ ...picture(0, '#c02020', '#20a020'), gain: 1 }]
  const view = { panDeg: 15, tiltDeg: 0, hfovDeg: 10, vfovDeg: 5.6 }
  const jpeg = (await surveyView({ pictures, view, width: 64, height: 36 }))!
  const [r, g] = await colourAt(jpeg, 32, 18)
  expect(g!).toBeGreaterThan(r! + 80)
  const broken = [{ ...pictures[0]!, jpeg: Uint8Array.of(1, 2, 3) }]
  expect(await surveyView({ pictures: broken, view, width: 64, height: 36 })).toBeNull()
  expect(await stitchSurvey({ pictures: broken, map })).toBeNull()
})

test('all pieces together are one picture of the map, with what cannot be read left dark', async () => {
  const made = (await stitchSurvey({
    pictures: [picture(0, '#c02020', '#20a020'), picture(60, '#2020c0', '#c0c020')],
    map,
  }))!
  const pieces = made.tiles.filter(({ level }) => level === 0)
  const png = await surveyPng({
    pieces: [...pieces, { column: 0, row: 9, jpeg: Uint8Array.of(1, 2) }],
    ...map,
  })
  const image = await loadImage(Buffer.from(png))
  expect([image.width, image.height]).toEqual([map.width, map.height])
  const [r, g] = await colourAt(png, 150, 150)
  expect(r!).toBeGreaterThan(g! + 80)
  const [r2, , b2] = await colourAt(png, 750, 150)
  expect(b2!).toBeGreaterThan(r2! + 80)
})

test('what was photographed anew lies over what was there before, and the rest stays', async () => {
  const former = [picture(0, '#c02020', '#20a020'), picture(60, '#2020c0', '#c0c020')]
  const newer = picture(5, '#f0f0f0', '#f0f0f0')
  const left = stillSeen(former, [newer])
  expect(left.map(({ age }) => age)).toEqual([1, 1])
  // One that is seen nowhere any more is not kept.
  expect(
    stillSeen(
      [picture(5.5, 'red', 'red')].map((p) => ({ ...p, view: { ...p.view, hfovDeg: 20, vfovDeg: 11 } })),
      [newer],
    ),
  ).toEqual([])
  const { tiles } = (await stitchSurvey({ pictures: [newer, ...left], map }))!
  const whole = await surveyPng({ pieces: tiles.filter(({ level }) => level === 0), ...map })
  const [r, g, b] = await colourAt(whole, 350, 150)
  expect(Math.min(r!, g!, b!)).toBeGreaterThan(150)
  const [r2, , b2] = await colourAt(whole, 750, 150)
  expect(b2!).toBeGreaterThan(r2! + 60)
})
