import fc from 'fast-check'
import * as v from 'valibot'
import { ToServer } from './messages'
import { decodePictureFrame, encodePictureFrame } from './pictureFrame'

test('a picture frame comes back as it went', () => {
  const frame = fc.record({
    camera: fc.uuid(),
    number: fc.integer({ min: 0, max: 0xffffffff }),
    ageMs: fc.integer({ min: 0, max: 100_000 }),
    sameMs: fc.integer({ min: 0, max: 100_000 }),
    sentMs: fc.integer({ min: 0, max: 0xffffffff }),
    wayMs: fc.integer({ min: 0, max: 0xffff }),
    jpeg: fc.uint8Array({ minLength: 1, maxLength: 500 }),
  })
  fc.assert(
    fc.property(frame, (f) => {
      const bytes = encodePictureFrame(f)
      const back = decodePictureFrame(Uint8Array.from(bytes).buffer)!
      expect({ ...back, jpeg: [...back.jpeg] }).toEqual({ ...f, jpeg: [...f.jpeg] })
    }),
  )
})

test('random bytes are no picture, or one within the bytes', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 60 }), (raw) => {
      const frame = decodePictureFrame(Uint8Array.from(raw).buffer)
      if (frame) expect(frame.jpeg.length).toBeLessThan(raw.length)
    }),
  )
})

test('a stick beyond its range, or not a number, is no message', () => {
  const stick = { t: 'stick', camera: 'c', pan: 0.5, tilt: 0, zoom: 0, focus: 0 }
  expect(v.is(ToServer, stick)).toBe(true)
  for (const pan of [1.01, -2, Number.NaN, Number.POSITIVE_INFINITY, '0', null]) {
    expect(v.is(ToServer, { ...stick, pan })).toBe(false)
  }
  expect(v.is(ToServer, { t: 'recall', request: 1.5, preset: 'a' })).toBe(false)
})
