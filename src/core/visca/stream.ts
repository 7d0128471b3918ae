/** Cuts a stream of bytes (TCP, serial) into VISCA packets, whatever noise is between them. */
import { MAX_PACKET_BYTES, MIN_PACKET_BYTES, TERMINATOR } from './packet'

/**
 * Feed it bytes as they come; it holds at most one unfinished packet. A packet begins at a byte with
 * its top bit set (a header) and ends with `FF`; what fits no packet is dropped.
 */
export class PacketStream {
  private readonly held = new Uint8Array(MAX_PACKET_BYTES)
  private length = 0
  /** The data was longer than any packet: everything up to the next `FF` is skipped. */
  private overlong = false

  push(bytes: Uint8Array): Uint8Array[] {
    const packets: Uint8Array[] = []
    for (const byte of bytes) {
      if (byte === TERMINATOR) {
        if (this.length + 1 >= MIN_PACKET_BYTES) {
          this.held[this.length] = byte
          packets.push(this.held.slice(0, this.length + 1))
        }
        this.length = 0
        this.overlong = false
        continue
      }
      // Noise before a header; inside a packet any value may stand.
      if (this.length === 0 && (byte < 0x80 || this.overlong)) continue
      if (this.length >= MAX_PACKET_BYTES - 1) {
        this.length = 0
        this.overlong = true
        continue
      }
      this.held[this.length++] = byte
    }
    return packets
  }

  /** A new connection begins: what was half received will never be whole. */
  clear(): void {
    this.length = 0
    this.overlong = false
  }
}
