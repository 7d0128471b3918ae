/** Live pictures: one connection for all that the page looks at. */
import { decodePictureFrame, type PictureFrame } from '../../core/live/pictureFrame'
import { openSocket, type Reconnecting } from './socket'

export interface Shown {
  bitmap: ImageBitmap
  /** When the camera gave it, by this page's clock, ms. */
  takenAtMs: number
}

type Listener = (picture: Shown) => void

class Pictures {
  private readonly watchers = new Map<string, Set<Listener>>()
  private socket: Reconnecting | null = null

  watch(camera: string, listener: Listener): () => void {
    const set = this.watchers.get(camera) ?? new Set()
    this.watchers.set(camera, set.add(listener))
    if (this.socket) this.tell()
    else this.socket = this.open()
    return () => {
      set.delete(listener)
      if (set.size === 0) this.watchers.delete(camera)
      this.tell()
    }
  }

  private tell(): void {
    this.socket?.send({ t: 'watch', cameras: [...this.watchers.keys()] })
  }

  private open(): Reconnecting {
    return openSocket('/live/pictures', {
      open: () => this.tell(),
      close: () => {},
      message: (data) => {
        const frame = typeof data === 'string' ? null : decodePictureFrame(data)
        if (frame) void this.show(frame)
      },
    })
  }

  private async show(frame: PictureFrame): Promise<void> {
    const takenAtMs = performance.now() - frame.ageMs
    try {
      const bitmap = await createImageBitmap(new Blob([frame.jpeg], { type: 'image/jpeg' }))
      for (const listener of this.watchers.get(frame.camera) ?? []) listener({ bitmap, takenAtMs })
      bitmap.close()
    } catch {
      // A damaged picture is skipped; the age of the last good one goes on rising.
    }
    this.socket?.send({ t: 'shown', camera: frame.camera })
  }
}

export const pictures = new Pictures()
