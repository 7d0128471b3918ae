/** Measures patches of a picture. */
import { createCanvas } from '@napi-rs/canvas'
import { measurePatch, type Patch } from '../../core/picture/patch'
import { decoded } from './pictures'

export interface PatchesAsked {
  jpeg: Uint8Array
  /** Shares from the left and the top. */
  at: readonly { x: number; y: number }[]
  /** Width and height of each, as a share of the picture's width. */
  size: number
}

/** @returns one for each place; null if the picture cannot be read */
export async function measurePatches({ jpeg, at, size }: PatchesAsked): Promise<Patch[] | null> {
  try {
    const image = await decoded(jpeg)
    if (!image) return null
    const { width, height } = image
    const canvas = createCanvas(width, height)
    const context = canvas.getContext('2d')
    context.drawImage(image, 0, 0)
    const side = Math.max(4, Math.round(width * size))
    return at.map(({ x, y }) => {
      const left = Math.min(width - side, Math.max(0, Math.round(x * width - side / 2)))
      const top = Math.min(height - side, Math.max(0, Math.round(y * height - side / 2)))
      return measurePatch(context.getImageData(left, top, side, side).data)
    })
  } catch {
    return null
  }
}
