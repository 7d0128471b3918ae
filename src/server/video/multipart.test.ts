import fc from 'fast-check'
import { boundaryOf, MultipartReader } from './multipart'

const jpeg = (body: string) =>
  Buffer.concat([Buffer.from([0xff, 0xd8]), Buffer.from(body), Buffer.from([0xff, 0xd9])])
const part = (image: Buffer, withLength: boolean) =>
  Buffer.concat([
    Buffer.from(
      `--b\r\nContent-Type: image/jpeg\r\n${withLength ? `Content-Length: ${image.length}\r\n` : ''}\r\n`,
    ),
    image,
    Buffer.from('\r\n'),
  ])

test('frames come whole, however the stream is cut', () => {
  const bodies = fc.array(fc.stringMatching(/^[a-z]{0,40}$/), { minLength: 1, maxLength: 6 })
  fc.assert(
    fc.property(
      bodies,
      fc.boolean(),
      fc.array(fc.integer({ min: 1, max: 30 }), { minLength: 1 }),
      (list, sized, cuts) => {
        const stream = Buffer.concat([...list.map((b) => part(jpeg(b), sized)), Buffer.from('--b')])
        const reader = new MultipartReader('b')
        const out: Buffer[] = []
        for (let at = 0, i = 0; at < stream.length; i++) {
          const size = cuts[i % cuts.length]!
          out.push(...reader.push(stream.subarray(at, at + size)))
          at += size
        }
        expect(out.map((f) => f.subarray(0, f.lastIndexOf(0xd9) + 1))).toEqual(list.map(jpeg))
      },
    ),
  )
})

test('noise never throws, and gives no pictures', () => {
  const reader = new MultipartReader('b')
  fc.assert(fc.property(fc.uint8Array({ maxLength: 300 }), (noise) => reader.push(noise).length === 0))
})

test('boundaries', () => {
  expect(boundaryOf('multipart/x-mixed-replace; boundary=frame')).toBe('frame')
  expect(boundaryOf('multipart/x-mixed-replace;boundary="--my"')).toBe('my')
  expect(boundaryOf('image/jpeg')).toBeNull()
  expect(boundaryOf(undefined)).toBeNull()
})
