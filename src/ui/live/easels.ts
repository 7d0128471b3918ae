/** The canvases that show cameras, and who else wants a picture. The same in a worker and on a page. */
import { PictureStream } from './pictureStream'

/** What is told of a camera's picture. */
export interface Sighting {
  camera: string
  /** When the newest frame was given by the camera, ms since 1970 on this computer's clock. */
  atMs: number
  /** For how long it has looked the same, ms. */
  sameMs: number
}

export interface EaselEvents {
  seen(sighting: Sighting): void
  trouble(camera: string, text: string | null): void
  /** A copy that was asked for. */
  copy(request: number, bitmap: ImageBitmap): void
}

type Canvas = HTMLCanvasElement | OffscreenCanvas

interface Easel {
  canvas: Canvas | null
  camera: string
  perSec: number
}

/** The page need not hear of every frame: often enough to see that it is live, ms. */
const TELL_EVERY_MS = 200

export class Easels {
  private readonly easels = new Map<number, Easel>()
  private readonly canvases = new Map<number, Canvas>()
  private readonly copies = new Map<number, { camera: string; fromMs: number }>()
  private readonly toldAtMs = new Map<string, number>()
  private readonly troubles = new Map<string, string | null>()
  private readonly stream: PictureStream

  constructor(private readonly on: EaselEvents) {
    this.stream = new PictureStream({
      picture: (camera, bitmap) => this.show(camera, bitmap),
      seen: (camera, atMs, sameMs) => {
        this.giveCopies(camera, atMs)
        this.tell({ camera, atMs, sameMs })
      },
      trouble: (camera, text) => {
        this.troubles.set(camera, text)
        on.trouble(camera, text)
      },
    })
  }

  /** A canvas keeps its number for as long as it is there, whatever camera it shows. */
  addCanvas(easel: number, canvas: Canvas): void {
    this.canvases.set(easel, canvas)
  }

  removeCanvas(easel: number): void {
    this.canvases.delete(easel)
  }

  /** @param easel with a canvas, or without one for who wants copies only */
  watch(easel: number, camera: string, perSec: number): void {
    const canvas = this.canvases.get(easel) ?? null
    // What the canvas still shows is another camera's.
    if (canvas) context(canvas)?.clearRect(0, 0, canvas.width, canvas.height)
    this.easels.set(easel, { canvas, camera, perSec })
    this.toldAtMs.delete(camera)
    this.on.trouble(camera, this.troubles.get(camera) ?? null)
    this.want()
  }

  unwatch(easel: number): void {
    const camera = this.easels.get(easel)?.camera
    this.easels.delete(easel)
    if (camera && ![...this.easels.values()].some((e) => e.camera === camera)) this.troubles.delete(camera)
    this.want()
  }

  /** Asks for what a camera that is shown gives first after a moment. */
  copy(request: number, camera: string, fromMs: number): void {
    this.copies.set(request, { camera, fromMs })
  }

  forgetCopy(request: number): void {
    this.copies.delete(request)
  }

  setAway(away: boolean): void {
    this.stream.setAway(away)
  }

  private want(): void {
    const wanted = new Map<string, number>()
    for (const { camera, perSec } of this.easels.values())
      wanted.set(camera, Math.max(perSec, wanted.get(camera) ?? 0))
    this.stream.want(wanted)
  }

  private show(camera: string, bitmap: ImageBitmap): void {
    for (const easel of this.easels.values())
      if (easel.camera === camera && easel.canvas) draw(easel.canvas, bitmap)
  }

  private giveCopies(camera: string, atMs: number): void {
    for (const [request, wish] of this.copies) {
      if (wish.camera !== camera || atMs < wish.fromMs) continue
      const shown = [...this.easels.values()].find((e) => e.camera === camera && e.canvas)?.canvas
      if (!shown) continue
      this.copies.delete(request)
      this.on.copy(request, copyOf(shown))
    }
  }

  private tell(sighting: Sighting): void {
    const now = performance.now()
    if (now - (this.toldAtMs.get(sighting.camera) ?? Number.NEGATIVE_INFINITY) < TELL_EVERY_MS) return
    this.toldAtMs.set(sighting.camera, now)
    this.on.seen(sighting)
  }
}

type Pen = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D

const context = (canvas: Canvas): Pen | null => canvas.getContext('2d') as Pen | null

function draw(canvas: Canvas, bitmap: ImageBitmap): void {
  if (canvas.width !== bitmap.width || canvas.height !== bitmap.height) {
    canvas.width = bitmap.width
    canvas.height = bitmap.height
  }
  context(canvas)?.drawImage(bitmap, 0, 0)
}

function copyOf(shown: Canvas): ImageBitmap {
  const canvas = new OffscreenCanvas(shown.width, shown.height)
  canvas.getContext('2d')!.drawImage(shown, 0, 0)
  return canvas.transferToImageBitmap()
}
