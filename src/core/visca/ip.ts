/**
 * Framing of VISCA over IP (UDP): an 8-byte header before each packet, with a type, a length and a
 * sequence number that the answer carries back. Source: docs/protocols.md, section VISCA over IP.
 */

import { TERMINATOR } from './packet'

export const PAYLOAD = {
  command: 0x0100,
  inquiry: 0x0110,
  reply: 0x0111,
  deviceSetting: 0x0120,
  control: 0x0200,
  controlReply: 0x0201,
} as const

export type PayloadType = keyof typeof PAYLOAD

export const HEADER_BYTES = 8

/** One datagram: what kind it is, its number (unsigned, 32 bit) and what it carries. */
export interface Datagram {
  type: PayloadType
  sequence: number
  payload: Uint8Array
}

const typeOf = new Map<number, PayloadType>(
  Object.entries(PAYLOAD).map(([name, code]) => [code, name as PayloadType]),
)

export function encodeDatagram({ type, sequence, payload }: Datagram): Uint8Array {
  const bytes = new Uint8Array(HEADER_BYTES + payload.length)
  const view = new DataView(bytes.buffer)
  view.setUint16(0, PAYLOAD[type])
  view.setUint16(2, payload.length)
  view.setUint32(4, sequence >>> 0)
  bytes.set(payload, HEADER_BYTES)
  return bytes
}

/** Null if the bytes are no such datagram: an unknown type, or a length that is not the true one. */
export function decodeDatagram(bytes: Uint8Array): Datagram | null {
  if (bytes.length <= HEADER_BYTES) return null
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const type = typeOf.get(view.getUint16(0))
  if (!type || view.getUint16(2) !== bytes.length - HEADER_BYTES) return null
  return { type, sequence: view.getUint32(4), payload: bytes.subarray(HEADER_BYTES) }
}

/**
 * The datagrams in what a camera sent at once: some put several into one, or let the length in the header
 * count the first packet only. What comes behind it then belongs to the same number.
 */
export function splitDatagrams(bytes: Uint8Array): Datagram[] {
  const whole = decodeDatagram(bytes)
  if (whole) return [whole]
  if (bytes.length <= HEADER_BYTES) return []
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const type = typeOf.get(view.getUint16(0))
  const end = HEADER_BYTES + view.getUint16(2)
  if (!type || end === HEADER_BYTES) return []
  const sequence = view.getUint32(4)
  // A length that claims too much: what is there is taken, if it ends as a packet does.
  if (end > bytes.length) {
    const payload = bytes.subarray(HEADER_BYTES)
    return payload[payload.length - 1] === TERMINATOR ? [{ type, sequence, payload }] : []
  }
  const first = { type, sequence, payload: bytes.subarray(HEADER_BYTES, end) }
  const rest = bytes.subarray(end)
  const more = splitDatagrams(rest)
  return [first, ...(more.length > 0 ? more : [{ type, sequence, payload: rest }])]
}

export const RESET_SEQUENCE = Uint8Array.of(0x01)
export const SEQUENCE_OUT_OF_ORDER = Uint8Array.of(0x0f, 0x01)
export const BAD_MESSAGE = Uint8Array.of(0x0f, 0x02)

/** What a control payload says, or null if it says nothing known. */
export function readControl(payload: Uint8Array): 'reset' | 'out-of-order' | 'bad-message' | null {
  if (payload[0] === 0x01) return 'reset'
  if (payload[0] !== 0x0f) return null
  if (payload[1] === 0x01) return 'out-of-order'
  return payload[1] === 0x02 ? 'bad-message' : null
}
