/** A rectangle cut out of another picture, for cameras that have none of their own. */
import { createCanvas, loadImage } from '@napi-rs/canvas'
import type { Rect } from '../../core/cameras/connection'
import type { Opener } from './feed'
import type { Feed } from './frame'

const QUALITY = 82

async function cut(jpeg: Uint8Array, rect: Rect): Promise<Uint8Array> {
  const image = await loadImage(Buffer.from(jpeg))
  const [x, y] = [Math.round(rect.x * image.width), Math.round(rect.y * image.height)]
  const width = Math.max(2, Math.min(image.width - x, Math.round(rect.width * image.width)))
  const height = Math.max(2, Math.min(image.height - y, Math.round(rect.height * image.height)))
  const canvas = createCanvas(width, height)
  canvas.getContext('2d').drawImage(image, x, y, width, height, 0, 0, width, height)
  return canvas.encode('jpeg', QUALITY)
}

export function openCut(whole: Feed, rect: Rect): Opener {
  return (events) => {
    let closed = false
    let busy = false
    const stop = whole.watch(async ({ jpeg }) => {
      if (busy) return
      busy = true
      try {
        const part = await cut(jpeg, rect)
        if (!closed) events.jpeg(part)
      } catch {
        // A damaged picture is skipped; the age of the last good one goes on rising.
      }
      busy = false
    })
    return () => {
      closed = true
      stop()
    }
  }
}
