/** Pictures of one camera, fetched only while somebody looks. */
import { type ClientRequest, get } from 'node:http'
import { boundaryOf, MultipartReader } from './multipart'

export interface Frame {
  number: number
  jpeg: Uint8Array
  /** When it came from the camera, ms on the monotonic clock. */
  atMs: number
}

const STALLED_MS = 3000
const RETRY_MS = 700
const SNAPSHOT_TIMEOUT_MS = 1500

/** One MJPEG connection shared by all who look; it is opened anew when it stalls or ends. */
export class PictureSource {
  latest: Frame | null = null
  private readonly listeners = new Set<(frame: Frame) => void>()
  private request: ClientRequest | null = null
  private retry: ReturnType<typeof setTimeout> | null = null
  private stall: ReturnType<typeof setTimeout> | null = null
  private count = 0

  constructor(
    private readonly streamUrl: string | null,
    private readonly snapshotUrl: string | null,
  ) {}

  /** Calls back on every frame; returns how to stop. */
  watch(listener: (frame: Frame) => void): () => void {
    this.listeners.add(listener)
    if (this.listeners.size === 1) this.open()
    return () => {
      this.listeners.delete(listener)
      if (this.listeners.size === 0) this.close()
    }
  }

  /** A frame taken after this call; null where none came in time. */
  async fresh(): Promise<Uint8Array | null> {
    if (this.snapshotUrl) {
      const jpeg = await fetchJpeg(this.snapshotUrl)
      if (jpeg) return jpeg
    }
    if (!this.streamUrl) return null
    return new Promise((resolve) => {
      const end = (jpeg: Uint8Array | null) => {
        clearTimeout(timer)
        stop()
        resolve(jpeg)
      }
      const timer = setTimeout(() => end(null), SNAPSHOT_TIMEOUT_MS)
      const stop = this.watch((frame) => end(frame.jpeg))
    })
  }

  close(): void {
    if (this.retry) clearTimeout(this.retry)
    if (this.stall) clearTimeout(this.stall)
    this.retry = null
    this.request?.destroy()
    this.request = null
  }

  private open(): void {
    if (!this.streamUrl) return
    this.armStall()
    const request = get(this.streamUrl, (response) => {
      const boundary = boundaryOf(response.headers['content-type'])
      if (response.statusCode !== 200 || !boundary) {
        request.destroy()
        return
      }
      const reader = new MultipartReader(boundary)
      response.on('data', (piece: Buffer) => {
        for (const jpeg of reader.push(piece)) this.take(jpeg)
      })
      response.on('error', () => request.destroy())
      response.on('end', () => request.destroy())
    })
    this.request = request
    request.on('error', () => {})
    request.on('close', () => {
      if (this.request !== request) return
      this.request = null
      if (this.listeners.size > 0) this.retry = setTimeout(() => this.open(), RETRY_MS)
    })
  }

  private armStall(): void {
    if (this.stall) clearTimeout(this.stall)
    this.stall = setTimeout(() => this.request?.destroy(), STALLED_MS)
  }

  private take(jpeg: Buffer): void {
    this.armStall()
    // A live sensor never gives the same bytes twice: such a frame is the old one again.
    if (this.latest && jpeg.equals(this.latest.jpeg)) return
    this.latest = { number: ++this.count, jpeg, atMs: performance.now() }
    for (const listener of this.listeners) listener(this.latest)
  }
}

async function fetchJpeg(url: string): Promise<Uint8Array | null> {
  try {
    const response = await fetch(url, { signal: AbortSignal.timeout(SNAPSHOT_TIMEOUT_MS) })
    if (!response.ok) return null
    const bytes = new Uint8Array(await response.arrayBuffer())
    return bytes[0] === 0xff && bytes[1] === 0xd8 ? bytes : null
  } catch {
    return null
  }
}
