/** Counts and draws scopes away from the page's own thread. */
import {
  clips,
  drawMark,
  drawScope,
  type Mark,
  type Pixels,
  pixels,
  type Scope,
} from '../../core/picture/scopes'

export interface ScopesAsked {
  bitmap: ImageBitmap
  scopes: readonly { scope: Scope; width: number; height: number }[]
  mark: Mark | null
}
export interface ScopesDrawn {
  scopes: Pixels[]
  mark: Pixels | null
  clipped: number
  crushed: number
}

/** Of the picture that is counted: enough for every scope. */
const WIDTH = 288

let canvas: OffscreenCanvas | null = null

self.onmessage = ({ data }: MessageEvent<ScopesAsked>) => {
  const { bitmap, scopes, mark } = data
  const height = Math.max(1, Math.round((WIDTH * bitmap.height) / bitmap.width))
  if (!canvas || canvas.height !== height) canvas = new OffscreenCanvas(WIDTH, height)
  const context = canvas.getContext('2d', { willReadFrequently: true })
  if (!context) {
    bitmap.close()
    return
  }
  context.drawImage(bitmap, 0, 0, WIDTH, height)
  bitmap.close()
  const from = context.getImageData(0, 0, WIDTH, height)
  const drawn = scopes.map((asked) => {
    const out = pixels(asked.width, asked.height)
    drawScope(asked.scope, from, out)
    return out
  })
  let marked: Pixels | null = null
  if (mark) {
    marked = pixels(WIDTH, height)
    drawMark(mark, from, marked)
  }
  const answer: ScopesDrawn = { scopes: drawn, mark: marked, ...clips(from) }
  const transfer = [...drawn, ...(marked ? [marked] : [])].map((one) => one.data.buffer as ArrayBuffer)
  ;(self as unknown as Worker).postMessage(answer, transfer)
}
