/** Pictures decoded, made smaller, cut. */
import { createCanvas, loadImage } from '@napi-rs/canvas'
import type { Rect } from '../../core/cameras/connection'
import { pictureSize } from '../../core/image/pictureSize'
import { isClear, lumaOf, REGISTER_HEIGHT, REGISTER_WIDTH, register } from '../../core/image/register'

const WIDTH = 640
const TILE_QUALITY = 84
const CUT_QUALITY = 82
/** Far more than any camera gives. */
const MOST_PIXELS = 60_000_000

/** Only a picture whose first bytes show a reasonable size is decoded at all. */
export function decoded(bytes: Uint8Array) {
  const size = pictureSize(bytes)
  if (!size || size.width < 2 || size.height < 2 || size.width * size.height > MOST_PIXELS) return null
  return loadImage(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength))
}

/**
 * A picture of the operator's own, made fit for a tile: no larger than needed, and without what else was
 * in the file.
 * @returns a JPEG; null if it is no picture that can be read
 */
export async function presetPicture(bytes: Uint8Array): Promise<Uint8Array | null> {
  try {
    const image = await decoded(bytes)
    if (!image) return null
    const width = Math.min(WIDTH, image.width)
    const height = Math.max(1, Math.round((width * image.height) / image.width))
    const canvas = createCanvas(width, height)
    canvas.getContext('2d').drawImage(image, 0, 0, width, height)
    return await canvas.encode('jpeg', TILE_QUALITY)
  } catch {
    return null
  }
}

/** The longer side of a plan's picture. */
const PLAN_SIDE = 1800

/** @returns null if it is no picture that can be read */
export async function planPicture(
  bytes: Uint8Array,
): Promise<{ jpeg: Uint8Array; width: number; height: number } | null> {
  try {
    const image = await decoded(bytes)
    if (!image) return null
    const scale = Math.min(1, PLAN_SIDE / Math.max(image.width, image.height))
    const [width, height] = [image.width, image.height].map((px) => Math.max(1, Math.round(px * scale))) as [
      number,
      number,
    ]
    const canvas = createCanvas(width, height)
    const context = canvas.getContext('2d')
    // A plan often has no ground of its own.
    context.fillStyle = 'white'
    context.fillRect(0, 0, width, height)
    context.drawImage(image, 0, 0, width, height)
    return { jpeg: await canvas.encode('jpeg', TILE_QUALITY), width, height }
  } catch {
    return null
  }
}

/** Scaled to what is compared; null if it cannot be read. */
async function lumaIn(bytes: Uint8Array): Promise<Float32Array | null> {
  const image = await decoded(bytes)
  if (!image) return null
  const canvas = createCanvas(REGISTER_WIDTH, REGISTER_HEIGHT)
  const context = canvas.getContext('2d')
  context.drawImage(image, 0, 0, REGISTER_WIDTH, REGISTER_HEIGHT)
  return lumaOf(context.getImageData(0, 0, REGISTER_WIDTH, REGISTER_HEIGHT).data)
}

/** How far the view has shifted as a whole, as shares of width and height; null if that cannot be told. */
export async function shiftBetween({
  before,
  after,
}: {
  before: Uint8Array
  after: Uint8Array
}): Promise<{ dx: number; dy: number } | null> {
  try {
    const [a, b] = [await lumaIn(before), await lumaIn(after)]
    if (!a || !b) return null
    const found = register(a, b)
    return isClear(found) ? { dx: found.dx, dy: found.dy } : null
  } catch {
    return null
  }
}

/** A rectangle cut out of a picture; null if it cannot be read. */
export async function cutPicture({
  jpeg,
  rect,
}: {
  jpeg: Uint8Array
  rect: Rect
}): Promise<Uint8Array | null> {
  try {
    const image = await decoded(jpeg)
    if (!image) return null
    const [x, y] = [Math.round(rect.x * image.width), Math.round(rect.y * image.height)]
    const width = Math.max(2, Math.min(image.width - x, Math.round(rect.width * image.width)))
    const height = Math.max(2, Math.min(image.height - y, Math.round(rect.height * image.height)))
    const canvas = createCanvas(width, height)
    canvas.getContext('2d').drawImage(image, x, y, width, height, 0, 0, width, height)
    return await canvas.encode('jpeg', CUT_QUALITY)
  } catch {
    return null
  }
}

const HALF_QUALITY = 68

/** At half the width and height; null if it cannot be read. */
export async function halfPicture(jpeg: Uint8Array): Promise<Uint8Array | null> {
  try {
    const image = await decoded(jpeg)
    if (!image) return null
    const [width, height] = [Math.max(2, image.width >> 1), Math.max(2, image.height >> 1)]
    const canvas = createCanvas(width, height)
    canvas.getContext('2d').drawImage(image, 0, 0, width, height)
    return await canvas.encode('jpeg', HALF_QUALITY)
  } catch {
    return null
  }
}
