/** VISCA inquiries and their answers, both ways. Positions are in the head's own units. */
import { fromNibbles, fromSigned, isPacket, positionWidths, TERMINATOR, toNibbles, toSigned } from './packet'
import { isMode, SETTING_CODES, SETTINGS, type Setting } from './settings'

/** Asks for a named control of the head's own; see core/heads/namedControls. */
export type ControlKey = `control:${string}`

export type InquiryKind =
  | 'power'
  | 'ptPosition'
  | 'ptTopSpeeds'
  | 'ptStatus'
  | 'zoomPosition'
  | 'focusPosition'
  | 'focusMode'
  | 'version'
  | Setting
  | ControlKey

export type Answer =
  | { kind: 'power'; on: boolean }
  /** Nibbles: how many it writes for each; four unless they are given. */
  | { kind: 'ptPosition'; pan: number; tilt: number; panNibbles?: number; tiltNibbles?: number }
  | { kind: 'ptTopSpeeds'; panStep: number; tiltStep: number }
  /** As the head writes it, 16 bits. */
  | { kind: 'ptStatus'; bits: number }
  | { kind: 'zoomPosition'; position: number }
  | { kind: 'focusPosition'; position: number }
  | { kind: 'focusMode'; auto: boolean }
  | { kind: Setting; value: number }
  | { kind: 'version'; maker: number; model: number; rom: number; sockets: number }
  /** What stands between the first two bytes and the terminator. */
  | { kind: ControlKey; bytes: readonly number[] }

const CODES = {
  power: [0x04, 0x00],
  ptPosition: [0x06, 0x12],
  ptTopSpeeds: [0x06, 0x11],
  ptStatus: [0x06, 0x10],
  zoomPosition: [0x04, 0x47],
  focusPosition: [0x04, 0x48],
  focusMode: [0x04, 0x38],
  version: [0x00, 0x02],
  ...(Object.fromEntries(
    SETTINGS.map((setting) => [setting, [0x04, SETTING_CODES[setting]]]),
  ) as unknown as Record<Setting, readonly [number, number]>),
} satisfies Record<Exclude<InquiryKind, ControlKey>, readonly [number, number]>

export const isControl = (kind: InquiryKind): kind is ControlKey => kind.startsWith('control:')

/** @param bytes for a named control: what stands behind `09` */
export function encodeInquiry(kind: InquiryKind, address = 1, bytes: readonly number[] = []): Uint8Array {
  const asked = isControl(kind) ? bytes : CODES[kind]
  return Uint8Array.of(0x80 | address, 0x09, ...asked, TERMINATOR)
}

export function decodeInquiry(b: Uint8Array): InquiryKind | null {
  if (!isPacket(b) || b.length !== 5 || b[1] !== 0x09) return null
  for (const [kind, [category, code]] of Object.entries(CODES)) {
    if (b[2] === category && b[3] === code) return kind as InquiryKind
  }
  return null
}

function answerBody(a: Answer): number[] {
  switch (a.kind) {
    case 'power':
      return [a.on ? 0x02 : 0x03]
    case 'focusMode':
      return [a.auto ? 0x02 : 0x03]
    case 'ptPosition':
      return [...toSigned(a.pan, a.panNibbles), ...toSigned(a.tilt, a.tiltNibbles)]
    case 'ptTopSpeeds':
      return [a.panStep, a.tiltStep]
    case 'ptStatus':
      return toNibbles(a.bits, 4)
    case 'zoomPosition':
    case 'focusPosition':
      return toNibbles(a.position, 4)
    case 'version': {
      const pair = (v: number) => [(v >> 8) & 0x7f, v & 0x7f]
      return [...pair(a.maker), ...pair(a.model), ...pair(a.rom), a.sockets]
    }
    default:
      if ('bytes' in a) return [...a.bytes]
      return isMode(a.kind) ? [a.value] : [0x00, 0x00, ...toNibbles(a.value, 2)]
  }
}

/** The answer packet of the camera at `address`: header `y0`, then `50`, then the values. */
export function encodeAnswer(answer: Answer, address = 1): Uint8Array {
  return Uint8Array.of(0x80 | (address << 4), 0x50, ...answerBody(answer), TERMINATOR)
}

function readPosition(b: Uint8Array, values: number): Answer | null {
  const widths = positionWidths(values)
  if (!widths) return null
  const [panNibbles, tiltNibbles] = widths
  const at = { pan: fromSigned(b, 2, panNibbles), tilt: fromSigned(b, 2 + panNibbles, tiltNibbles) }
  return values === 8 ? { kind: 'ptPosition', ...at } : { kind: 'ptPosition', ...at, panNibbles, tiltNibbles }
}

/**
 * Reads the answer to an inquiry of the given kind (an answer does not say what it answers).
 * Null if its length or values do not fit that kind.
 */
export function decodeAnswer(kind: InquiryKind, b: Uint8Array): Answer | null {
  // Some write the number of a socket into it.
  if (!isPacket(b) || ((b[1] ?? 0) & 0xf0) !== 0x50) return null
  const values = b.length - 3
  if (isControl(kind)) return { kind, bytes: [...b.subarray(2, -1)] }
  const flag = b[2] === 0x02 ? true : b[2] === 0x03 ? false : null
  switch (kind) {
    case 'power':
      return values === 1 && flag !== null ? { kind, on: flag } : null
    case 'focusMode':
      return values === 1 && flag !== null ? { kind, auto: flag } : null
    case 'ptPosition':
      return readPosition(b, values)
    case 'ptTopSpeeds':
      return values === 2 ? { kind, panStep: b[2]!, tiltStep: b[3]! } : null
    case 'ptStatus':
      if (values === 2) return { kind, bits: (b[2]! << 8) | b[3]! }
      return values === 4 ? { kind, bits: fromNibbles(b, 2, 4) } : null
    case 'zoomPosition':
    case 'focusPosition':
      return values === 4 ? { kind, position: fromNibbles(b, 2, 4) } : null
    case 'version': {
      if (values !== 7) return null
      const pair = (i: number) => (b[i]! << 8) | b[i + 1]!
      return { kind, maker: pair(2), model: pair(4), rom: pair(6), sockets: b[8]! }
    }
    default:
      if (isMode(kind)) return values === 1 ? { kind, value: b[2]! } : null
      return values === 4 ? { kind, value: fromNibbles(b, 4, 2) } : null
  }
}

/** Bytes of values in an answer; null where it may be any. */
function answerBytes(kind: InquiryKind): number | null {
  switch (kind) {
    case 'power':
    case 'focusMode':
      return 1
    case 'ptTopSpeeds':
      return 2
    case 'version':
      return 7
    case 'ptPosition':
      return 8
    default:
      if (isControl(kind)) return null
      return kind !== 'zoomPosition' && kind !== 'focusPosition' && kind !== 'ptStatus' && isMode(kind)
        ? 1
        : 4
  }
}

/** Could the answer to the one be taken for an answer to the other? */
export function answersAlike(a: InquiryKind, b: InquiryKind): boolean {
  const [x, y] = [answerBytes(a), answerBytes(b)]
  return x === null || y === null || x === y
}
