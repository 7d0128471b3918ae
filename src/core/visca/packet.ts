/**
 * The VISCA packet: header, payload, terminator `FF`, 3 to 16 bytes, and the values inside it that
 * are spread a nibble to a byte. Source: docs/protocols.md, section VISCA.
 */

export const TERMINATOR = 0xff
export const MIN_PACKET_BYTES = 3
export const MAX_PACKET_BYTES = 16

/** Is this one whole packet: right length, `FF` at its end and nowhere else? */
export function isPacket(bytes: Uint8Array): boolean {
  return (
    bytes.length >= MIN_PACKET_BYTES &&
    bytes.length <= MAX_PACKET_BYTES &&
    bytes.indexOf(TERMINATOR) === bytes.length - 1
  )
}

/** Spreads an unsigned value over `count` bytes, a nibble to a byte, highest first. */
export function toNibbles(value: number, count: number): number[] {
  return Array.from({ length: count }, (_, i) => (value >> (4 * (count - 1 - i))) & 0x0f)
}

/** Reads `count` nibbles from `offset` as one unsigned value. */
export function fromNibbles(bytes: Uint8Array, offset: number, count: number): number {
  let value = 0
  for (let i = 0; i < count; i++) value = (value << 4) | ((bytes[offset + i] ?? 0) & 0x0f)
  return value
}

/** A signed value of -32768..32767 as four nibbles. */
export function toSigned16(value: number): number[] {
  return toNibbles(value & 0xffff, 4)
}

/** Four nibbles as a signed value of -32768..32767. */
export function fromSigned16(bytes: Uint8Array, offset: number): number {
  const raw = fromNibbles(bytes, offset, 4)
  return raw >= 0x8000 ? raw - 0x10000 : raw
}
