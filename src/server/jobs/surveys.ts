/** Puts the pictures of a survey together, and cuts views out of it. */
import { createCanvas, ImageData } from '@napi-rs/canvas'
import type { View } from '../../core/optics/sphere'
import type { SurveyMap } from '../../core/survey/map'
import { Raster, type Shot } from '../../core/survey/raster'
import { fitted, measureSeams, seamErrors } from '../../core/survey/seams'
import { TILE } from '../../core/survey/surveys'
import { decoded } from './pictures'

export interface TakenPicture {
  jpeg: Uint8Array
  view: View
  /** How often it was renewed since, in part; 0 if omitted. */
  age?: number
}

export interface SurveyTile {
  /** 0: whole; each further one half as large. */
  level: number
  column: number
  row: number
  jpeg: Uint8Array
}

export interface Stitched {
  tiles: SurveyTile[]
  levels: number
  /** Which picture it is, where it was taken by what the seams say, and its brightness. */
  shots: { of: number; view: View; gain: number }[]
  seams: { medianPx: number | null; worstPx: number | null }
}

const QUALITY = 82
/** Of all pictures of a survey together: larger ones are made smaller, so that they fit into memory, px. */
const MOST_PIXELS = 60_000_000

async function shotOf({ jpeg, view, age }: TakenPicture, most: number, gain = 1): Promise<Shot | null> {
  const image = await decoded(jpeg)?.catch(() => null)
  if (!image) return null
  const smaller = Math.min(1, Math.sqrt(most / (image.width * image.height)))
  const width = Math.max(2, Math.round(image.width * smaller))
  const height = Math.max(2, Math.round(image.height * smaller))
  const canvas = createCanvas(width, height)
  const context = canvas.getContext('2d')
  context.drawImage(image, 0, 0, width, height)
  return { width, height, view, gain, age, pixels: context.getImageData(0, 0, width, height).data }
}

/** @returns null where no picture can be read */
export async function stitchSurvey({
  pictures,
  map,
}: {
  pictures: TakenPicture[]
  map: SurveyMap
}): Promise<Stitched | null> {
  const taken: Shot[] = []
  const of: number[] = []
  for (const [i, picture] of pictures.entries()) {
    const shot = await shotOf(picture, MOST_PIXELS / pictures.length)
    if (!shot) continue
    taken.push(shot)
    of.push(i)
  }
  if (taken.length === 0) return null
  const found = measureSeams(taken)
  const shots = fitted(taken, found)
  const seams = seamErrors(measureSeams(shots, found), map.pxPerDeg)
  return {
    ...(await draw(shots, map)),
    shots: shots.map(({ view, gain }, i) => ({ of: of[i]!, view, gain })),
    seams,
  }
}

/** The pieces of the map at all its sizes. */
async function draw(
  shots: readonly Shot[],
  map: SurveyMap,
): Promise<{ tiles: SurveyTile[]; levels: number }> {
  const raster = new Raster(shots)
  let canvas = createCanvas(map.width, map.height)
  for (let y = 0; y < map.height; y += TILE)
    for (let x = 0; x < map.width; x += TILE) {
      const area = { x, y, width: Math.min(TILE, map.width - x), height: Math.min(TILE, map.height - y) }
      const pixels = raster.onMap(map, area)
      canvas.getContext('2d').putImageData(new ImageData(pixels, area.width, area.height), x, y)
    }
  const tiles: SurveyTile[] = []
  let level = 0
  for (; ; level++) {
    for (let row = 0; row * TILE < canvas.height; row++)
      for (let column = 0; column * TILE < canvas.width; column++) {
        const width = Math.min(TILE, canvas.width - column * TILE)
        const height = Math.min(TILE, canvas.height - row * TILE)
        const piece = createCanvas(width, height)
        piece.getContext('2d').drawImage(canvas, -column * TILE, -row * TILE)
        tiles.push({ level, column, row, jpeg: await piece.encode('jpeg', QUALITY) })
      }
    if (canvas.width <= TILE && canvas.height <= TILE) break
    const half = createCanvas(Math.ceil(canvas.width / 2), Math.ceil(canvas.height / 2))
    half.getContext('2d').drawImage(canvas, 0, 0, half.width, half.height)
    canvas = half
  }
  return { tiles, levels: level + 1 }
}

/** The map of pictures whose places are known. @returns null where none can be read */
export async function redrawSurvey({
  pictures,
  map,
}: {
  pictures: (TakenPicture & { gain: number })[]
  map: SurveyMap
}): Promise<{ tiles: SurveyTile[]; levels: number } | null> {
  const shots: Shot[] = []
  for (const picture of pictures) {
    const shot = await shotOf(picture, MOST_PIXELS / pictures.length, picture.gain)
    if (shot) shots.push(shot)
  }
  return shots.length === 0 ? null : draw(shots, map)
}

/** The whole map as one picture. @param pieces of level 0 @returns a PNG */
export async function surveyPng({
  pieces,
  width,
  height,
}: {
  pieces: { column: number; row: number; jpeg: Uint8Array }[]
  width: number
  height: number
}): Promise<Uint8Array> {
  const canvas = createCanvas(width, height)
  const context = canvas.getContext('2d')
  for (const { column, row, jpeg } of pieces) {
    const image = await decoded(jpeg)?.catch(() => null)
    if (image) context.drawImage(image, column * TILE, row * TILE)
  }
  return canvas.encode('png')
}

/** What a camera would see, out of the pictures of its survey; null where none can be read. */
export async function surveyView({
  pictures,
  view,
  width,
  height,
}: {
  pictures: (TakenPicture & { gain: number })[]
  view: View
  width: number
  height: number
}): Promise<Uint8Array | null> {
  const shots: Shot[] = []
  for (const picture of pictures) {
    const shot = await shotOf(picture, MOST_PIXELS / pictures.length, picture.gain)
    if (shot) shots.push(shot)
  }
  if (shots.length === 0) return null
  const canvas = createCanvas(width, height)
  const pixels = new Raster(shots).inView(view, width, height)
  canvas.getContext('2d').putImageData(new ImageData(pixels, width, height), 0, 0)
  return canvas.encode('jpeg', QUALITY)
}
