/**
 * A picture on its way to a browser: a small header, then the JPEG. Layout: byte 0 version 3, byte 1
 * length n of the camera's id, bytes 2-5 frame number, 6-9 age in ms when sent, 10-13 for how long the
 * camera has sent the same bytes, ms, 14-17 when it was sent, ms by the server's clock, 18-19 what the way to the
 * browser takes at its quickest, ms (all unsigned, big-endian), then n bytes of ASCII id, then the JPEG.
 * No JPEG: it is the one that was sent last.
 */

const VERSION = 3
const FIXED = 20

/** In the place of a camera's id: what the switcher has on program. */
export const PROGRAM_PICTURE = 'program'

export interface PictureFrame {
  camera: string
  number: number
  /** How old the frame was when it was sent, ms. */
  ageMs: number
  /** For how long the camera has sent the same bytes, ms. */
  sameMs: number
  /** When it was sent, whole ms by the server's clock, which begins again after 49 days. */
  sentMs: number
  /** What the way to the browser takes at its quickest, ms. */
  wayMs: number
  /** Empty: the same as the last. */
  jpeg: Uint8Array<ArrayBuffer>
}

export function encodePictureFrame(frame: {
  camera: string
  number: number
  ageMs: number
  sameMs: number
  sentMs: number
  wayMs: number
  jpeg: Uint8Array
}): Uint8Array {
  const id = new TextEncoder().encode(frame.camera)
  const bytes = new Uint8Array(FIXED + id.length + frame.jpeg.length)
  const view = new DataView(bytes.buffer)
  bytes[0] = VERSION
  bytes[1] = id.length
  view.setUint32(2, frame.number >>> 0)
  view.setUint32(6, Math.max(0, Math.round(frame.ageMs)))
  view.setUint32(10, Math.max(0, Math.round(frame.sameMs)))
  view.setUint32(14, Math.round(frame.sentMs) >>> 0)
  view.setUint16(18, Math.min(0xffff, Math.max(0, Math.round(frame.wayMs))))
  bytes.set(id, FIXED)
  bytes.set(frame.jpeg, FIXED + id.length)
  return bytes
}

/** Null if the bytes are no such frame. */
export function decodePictureFrame(buffer: ArrayBuffer): PictureFrame | null {
  const bytes = new Uint8Array(buffer)
  if (bytes.length < FIXED || bytes[0] !== VERSION || bytes.length < FIXED + bytes[1]!) return null
  const view = new DataView(buffer)
  return {
    camera: new TextDecoder().decode(bytes.subarray(FIXED, FIXED + bytes[1]!)),
    number: view.getUint32(2),
    ageMs: view.getUint32(6),
    sameMs: view.getUint32(10),
    sentMs: view.getUint32(14),
    wayMs: view.getUint16(18),
    jpeg: bytes.subarray(FIXED + bytes[1]!),
  }
}
