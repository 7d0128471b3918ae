/** Live pictures: one connection for all that the page looks at. */
import { decodePictureFrame, type PictureFrame } from '../../core/live/pictureFrame'
import { openSocket, type Reconnecting } from './socket'

export interface Shown {
  bitmap: ImageBitmap
  /** When the camera gave it, by this page's clock, ms. */
  takenAtMs: number
}

export interface Watcher {
  /** As many pictures a second are enough. */
  perSec: number
  show(picture: Shown): void
  /** Why no picture comes; null when one does again. */
  trouble?(text: string | null): void
}

class Pictures {
  private readonly watchers = new Map<string, Set<Watcher>>()
  private readonly troubles = new Map<string, string | null>()
  private socket: Reconnecting | null = null
  private telling = false
  /** Nobody looks at a page that is hidden, or kept by the browser for the way back. */
  private away = false

  constructor() {
    const away = (is: boolean) => () => {
      this.away = is || document.hidden
      this.tell()
    }
    if (typeof document === 'undefined') return
    document.addEventListener('visibilitychange', away(false))
    window.addEventListener('pagehide', away(true))
    window.addEventListener('pageshow', away(false))
  }

  watch(camera: string, watcher: Watcher): () => void {
    const set = this.watchers.get(camera) ?? new Set()
    this.watchers.set(camera, set.add(watcher))
    watcher.trouble?.(this.troubles.get(camera) ?? null)
    if (this.socket) this.tellSoon()
    else this.socket = this.open()
    return () => {
      set.delete(watcher)
      if (set.size === 0) {
        this.watchers.delete(camera)
        this.troubles.delete(camera)
      }
      this.tellSoon()
    }
  }

  /** Once for all that come and go in the same moment. */
  private tellSoon(): void {
    if (this.telling) return
    this.telling = true
    queueMicrotask(() => {
      this.telling = false
      this.tell()
    })
  }

  private tell(): void {
    const cameras = [...(this.away ? [] : this.watchers)].map(([id, set]) => ({
      id,
      perSec: Math.max(...[...set].map((watcher) => watcher.perSec)),
    }))
    this.socket?.send({ t: 'watch', cameras })
  }

  private takeTrouble(text: string): void {
    const message = JSON.parse(text) as { t?: string; camera?: string; text?: string | null }
    if (message.t !== 'trouble' || message.camera === undefined) return
    this.troubles.set(message.camera, message.text ?? null)
    for (const watcher of this.watchers.get(message.camera) ?? []) watcher.trouble?.(message.text ?? null)
  }

  private open(): Reconnecting {
    return openSocket('/live/pictures', {
      open: () => this.tell(),
      close: () => {},
      message: (data) => {
        if (typeof data === 'string') {
          this.takeTrouble(data)
          return
        }
        const frame = decodePictureFrame(data)
        if (frame) void this.show(frame)
      },
    })
  }

  private async show(frame: PictureFrame): Promise<void> {
    const takenAtMs = performance.now() - frame.ageMs
    try {
      const bitmap = await createImageBitmap(new Blob([frame.jpeg], { type: 'image/jpeg' }))
      for (const watcher of this.watchers.get(frame.camera) ?? []) watcher.show({ bitmap, takenAtMs })
      bitmap.close()
    } catch {
      // A damaged picture is skipped; the age of the last good one goes on rising.
    }
    this.socket?.send({ t: 'shown', camera: frame.camera })
  }
}

export const pictures = new Pictures()
