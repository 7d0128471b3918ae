/** H.264: a byte stream into its NAL units, and those into RTP payloads (RFC 6184). */

/** Cuts an Annex B stream into NAL units, without their start codes. */
export class NalReader {
  private held: Buffer = Buffer.alloc(0)

  push(piece: Uint8Array): Buffer[] {
    this.held = Buffer.concat([this.held, piece])
    const units: Buffer[] = []
    let start = this.next(0)
    for (let end = start < 0 ? -1 : this.next(start); end >= 0; end = this.next(start)) {
      const zero = this.held[end - 4] === 0 ? 4 : 3
      const unit = this.held.subarray(start, end - zero)
      if (unit.length > 0) units.push(Buffer.from(unit))
      start = end
    }
    if (start > 3) this.held = Buffer.from(this.held.subarray(start - 3))
    return units
  }

  /** The place just after the next start code; -1 where there is none. */
  private next(from: number): number {
    const at = this.held.indexOf(Buffer.from([0, 0, 1]), from)
    return at < 0 ? -1 : at + 3
  }
}

export const nalType = (unit: Uint8Array) => unit[0]! & 0x1f
export const [NAL_IDR, NAL_SPS, NAL_PPS, NAL_SLICE, NAL_DELIMITER] = [5, 7, 8, 1, 9] as const

const MAX_PAYLOAD = 1300

/** A NAL unit as one payload, or in fragments (FU-A) where it is too long for a packet. */
export function payloadsOf(unit: Uint8Array): Uint8Array[] {
  if (unit.length <= MAX_PAYLOAD) return [unit]
  const [indicator, type] = [(unit[0]! & 0xe0) | 28, unit[0]! & 0x1f]
  const out: Uint8Array[] = []
  for (let at = 1; at < unit.length; at += MAX_PAYLOAD) {
    const part = unit.subarray(at, at + MAX_PAYLOAD)
    const header = (at === 1 ? 0x80 : 0) | (at + MAX_PAYLOAD >= unit.length ? 0x40 : 0) | type
    out.push(Buffer.concat([Buffer.from([indicator, header]), part]))
  }
  return out
}

/** An RTP packet (RFC 3550). @param timestamp on a clock of 90 kHz */
export function rtpPacket(
  payload: Uint8Array,
  sequence: number,
  timestamp: number,
  last: boolean,
  source: number,
): Buffer {
  const head = Buffer.alloc(12)
  head[0] = 0x80
  head[1] = 96 | (last ? 0x80 : 0)
  head.writeUInt16BE(sequence & 0xffff, 2)
  head.writeUInt32BE(timestamp >>> 0, 4)
  head.writeUInt32BE(source >>> 0, 8)
  return Buffer.concat([head, payload])
}
