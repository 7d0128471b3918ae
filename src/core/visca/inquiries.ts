/** VISCA inquiries and their answers, both ways. Positions are in the head's own units. */
import { fromNibbles, fromSigned16, isPacket, TERMINATOR, toNibbles, toSigned16 } from './packet'
import { isMode, SETTING_CODES, SETTINGS, type Setting } from './settings'

export type InquiryKind =
  | 'power'
  | 'ptPosition'
  | 'ptTopSpeeds'
  | 'zoomPosition'
  | 'focusPosition'
  | 'focusMode'
  | 'version'
  | Setting

export type Answer =
  | { kind: 'power'; on: boolean }
  | { kind: 'ptPosition'; pan: number; tilt: number }
  | { kind: 'ptTopSpeeds'; panStep: number; tiltStep: number }
  | { kind: 'zoomPosition'; position: number }
  | { kind: 'focusPosition'; position: number }
  | { kind: 'focusMode'; auto: boolean }
  | { kind: Setting; value: number }
  | { kind: 'version'; maker: number; model: number; rom: number; sockets: number }

const CODES = {
  power: [0x04, 0x00],
  ptPosition: [0x06, 0x12],
  ptTopSpeeds: [0x06, 0x11],
  zoomPosition: [0x04, 0x47],
  focusPosition: [0x04, 0x48],
  focusMode: [0x04, 0x38],
  version: [0x00, 0x02],
  ...(Object.fromEntries(
    SETTINGS.map((setting) => [setting, [0x04, SETTING_CODES[setting]]]),
  ) as unknown as Record<Setting, readonly [number, number]>),
} satisfies Record<InquiryKind, readonly [number, number]>

export function encodeInquiry(kind: InquiryKind, address = 1): Uint8Array {
  return Uint8Array.of(0x80 | address, 0x09, ...CODES[kind], TERMINATOR)
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
      return [...toSigned16(a.pan), ...toSigned16(a.tilt)]
    case 'ptTopSpeeds':
      return [a.panStep, a.tiltStep]
    case 'zoomPosition':
    case 'focusPosition':
      return toNibbles(a.position, 4)
    case 'version': {
      const pair = (v: number) => [(v >> 8) & 0x7f, v & 0x7f]
      return [...pair(a.maker), ...pair(a.model), ...pair(a.rom), a.sockets]
    }
    default:
      return isMode(a.kind) ? [a.value] : [0x00, 0x00, ...toNibbles(a.value, 2)]
  }
}

/** The answer packet of the camera at `address`: header `y0`, then `50`, then the values. */
export function encodeAnswer(answer: Answer, address = 1): Uint8Array {
  return Uint8Array.of(0x80 | (address << 4), 0x50, ...answerBody(answer), TERMINATOR)
}

/**
 * Reads the answer to an inquiry of the given kind (an answer does not say what it answers).
 * Null if its length or values do not fit that kind.
 */
export function decodeAnswer(kind: InquiryKind, b: Uint8Array): Answer | null {
  if (!isPacket(b) || b[1] !== 0x50) return null
  const values = b.length - 3
  const flag = b[2] === 0x02 ? true : b[2] === 0x03 ? false : null
  switch (kind) {
    case 'power':
      return values === 1 && flag !== null ? { kind, on: flag } : null
    case 'focusMode':
      return values === 1 && flag !== null ? { kind, auto: flag } : null
    case 'ptPosition':
      return values === 8 ? { kind, pan: fromSigned16(b, 2), tilt: fromSigned16(b, 6) } : null
    case 'ptTopSpeeds':
      return values === 2 ? { kind, panStep: b[2]!, tiltStep: b[3]! } : null
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
