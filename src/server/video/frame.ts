/** A picture from a camera. */
export interface Frame {
  /** The same for the same bytes. */
  number: number
  jpeg: Uint8Array
  /** When these bytes came first: a dark ceiling or a test card stays the same for long. */
  sinceMs: number
  /** When it came from the camera, ms on the monotonic clock. */
  atMs: number
}

/** Pictures of one camera, fetched only while somebody looks. */
export interface Feed {
  readonly latest: Frame | null
  /** Why there is no picture, in words for the operator; null while there is one, or it is not known. */
  readonly trouble: string | null
  /** Calls back on every frame; returns how to stop. */
  watch(listener: (frame: Frame) => void): () => void
  /** A frame taken after this call; null if none came in time. */
  fresh(): Promise<Uint8Array | null>
  close(): void
}

export function isJpeg(bytes: Uint8Array): boolean {
  return bytes.length > 3 && bytes[0] === 0xff && bytes[1] === 0xd8
}
