/**
 * The picture settings and the menu of such a camera, from byte literals: what each code takes, in which modes, and
 * what is answered. Nothing here is shared with the driver.
 */

/** By its code: how it is written, and as far as it goes. */
const TWO_DIGITS = new Map<number, number>([
  [0x43, 255],
  [0x44, 255],
  [0x4a, 21],
  [0x4b, 17],
  [0x4c, 15],
  [0x4d, 31],
  [0x4e, 14],
  [0x42, 14],
  [0x49, 14],
  [0x4f, 14],
  [0xa1, 14],
  [0xa2, 14],
])
const ONE_BYTE = new Map<number, readonly number[]>([
  [0x39, [0x00, 0x03, 0x0a, 0x0b, 0x0d]],
  [0x35, [0x00, 0x01, 0x02, 0x03, 0x05, 0x20]],
  [0x3e, [0x02, 0x03]],
  [0x33, [0x02, 0x03]],
  [0x3d, [0x02, 0x03]],
  [0x5a, [0x02, 0x03]],
  [0x61, [0x02, 0x03]],
  [0x66, [0x02, 0x03]],
  [0x58, [0x02, 0x03]],
  [0x57, [0x00, 0x01, 0x02]],
  [0x2c, Array.from({ length: 16 }, (_, i) => i)],
  [0x5b, [0, 1, 2, 3, 4]],
  [0x53, [0, 1, 2, 3, 4, 5]],
])
/** Which modes of exposure take a level; of white balance. */
const BY_EXPOSURE = new Map<number, readonly number[]>([
  [0x4a, [0x03, 0x0a]],
  [0x4b, [0x03, 0x0b]],
  [0x4c, [0x03]],
  [0x4d, [0x0d]],
  [0x4e, [0x00, 0x0a, 0x0b]],
])
const BY_WHITE = new Map<number, number>([
  [0x43, 0x05],
  [0x44, 0x05],
  [0x20, 0x20],
])

export class FieldImage {
  /** Of each code what it is set to. */
  readonly values = new Map<number, number>([
    ...[...TWO_DIGITS.keys()].map((code) => [code, 5] as [number, number]),
    ...[...ONE_BYTE].map(([code, allowed]) => [code, allowed[0]!] as [number, number]),
    [0x20, 10],
    [0x28, 0x2000],
  ])
  menuOpen = false
  /** What was done in the menu. */
  readonly pressed: string[] = []
  /** One push has been measured so often. */
  measured = 0
  /** A new mode takes levels only after this, ms. */
  modeNeedsMs = 0
  private modeFromMs = 0

  /** @param asked hex behind `09`; null if it does not know the question */
  answer(asked: string): number[] | null {
    if (asked === '06 06') return [this.menuOpen ? 0x02 : 0x03]
    const match = /^04 ([0-9a-f]{2})$/.exec(asked)
    const code = match ? Number.parseInt(match[1]!, 16) : -1
    const value = this.values.get(code)
    if (value === undefined) return null
    if (code === 0x28) return [12, 8, 4, 0].map((shift) => (value >> shift) & 0x0f)
    if (TWO_DIGITS.has(code)) return [0x00, 0x00, value >> 4, value & 0x0f]
    return code === 0x20 ? [value >> 4, value & 0x0f] : [value]
  }

  /** @param p the packet with its header and terminator; null if it is none of these */
  obey(p: readonly number[], text: string, nowMs: number): 'done' | 'refused' | null {
    if (text === '01 06 06 02' || text === '01 06 06 03') {
      this.menuOpen = text.endsWith('2')
      return 'done'
    }
    if (text === '01 7e 01 02 00 01' || text === '01 06 06 04') {
      if (!this.menuOpen) return 'refused'
      this.pressed.push(text.startsWith('01 7e') ? 'enter' : 'back')
      return 'done'
    }
    if (text === '01 04 10 05') {
      if (this.values.get(0x35) !== 0x03) return 'refused'
      this.measured += 1
      return 'done'
    }
    if (p[1] !== 0x01 || p[2] !== 0x04) return null
    const code = p[3]!
    if (TWO_DIGITS.has(code) && p.length === 9) return this.level(code, p[6]! * 16 + p[7]!, nowMs)
    if (code === 0x20 && p.length === 7) return this.level(code, p[4]! * 16 + p[5]!, nowMs)
    if (code === 0x28 && p.length === 9) {
      const value = p.slice(4, 8).reduce((all, b) => all * 16 + b, 0)
      this.values.set(code, value)
      return 'done'
    }
    if (!ONE_BYTE.has(code) || p.length !== 6) return null
    if (!ONE_BYTE.get(code)!.includes(p[4]!)) return 'refused'
    if ((code === 0x39 || code === 0x35) && this.values.get(code) !== p[4]) this.modeFromMs = nowMs
    this.values.set(code, p[4]!)
    return 'done'
  }

  private level(code: number, value: number, nowMs: number): 'done' | 'refused' {
    const modes = BY_EXPOSURE.get(code)
    const white = BY_WHITE.get(code)
    if (modes && !modes.includes(this.values.get(0x39)!)) return 'refused'
    if (white !== undefined && this.values.get(0x35) !== white) return 'refused'
    if ((modes || white !== undefined) && nowMs - this.modeFromMs < this.modeNeedsMs) return 'refused'
    if (value > (TWO_DIGITS.get(code) ?? 255)) return 'refused'
    this.values.set(code, value)
    return 'done'
  }
}
