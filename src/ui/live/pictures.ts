/**
 * Live pictures for components: a canvas is handed over, and what it shows is drawn in a worker. Where a
 * browser cannot do that, the page draws it itself.
 */
import { Easels, type Sighting } from './easels'
import type { FromPictures, ToPictures } from './pictureMessages'

export interface Watcher {
  /** How many pictures a second are enough. */
  perSec: number
  /** A frame came; told now and then. */
  seen(sighting: Sighting): void
  /** Why no picture comes; null when one does again. */
  trouble(text: string | null): void
}

/** This computer's clock as the sightings have it, ms. */
export const pictureNow = () => performance.timeOrigin + performance.now()

const canHandOver = () =>
  typeof Worker !== 'undefined' &&
  typeof HTMLCanvasElement !== 'undefined' &&
  'transferControlToOffscreen' in HTMLCanvasElement.prototype

type Behind = Pick<Easels, 'watch' | 'unwatch' | 'copy' | 'forgetCopy' | 'setAway' | 'removeCanvas'> & {
  addCanvas(easel: number, canvas: HTMLCanvasElement): void
}

interface Events {
  seen(sighting: Sighting): void
  trouble(camera: string, text: string | null): void
  copy(request: number, bitmap: ImageBitmap): void
}

function inWorker(on: Events): Behind {
  const worker = new Worker(new URL('../workers/pictures.ts', window.location.href))
  worker.onmessage = ({ data }: MessageEvent<FromPictures>) => {
    if (data.t === 'seen') on.seen(data)
    else if (data.t === 'trouble') on.trouble(data.camera, data.text)
    else on.copy(data.request, data.bitmap)
  }
  const say = (message: ToPictures, transfer: Transferable[] = []) => worker.postMessage(message, transfer)
  return {
    addCanvas(easel, canvas) {
      const offscreen = canvas.transferControlToOffscreen()
      say({ t: 'canvas', easel, canvas: offscreen }, [offscreen])
    },
    removeCanvas: (easel) => say({ t: 'noCanvas', easel }),
    watch: (easel, camera, perSec) => say({ t: 'watch', easel, camera, perSec }),
    unwatch: (easel) => say({ t: 'unwatch', easel }),
    copy: (request, camera, fromMs) => say({ t: 'copy', request, camera, fromMs }),
    forgetCopy: (request) => say({ t: 'noCopy', request }),
    setAway: (is) => say({ t: 'away', is }),
  }
}

class Pictures {
  private behind: Behind | null = null
  private readonly watchers = new Map<number, Watcher & { camera: string }>()
  private readonly copies = new Map<number, (bitmap: ImageBitmap) => void>()
  private readonly easels = new WeakMap<HTMLCanvasElement, number>()
  private next = 1

  /** Starts the worker ahead of need. */
  ready(): void {
    this.start()
  }

  /** A canvas is handed over once, for as long as it is there. @returns how to take it back */
  hand(canvas: HTMLCanvasElement): () => void {
    const easel = this.next++
    this.easels.set(canvas, easel)
    this.start().addCanvas(easel, canvas)
    return () => this.start().removeCanvas(easel)
  }

  /** @param canvas one that was handed over @returns how to stop */
  watch(canvas: HTMLCanvasElement, camera: string, watcher: Watcher): () => void {
    const easel = this.easels.get(canvas)
    if (easel === undefined) throw new RangeError('hand the canvas over first')
    this.watchers.set(easel, { ...watcher, camera })
    this.start().watch(easel, camera, watcher.perSec)
    return () => {
      this.watchers.delete(easel)
      this.start().unwatch(easel)
    }
  }

  /** The first picture that a camera gives after a moment. @returns how to call it off */
  copy(camera: string, fromMs: number, perSec: number, take: (bitmap: ImageBitmap) => void): () => void {
    const request = this.next++
    const behind = this.start()
    const end = () => {
      this.copies.delete(request)
      behind.forgetCopy(request)
      behind.unwatch(request)
    }
    this.copies.set(request, (bitmap) => {
      end()
      take(bitmap)
    })
    behind.watch(request, camera, perSec)
    behind.copy(request, camera, fromMs)
    return end
  }

  private start(): Behind {
    if (this.behind) return this.behind
    const on: Events = {
      seen: (sighting) => {
        for (const watcher of this.watchers.values())
          if (watcher.camera === sighting.camera) watcher.seen(sighting)
      },
      trouble: (camera, text) => {
        for (const watcher of this.watchers.values()) if (watcher.camera === camera) watcher.trouble(text)
      },
      copy: (request, bitmap) => this.copies.get(request)?.(bitmap),
    }
    const behind = canHandOver() ? inWorker(on) : (new Easels(on) as Behind)
    this.behind = behind
    // Nobody looks at a page that is hidden, or kept by the browser for the way back.
    const away = (is: boolean) => () => behind.setAway(is || document.hidden)
    document.addEventListener('visibilitychange', away(false))
    window.addEventListener('pagehide', away(true))
    window.addEventListener('pageshow', away(false))
    return behind
  }
}

export const pictures = new Pictures()
