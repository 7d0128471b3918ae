/** A picture of the operator's own, made fit for a tile: no larger than needed, and without what else was in the file. */
import { createCanvas, loadImage } from '@napi-rs/canvas'

const WIDTH = 640
const QUALITY = 84
/** Far more than any camera gives. */
const MOST_PIXELS = 60_000_000

/** @returns a JPEG; null where it is no picture that can be read */
export async function presetPicture(bytes: Buffer): Promise<Buffer | null> {
  try {
    const image = await loadImage(bytes)
    if (image.width < 2 || image.height < 2 || image.width * image.height > MOST_PIXELS) return null
    const width = Math.min(WIDTH, image.width)
    const height = Math.max(1, Math.round((width * image.height) / image.width))
    const canvas = createCanvas(width, height)
    canvas.getContext('2d').drawImage(image, 0, 0, width, height)
    return await canvas.encode('jpeg', QUALITY)
  } catch {
    return null
  }
}
