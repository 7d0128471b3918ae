import fc from 'fast-check'
import { pictureSize } from './pictureSize'

const bytes = (hex: string) => Uint8Array.from(Buffer.from(hex.replace(/\s/g, ''), 'hex'))

test('the sizes of a JPEG, a PNG and the three kinds of WebP, by their first bytes', () => {
  // A JFIF header, a comment, then a progressive frame of 640 x 360.
  const jpeg = bytes(
    'ffd8 ffe0 0010 4a46494600010100000100010000 fffe 0004 4141 ffc2 0011 08 0168 0280 03 012200 021101 031101',
  )
  expect(pictureSize(jpeg)).toEqual({ kind: 'jpeg', width: 640, height: 360 })
  const png = bytes('89504e470d0a1a0a 0000000d 49484452 0000ea60 00000010 08 02 000000 00000000')
  expect(pictureSize(png)).toEqual({ kind: 'png', width: 60_000, height: 16 })
  const riff = '52494646 00000000 57454250'
  expect(pictureSize(bytes(`${riff} 56503820 00000000 000000 9d012a 8002 6801 0000`))).toEqual({
    kind: 'webp',
    width: 640,
    height: 360,
  })
  // 14 bits of width less one, then of height less one.
  expect(pictureSize(bytes(`${riff} 5650384c 00000000 2f 7fc25900 0000000000`))).toEqual({
    kind: 'webp',
    width: 640,
    height: 360,
  })
  expect(pictureSize(bytes(`${riff} 56503858 0a000000 00000000 7f0200 670100 0000`))).toEqual({
    kind: 'webp',
    width: 640,
    height: 360,
  })
})

test('a drawing, a text, an end too soon and any noise are no pictures, and none of it throws', () => {
  for (const text of ['<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"></svg>', 'GIF89a', ''])
    expect(pictureSize(new TextEncoder().encode(text.padEnd(40)))).toBeNull()
  expect(pictureSize(bytes('ffd8ffc0'))).toBeNull()
  fc.assert(
    fc.property(
      fc.uint8Array({ maxLength: 80 }),
      fc.constantFrom('', 'ffd8', '89504e470d0a1a0a', '52494646'),
      (noise, head) => {
        const size = pictureSize(Uint8Array.from([...bytes(head), ...noise]))
        if (size) expect(size.width >= 0 && size.height >= 0).toBe(true)
      },
    ),
    { numRuns: 2000 },
  )
})
