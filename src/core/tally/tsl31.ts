/**
 * TSL UMD 3.1: 18 bytes for one display. Byte 0 is 0x80 + its address (0..126); byte 1 has the four lamps in its
 * bits 0 to 3 and the brightness in bits 4 and 5; then 16 characters of text, padded with spaces. Only byte 0 has
 * its top bit set, so that a serial line finds its place again after any fault.
 */
import type { Signal } from './signal'

export const TSL31_BYTES = 18
const HIGHEST_ADDRESS = 126
const START = 0x80

const isText = (byte: number) => byte >= 0x20 && byte < 0x7f

/** @returns null where these are not the 18 bytes of one display */
export function readTsl31(bytes: Uint8Array): (Signal & { kind: 'lamps' }) | null {
  if (bytes.length !== TSL31_BYTES) return null
  const address = bytes[0]! - START
  const control = bytes[1]!
  // Bit 6 is reserved and bit 7 is zero: whatever sets them is not this protocol.
  if (address < 0 || address > HIGHEST_ADDRESS || control & 0xc0) return null
  const text = bytes.subarray(2)
  // Some desks pad with zeros.
  if (!text.every((byte) => isText(byte) || byte === 0)) return null
  const lamp = (bit: number) => (control & (1 << bit)) !== 0
  return {
    kind: 'lamps',
    address: String(address),
    label: String.fromCharCode(...text.filter(isText)).trim(),
    lamps: [lamp(0), lamp(1), lamp(2), lamp(3)],
  }
}

/** A datagram may hold several displays; if any part of it is wrong, none of it counts. */
export function readTsl31Packet(bytes: Uint8Array): Signal[] {
  if (bytes.length === 0 || bytes.length % TSL31_BYTES !== 0) return []
  const signals: Signal[] = []
  for (let at = 0; at < bytes.length; at += TSL31_BYTES) {
    const signal = readTsl31(bytes.subarray(at, at + TSL31_BYTES))
    if (!signal) return []
    signals.push(signal)
  }
  return signals
}

/** A serial line: bytes in pieces, lost and damaged ones included. */
export class Tsl31Stream {
  private held: number[] = []

  take(bytes: Uint8Array): Signal[] {
    const signals: Signal[] = []
    for (const byte of bytes) {
      if (byte & START) this.held = [byte]
      else if (this.held.length > 0) this.held.push(byte)
      if (this.held.length < TSL31_BYTES) continue
      const signal = readTsl31(Uint8Array.from(this.held))
      if (signal) signals.push(signal)
      this.held = []
    }
    return signals
  }
}
