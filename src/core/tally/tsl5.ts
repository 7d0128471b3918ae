/**
 * TSL UMD 5.0, little-endian: PBC (2, the bytes that follow), VER (1, zero), FLAGS (1: bit 0 text is UTF-16LE,
 * bit 1 control data for the screen), SCREEN (2), then for each display INDEX (2), CONTROL (2: right, text and
 * left lamp with two bits each, brightness, bit 15 control data), LENGTH (2) and TEXT.
 */
import type { Colour, Signal } from './signal'

export const TSL5_MOST_BYTES = 2048
const HEAD_BYTES = 6
const DISPLAY_BYTES = 6
const COLOURS: readonly Colour[] = ['off', 'red', 'green', 'amber']
const UTF16 = 1
const SCREEN_DATA = 2
const DISPLAY_DATA = 1 << 15

const CODES = { utf16: 'utf-16le', ascii: 'latin1' } as const
const decoders = new Map<string, TextDecoder>()

function decoderOf(code: string): TextDecoder {
  const known = decoders.get(code) ?? new TextDecoder(code)
  decoders.set(code, known)
  return known
}

const readText = (bytes: Uint8Array, utf16: boolean): string =>
  decoderOf(CODES[utf16 ? 'utf16' : 'ascii'])
    .decode(bytes)
    .replaceAll('\0', '')
    .trim()

/** @returns the displays of one packet; none where any part of it is wrong. An address is "screen.index". */
export function readTsl5(bytes: Uint8Array): Signal[] {
  if (bytes.length < HEAD_BYTES || bytes.length > TSL5_MOST_BYTES) return []
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (view.getUint16(0, true) !== bytes.length - 2 || bytes[2] !== 0) return []
  const flags = bytes[3]!
  // Screen control data is not defined by this version.
  if (flags & SCREEN_DATA) return []
  const screen = view.getUint16(4, true)
  const signals: Signal[] = []
  for (let at = HEAD_BYTES; at < bytes.length; ) {
    if (at + DISPLAY_BYTES > bytes.length) return []
    const [index, control, length] = [0, 2, 4].map((offset) => view.getUint16(at + offset, true)) as [
      number,
      number,
      number,
    ]
    // Control data of a display has no length, so that nothing behind it can be found.
    if (control & DISPLAY_DATA) return []
    const end = at + DISPLAY_BYTES + length
    if (end > bytes.length) return []
    const lamp = (bit: number): Colour => COLOURS[(control >> bit) & 3]!
    signals.push({
      kind: 'colours',
      address: `${screen}.${index}`,
      label: readText(bytes.subarray(at + DISPLAY_BYTES, end), (flags & UTF16) !== 0),
      right: lamp(0),
      text: lamp(2),
      left: lamp(4),
    })
    at = end
  }
  return signals
}

const DLE = 0xfe
const STX = 0x02

/** A TCP connection: packets start with FE 02, and each FE inside is doubled. */
export class Tsl5Stream {
  private held: number[] | null = null
  private escaped = false

  take(bytes: Uint8Array): Signal[] {
    const signals: Signal[] = []
    for (const byte of bytes) {
      if (!this.escaped && byte === DLE) {
        this.escaped = true
        continue
      }
      if (this.escaped && byte === STX) this.held = []
      // A single FE before anything else is a fault of the line: wait for the next start.
      else if (this.escaped && byte !== DLE) this.held = null
      else this.held?.push(byte)
      this.escaped = false
      signals.push(...this.complete())
    }
    return signals
  }

  private complete(): Signal[] {
    const { held } = this
    if (!held || held.length < HEAD_BYTES) return []
    const length = held[0]! + held[1]! * 256 + 2
    if (length > TSL5_MOST_BYTES || length < HEAD_BYTES) this.held = null
    if (held.length < length) return []
    this.held = null
    return readTsl5(Uint8Array.from(held))
  }
}
