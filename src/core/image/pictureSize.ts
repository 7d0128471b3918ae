/**
 * The kind and size of a picture by its first bytes, without decoding it. JPEG (ISO/IEC 10918-1, frame
 * header), PNG (ISO/IEC 15948, IHDR), WebP (RIFF container: VP8, VP8L, VP8X).
 */

export interface PictureSize {
  kind: 'jpeg' | 'png' | 'webp'
  /** Pixels. */
  width: number
  height: number
}

const text = (b: Uint8Array, from: number, to: number) => String.fromCharCode(...b.subarray(from, to))
const at = (b: Uint8Array, i: number) => b[i] ?? 0
const be16 = (b: Uint8Array, i: number) => (at(b, i) << 8) | at(b, i + 1)
const be32 = (b: Uint8Array, i: number) => be16(b, i) * 0x10000 + be16(b, i + 2)
const le16 = (b: Uint8Array, i: number) => at(b, i) | (at(b, i + 1) << 8)
const le24 = (b: Uint8Array, i: number) => le16(b, i) | (at(b, i + 2) << 16)

/** Frame headers are C0 to CF, but for DHT, JPG and DAC. */
const isFrame = (marker: number) =>
  marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc

function jpegSize(b: Uint8Array): PictureSize | null {
  let i = 2
  while (i + 9 < b.length) {
    if (b[i] !== 0xff) return null
    const marker = at(b, i + 1)
    if (marker === 0xff) {
      i += 1
      continue
    }
    if (isFrame(marker)) return { kind: 'jpeg', height: be16(b, i + 5), width: be16(b, i + 7) }
    const length = be16(b, i + 2)
    if (length < 2) return null
    i += 2 + length
  }
  return null
}

function webpSize(b: Uint8Array): PictureSize | null {
  const kind = 'webp' as const
  switch (text(b, 12, 16)) {
    case 'VP8 ':
      return { kind, width: le16(b, 26) & 0x3fff, height: le16(b, 28) & 0x3fff }
    case 'VP8L': {
      const bits = le16(b, 21) + le16(b, 23) * 0x10000
      return { kind, width: (bits & 0x3fff) + 1, height: (Math.floor(bits / 0x4000) & 0x3fff) + 1 }
    }
    case 'VP8X':
      return { kind, width: le24(b, 24) + 1, height: le24(b, 27) + 1 }
    default:
      return null
  }
}

/** Null if it is none of the three, or ends before its size. */
export function pictureSize(b: Uint8Array): PictureSize | null {
  if (b.length < 30) return null
  if (b[0] === 0xff && b[1] === 0xd8) return jpegSize(b)
  if (b[0] === 0x89 && text(b, 1, 8) === 'PNG\r\n\x1a\n' && text(b, 12, 16) === 'IHDR')
    return { kind: 'png', width: be32(b, 16), height: be32(b, 20) }
  if (text(b, 0, 4) === 'RIFF' && text(b, 8, 12) === 'WEBP') return webpSize(b)
  return null
}
