/** The trust check on the barn itself: people who move a little are no bumped camera, and a bumped one is told. */
import { createCanvas, loadImage } from '@napi-rs/canvas'
import demo from '../../../demo/quiz-final.json'
import { headProfile } from '../../core/heads/registry'
import { REGISTER_HEIGHT as H, judge, lumaOf, register, REGISTER_WIDTH as W } from '../../core/image/register'
import { createLens } from '../../core/optics/lens'
import { barnSpecs } from '../barnCameras'
import { renderShots } from './render'

const specs = barnSpecs('127.0.0')

/** What a camera sees at a preset of the demo, at a moment, turned by a bump. */
async function look(camera: number, name: string, atS: number, bump = { pan: 0, tilt: 0 }) {
  const spec = specs[camera]!
  const { pose } = demo.cameras[camera]!.presets.find((p) => p.name === name)!
  const sign = spec.upsideDown ? -1 : 1
  const jpeg = renderShots(
    [
      {
        ...spec,
        panDeg: sign * pose.panDeg + bump.pan,
        tiltDeg: sign * pose.tiltDeg + bump.tilt,
        hfovDeg: createLens(headProfile(spec.profile).lens).hfovDeg(pose.zoom),
        blurPx: 0,
        atS,
        power: true,
      },
    ],
    640,
    360,
    84,
  )
  const canvas = createCanvas(W, H)
  const context = canvas.getContext('2d')
  context.imageSmoothingQuality = 'high'
  context.drawImage(await loadImage(jpeg), 0, 0, W, H)
  return lumaOf(context.getImageData(0, 0, W, H).data)
}

test.each([
  [0, 'Host'],
  [0, 'Godwits'],
  [1, 'Host'],
  [2, 'Host, close'],
  [3, 'Fiddle'],
  [4, 'Row 2'],
] as const)('camera %i at %s', async (camera, name) => {
  const stored = await look(camera, name, 10)
  for (const atS of [13.3, 101, 333])
    expect(judge(register(stored, await look(camera, name, atS)))).toEqual({ kind: 'matches' })
  const bumped = await look(camera, name, 60, { pan: 1.3, tilt: -0.7 })
  expect(judge(register(stored, bumped))).toMatchObject({ kind: 'shifted' })
})
