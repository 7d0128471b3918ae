/** Live pictures of many cameras over one connection. Runs in a worker, or on the page where there is none. */

import { Lateness } from '../../core/live/lateness'
import { decodePictureFrame, type PictureFrame } from '../../core/live/pictureFrame'
import { openSocket, type Reconnecting } from './socket'

export interface StreamEvents {
  /** A new picture, which is closed after this call. */
  picture(camera: string, bitmap: ImageBitmap): void
  /**
   * The newest frame of a camera came, whether or not it looks new.
   * @param atMs when the camera gave it, ms since 1970 on this computer's clock
   * @param sameMs for how long it has looked the same
   */
  seen(camera: string, atMs: number, sameMs: number): void
  /** Why no picture comes; null when one does again. */
  trouble(camera: string, text: string | null): void
}

const now = () => performance.timeOrigin + performance.now()

export class PictureStream {
  private socket: Reconnecting | null = null
  private wanted = new Map<string, number>()
  private away = false
  private lateness = new Lateness()
  private telling = false

  constructor(private readonly on: StreamEvents) {}

  /** @param wanted how many pictures a second, for each camera that is looked at */
  want(wanted: ReadonlyMap<string, number>): void {
    this.wanted = new Map(wanted)
    this.socket ??= this.open()
    this.tellSoon()
  }

  /** Nobody looks at a page that is hidden. */
  setAway(away: boolean): void {
    this.away = away
    this.tell()
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
    const cameras = this.away ? [] : [...this.wanted].map(([id, perSec]) => ({ id, perSec }))
    this.socket?.send({ t: 'watch', cameras })
  }

  private open(): Reconnecting {
    return openSocket('/live/pictures', {
      open: () => {
        // Another start of the server has another clock.
        this.lateness = new Lateness()
        this.tell()
      },
      close: () => {},
      message: (data) => {
        if (typeof data === 'string') return this.takeTrouble(data)
        const frame = decodePictureFrame(data)
        if (frame) void this.take(frame)
      },
    })
  }

  private takeTrouble(text: string): void {
    const message = JSON.parse(text) as { t?: string; camera?: string; text?: string | null }
    if (message.t !== 'trouble' || message.camera === undefined) return
    this.on.trouble(message.camera, message.text ?? null)
  }

  private async take({ camera, ageMs, sameMs, sentMs, wayMs, jpeg }: PictureFrame): Promise<void> {
    // Its age when it was sent, what the way takes, and by how much this one was held up on it.
    const late = this.lateness.late(sentMs, performance.now())
    const atMs = now() - ageMs - wayMs - late
    try {
      if (jpeg.length > 0) {
        const bitmap = await createImageBitmap(new Blob([jpeg], { type: 'image/jpeg' }))
        this.on.picture(camera, bitmap)
        bitmap.close()
      }
      this.on.seen(camera, atMs, sameMs)
    } catch {
      // A damaged picture is skipped; the age of the last good one keeps rising.
    }
    this.socket?.send({ t: 'shown', camera })
  }
}
