/**
 * The VISCA packet: header, payload, terminator `FF`, and the values inside it that are spread a nibble to
 * a byte. Source: docs/protocols.md, section VISCA.
 */

export const TERMINATOR = 0xff
export const MIN_PACKET_BYTES = 3
/** The standard allows 16; heads with five nibbles for each axis need one more for an absolute move. */
export const MAX_PACKET_BYTES = 18

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

/** A signed value in two's complement over `count` nibbles; one beyond its range goes to the end of it. */
export function toSigned(value: number, count = 4): number[] {
  const top = 2 ** (4 * count - 1)
  const inside = Math.min(top - 1, Math.max(-top, value))
  return toNibbles(inside < 0 ? inside + 2 * top : inside, count)
}

export function fromSigned(bytes: Uint8Array, offset: number, count = 4): number {
  const raw = fromNibbles(bytes, offset, count)
  const top = 2 ** (4 * count - 1)
  return raw >= top ? raw - 2 * top : raw
}

/**
 * How a head writes positions: nibbles of pan and tilt, and the fixed byte that stands in the place of the
 * tilt speed, where it is fixed.
 */
export interface PositionFormat {
  panNibbles: number
  tiltNibbles: number
  secondSpeed?: number | undefined
}
export const USUAL_POSITIONS: PositionFormat = { panNibbles: 4, tiltNibbles: 4 }

/** Nibbles of pan and of tilt in so many bytes of positions: eight, or nine or ten where a head counts further. */
export function positionWidths(bytes: number): readonly [pan: number, tilt: number] | null {
  if (bytes < 8 || bytes > 10) return null
  return [bytes === 8 ? 4 : 5, bytes === 10 ? 5 : 4]
}
