import fc from 'fast-check'
import { JpegStream } from './jpegStream'

// Inside a picture a 0xff of the data is followed by a zero.
const body = fc
  .uint8Array({ maxLength: 60 })
  .map((bytes) => [...bytes].flatMap((b) => (b === 0xff ? [b, 0] : [b])))
const picture = body.map((bytes) => Buffer.from([0xff, 0xd8, ...bytes, 0xff, 0xd9]))
const cuts = fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1 })

function read(stream: Buffer, sizes: readonly number[]): Buffer[] {
  const reader = new JpegStream()
  const out: Buffer[] = []
  for (let at = 0, i = 0; at < stream.length; i++) {
    const size = sizes[i % sizes.length]!
    out.push(...reader.push(stream.subarray(at, at + size)))
    at += size
  }
  return out
}

test('pictures come whole, however the stream is cut, and whatever stands before the first', () => {
  const noise = fc.uint8Array({ maxLength: 20 }).map((bytes) => Buffer.from(bytes.filter((b) => b !== 0xff)))
  fc.assert(
    fc.property(fc.array(picture, { minLength: 1, maxLength: 6 }), noise, cuts, (list, before, sizes) => {
      expect(read(Buffer.concat([before, ...list]), sizes)).toEqual(list)
    }),
  )
})

test('one that is cut off is kept until the rest comes; noise gives nothing', () => {
  fc.assert(
    fc.property(picture, fc.integer({ min: 1, max: 3 }), (whole, missing) => {
      const reader = new JpegStream()
      expect(reader.push(whole.subarray(0, whole.length - missing))).toEqual([])
      expect(reader.push(whole.subarray(whole.length - missing))).toEqual([whole])
    }),
  )
  const reader = new JpegStream()
  fc.assert(
    fc.property(
      fc.uint8Array({ maxLength: 200 }),
      (noise) => reader.push(noise.filter((b) => b !== 0xd8)).length === 0,
    ),
  )
})
