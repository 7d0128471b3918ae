/** Measures the sharpness of pictures away from the page's own thread. */
import { sharpness } from '../../core/image/sharpness'

/** Small enough to be quick, large enough to judge focus by. */
const WIDTH = 320

interface Asked {
  bitmap: ImageBitmap
}

let canvas: OffscreenCanvas | null = null

self.onmessage = ({ data }: MessageEvent<Asked>) => {
  const { bitmap } = data
  const height = Math.max(1, Math.round((WIDTH * bitmap.height) / bitmap.width))
  if (!canvas || canvas.height !== height) canvas = new OffscreenCanvas(WIDTH, height)
  const context = canvas.getContext('2d', { willReadFrequently: true })
  if (context) {
    context.drawImage(bitmap, 0, 0, WIDTH, height)
    const { data: rgba } = context.getImageData(0, 0, WIDTH, height)
    self.postMessage({ sharpness: sharpness(rgba, WIDTH, height) })
  }
  bitmap.close()
}
