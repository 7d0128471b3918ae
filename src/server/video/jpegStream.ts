/** Cuts a stream of JPEGs without anything between them, as ffmpeg writes it, into single ones. */

const SOI = Buffer.from([0xff, 0xd8])
const EOI = Buffer.from([0xff, 0xd9])
const MAX_BYTES = 8 * 1024 * 1024

export class JpegStream {
  private held: Buffer = Buffer.alloc(0)
  private searchedTo = 0

  push(piece: Uint8Array): Buffer[] {
    this.held = this.held.length ? Buffer.concat([this.held, piece]) : Buffer.from(piece)
    const found: Buffer[] = []
    for (;;) {
      const start = this.held.indexOf(SOI)
      if (start < 0) {
        // The first half of a mark may have come.
        this.held = this.held.subarray(Math.max(0, this.held.length - 1))
        this.searchedTo = 0
        return found
      }
      if (start > 0) this.drop(start)
      // Inside a JPEG the data never looks like its end: such bytes are stuffed.
      const end = this.held.indexOf(EOI, Math.max(2, this.searchedTo - 1))
      if (end < 0) {
        this.searchedTo = this.held.length
        if (this.held.length > MAX_BYTES) this.drop(this.held.length)
        return found
      }
      found.push(Buffer.from(this.held.subarray(0, end + 2)))
      this.drop(end + 2)
    }
  }

  private drop(bytes: number): void {
    this.held = Buffer.from(this.held.subarray(bytes))
    this.searchedTo = 0
  }
}
