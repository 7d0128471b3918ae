/** As much of OpenCV as is used here: the types that come with its package lack half of that. */

export interface Mat {
  readonly rows: number
  readonly cols: number
  readonly data: Uint8Array
  readonly data32F: Float32Array
  readonly data64F: Float64Array
  empty(): boolean
  delete(): void
}
interface Listed<T> {
  size(): number
  get(index: number): T
  delete(): void
}
type Of<T, A extends unknown[] = []> = new (...args: A) => T
type Type = number

export interface OpenCv {
  Mat: Of<Mat>
  Size: Of<object, [number, number]>
  Scalar: Of<object>
  KeyPointVector: Of<Listed<{ pt: { x: number; y: number } }>>
  DMatchVector: Of<Listed<{ queryIdx: number; trainIdx: number }>>
  ORB: Of<
    {
      detectAndCompute(image: Mat, mask: Mat, points: unknown, descriptors: Mat): void
      delete(): void
    },
    [number]
  >
  BFMatcher: Of<{ match(a: Mat, b: Mat, out: unknown): void; delete(): void }, [number, boolean]>
  CV_8UC1: Type
  CV_8UC4: Type
  CV_32FC2: Type
  CV_64F: Type
  COLOR_RGBA2GRAY: number
  NORM_HAMMING: number
  RANSAC: number
  INTER_CUBIC: number
  WARP_INVERSE_MAP: number
  BORDER_REPLICATE: number
  matFromArray(rows: number, cols: number, type: Type, values: ArrayLike<number>): Mat
  GaussianBlur(from: Mat, to: Mat, size: object, sigma: number): void
  cvtColor(from: Mat, to: Mat, code: number): void
  goodFeaturesToTrack(
    image: Mat,
    corners: Mat,
    most: number,
    quality: number,
    apart: number,
    mask: Mat,
    block: number,
  ): void
  findHomography(from: Mat, to: Mat, method: number, px: number, mask: Mat): Mat
  warpPerspective(from: Mat, to: Mat, h: Mat, size: object, how: number, border: number, value: object): void
  calcOpticalFlowPyrLK(
    from: Mat,
    to: Mat,
    points: Mat,
    found: Mat,
    status: Mat,
    error: Mat,
    window: object,
    levels: number,
  ): void
}

/** It weighs 10 MB, so it is loaded when it is needed first. */
let loading: Promise<{ cv: OpenCv }> | null = null

/** In a wrapping: its module is a thenable that answers with itself, and would never be done. */
export function openCv(): Promise<{ cv: OpenCv }> {
  loading ??= new Promise((resolve) => {
    const before = {
      uncaughtException: process.listeners('uncaughtException'),
      unhandledRejection: process.listeners('unhandledRejection'),
    }
    const cv = require('@techstark/opencv-js') as OpenCv & { then?: unknown; onRuntimeInitialized(): void }
    delete cv.then
    // It would have every error anywhere end the process.
    for (const [event, had] of Object.entries(before))
      for (const one of process.listeners(event as 'uncaughtException'))
        if (!(had as unknown[]).includes(one)) process.off(event, one)
    if (typeof cv.Mat === 'function') resolve({ cv })
    else cv.onRuntimeInitialized = () => resolve({ cv })
  })
  return loading
}
