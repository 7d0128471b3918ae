/** Compares a stored picture with the live one, away from the page's own thread. */
import { judge, lumaOf, REGISTER_HEIGHT, REGISTER_WIDTH, register } from '../../core/image/register'

interface Asked {
  id: number
  before: ImageBitmap
  after: ImageBitmap
}

function luma(bitmap: ImageBitmap): Float32Array {
  const canvas = new OffscreenCanvas(REGISTER_WIDTH, REGISTER_HEIGHT)
  const context = canvas.getContext('2d', { willReadFrequently: true })!
  context.imageSmoothingQuality = 'high'
  context.drawImage(bitmap, 0, 0, REGISTER_WIDTH, REGISTER_HEIGHT)
  bitmap.close()
  return lumaOf(context.getImageData(0, 0, REGISTER_WIDTH, REGISTER_HEIGHT).data)
}

self.onmessage = ({ data }: MessageEvent<Asked>) => {
  const from = performance.now()
  const registration = register(luma(data.before), luma(data.after))
  self.postMessage({ id: data.id, finding: judge(registration), ms: performance.now() - from })
}

// The first comparison takes several times as long as the later ones: it is made before anybody waits for one.
const nothing = new Float32Array(REGISTER_WIDTH * REGISTER_HEIGHT)
for (let i = 0; i < 3; i++) register(nothing, nothing)
