/** Takes JPEGs out of a multipart stream (MJPEG over HTTP), fed piece by piece. */

const SOI = Buffer.from([0xff, 0xd8])
const MAX_FRAME_BYTES = 8 * 1024 * 1024
const HEADER_END = Buffer.from('\r\n\r\n')

/**
 * Frames with a Content-Length are cut by it; without one, at the next boundary. Memory stays below
 * two frames; a part larger than 8 MiB is dropped.
 */
export class MultipartReader {
  private buffer: Buffer = Buffer.alloc(0)

  /** @param boundary as in the Content-Type, without the leading dashes */
  constructor(private readonly boundary: string) {}

  /** Takes a piece of the stream; returns the JPEGs that are now whole. */
  push(piece: Uint8Array): Buffer[] {
    this.buffer = this.buffer.length ? Buffer.concat([this.buffer, piece]) : Buffer.from(piece)
    const frames: Buffer[] = []
    for (let part = this.takePart(); part; part = this.takePart()) {
      if (part.subarray(0, 2).equals(SOI)) frames.push(part)
    }
    if (this.buffer.length > MAX_FRAME_BYTES) this.buffer = Buffer.alloc(0)
    return frames
  }

  private takePart(): Buffer | null {
    const mark = Buffer.from(`--${this.boundary}`)
    const start = this.buffer.indexOf(mark)
    if (start < 0) return null
    const headerEnd = this.buffer.indexOf(HEADER_END, start)
    if (headerEnd < 0) return null
    const header = this.buffer.toString('latin1', start, headerEnd)
    const bodyAt = headerEnd + HEADER_END.length
    const length = /content-length:\s*(\d+)/i.exec(header)
    const end = length ? bodyAt + Number(length[1]) : this.buffer.indexOf(mark, bodyAt)
    if (end < 0 || end > this.buffer.length) return null
    const body = Buffer.from(this.buffer.subarray(bodyAt, end))
    this.buffer = this.buffer.subarray(end)
    return body
  }
}

/** The boundary named in a Content-Type, or null if it is no multipart. */
export function boundaryOf(contentType: string | undefined): string | null {
  const match = /^multipart\/[\w-]+.*boundary="?([^";]+)"?/i.exec(contentType ?? '')
  return match ? match[1]!.replace(/^--/, '') : null
}
