/** What a camera sends back, both ways: acknowledgement, completion, answer, error. */
import { isPacket, TERMINATOR } from './packet'

export type ReplyError =
  | 'message-length'
  | 'syntax'
  | 'buffer-full'
  | 'cancelled'
  | 'no-socket'
  | 'not-executable'

export type Reply =
  | { kind: 'ack'; socket: number }
  | { kind: 'completed'; socket: number }
  | { kind: 'answer'; packet: Uint8Array }
  | { kind: 'error'; socket: number; error: ReplyError }

const ERROR_CODES: Record<ReplyError, number> = {
  'message-length': 0x01,
  syntax: 0x02,
  'buffer-full': 0x03,
  cancelled: 0x04,
  'no-socket': 0x05,
  'not-executable': 0x41,
}

const errorOf = new Map(Object.entries(ERROR_CODES).map(([name, code]) => [code, name as ReplyError]))

export function encodeReply(reply: Exclude<Reply, { kind: 'answer' }>, address = 1): Uint8Array {
  const header = 0x80 | (address << 4)
  switch (reply.kind) {
    case 'ack':
      return Uint8Array.of(header, 0x40 | reply.socket, TERMINATOR)
    case 'completed':
      return Uint8Array.of(header, 0x50 | reply.socket, TERMINATOR)
    case 'error':
      return Uint8Array.of(header, 0x60 | reply.socket, ERROR_CODES[reply.error], TERMINATOR)
  }
}

/** Reads a reply packet. Null if it is none. `50` with values is an answer, `5s` alone a completion. */
export function decodeReply(b: Uint8Array): Reply | null {
  if (!isPacket(b) || (b[0]! & 0x80) === 0 || b[0]! < 0x90) return null
  const socket = b[1]! & 0x0f
  switch (b[1]! & 0xf0) {
    case 0x40:
      return b.length === 3 ? { kind: 'ack', socket } : null
    case 0x50:
      return b.length === 3 ? { kind: 'completed', socket } : { kind: 'answer', packet: b }
    case 0x60: {
      const error = errorOf.get(b[2]!)
      return b.length === 4 && error ? { kind: 'error', socket, error } : null
    }
    default:
      return null
  }
}
