/** Finds the same points in two pictures, to a fraction of a pixel. */
import { createCanvas } from '@napi-rs/canvas'
import { type Mat, type OpenCv, openCv } from './openCv'
import { decoded } from './pictures'

/** xa, ya, xb, yb: right and up from the middle, half the width is 1. */
export type Match = [number, number, number, number]

export interface Matched {
  a: number
  b: number
  /** Empty where too little was found. */
  points: Match[]
}

export interface MatchOrder {
  pictures: Uint8Array[]
  /** `laid`: how the first lies in the second, as far as that is known: 9 numbers, row by row, for such points. */
  pairs: { a: number; b: number; laid: number[] | null }[]
}

/** Larger pictures are made smaller, px. */
const WIDEST = 960
const FEATURES = 1500
/** Fewer that agree may agree by chance. */
const LEAST_INLIERS = 14
const RANSAC_PX = 3
/** Points that are followed: at most so many, no nearer to each other, with this share of the best one's structure. */
const KEPT = 140
const APART_PX = 12
const QUALITY = 0.02
const CORNER_PX = 5
const LEAST = 10
/** Looked at around a point, px, at so many halvings; it must be found the same way back within this. */
const WINDOW = 21
const LEVELS = 2
const AGREES_PX = 0.2
/** Of what is around a point, so many pixels each way must look alike in both. */
const PATCH = 8
const ALIKE = 0.85

interface Seen {
  gray: Mat
  /** The same without the noise of single pixels. */
  soft: Mat
  points: Float32Array
  descriptors: Mat
  count: number
}

async function seen(cv: OpenCv, bytes: Uint8Array): Promise<Seen | null> {
  const image = await decoded(bytes)?.catch(() => null)
  if (!image) return null
  const smaller = Math.min(1, WIDEST / image.width)
  const [width, height] = [Math.round(image.width * smaller), Math.round(image.height * smaller)]
  const canvas = createCanvas(width, height)
  const context = canvas.getContext('2d')
  context.drawImage(image, 0, 0, width, height)
  const rgba = cv.matFromArray(height, width, cv.CV_8UC4, context.getImageData(0, 0, width, height).data)
  const gray = new cv.Mat()
  cv.cvtColor(rgba, gray, cv.COLOR_RGBA2GRAY)
  rgba.delete()
  const orb = new cv.ORB(FEATURES)
  const [found, none, descriptors] = [new cv.KeyPointVector(), new cv.Mat(), new cv.Mat()]
  orb.detectAndCompute(gray, none, found, descriptors)
  const count = found.size()
  const points = new Float32Array(2 * count)
  for (let i = 0; i < count; i++) {
    const { pt } = found.get(i)
    points[2 * i] = pt.x
    points[2 * i + 1] = pt.y
  }
  for (const one of [orb, found, none]) one.delete()
  return { gray, soft: softened(cv, gray), points, descriptors, count }
}

/** Rough matches that agree on one homography; null where too few do. */
function agreeing(cv: OpenCv, a: Seen, b: Seen): number[] | null {
  if (a.count < LEAST_INLIERS || b.count < LEAST_INLIERS) return null
  const matcher = new cv.BFMatcher(cv.NORM_HAMMING, true)
  const found = new cv.DMatchVector()
  matcher.match(a.descriptors, b.descriptors, found)
  const [from, to]: [number[], number[]] = [[], []]
  for (let i = 0; i < found.size(); i++) {
    const { queryIdx, trainIdx } = found.get(i)
    from.push(a.points[2 * queryIdx]!, a.points[2 * queryIdx + 1]!)
    to.push(b.points[2 * trainIdx]!, b.points[2 * trainIdx + 1]!)
  }
  matcher.delete()
  found.delete()
  const n = from.length / 2
  if (n < LEAST_INLIERS) return null
  const [src, dst, mask] = [
    cv.matFromArray(n, 1, cv.CV_32FC2, from),
    cv.matFromArray(n, 1, cv.CV_32FC2, to),
    new cv.Mat(),
  ]
  const h = cv.findHomography(src, dst, cv.RANSAC, RANSAC_PX, mask)
  let kept = 0
  for (let i = 0; i < n; i++) if (mask.data[i]) kept += 1
  const values = h.empty() ? null : Array.from(h.data64F)
  for (const one of [src, dst, mask, h]) one.delete()
  return kept >= LEAST_INLIERS ? values : null
}

const through = (h: readonly number[], x: number, y: number): [number, number] => {
  const w = h[6]! * x + h[7]! * y + h[8]!
  return [(h[0]! * x + h[1]! * y + h[2]!) / w, (h[3]! * x + h[4]! * y + h[5]!) / w]
}

/** Follows points of the first into the second, which is first laid over it, and back again. */
function refined(cv: OpenCv, a: Seen, b: Seen, h: readonly number[]): Match[] {
  const { cols: width, rows: height } = a.gray
  const [softLaid, back] = [new cv.Mat(), cv.matFromArray(3, 3, cv.CV_64F, h)]
  cv.warpPerspective(
    b.soft,
    softLaid,
    back,
    new cv.Size(width, height),
    cv.INTER_CUBIC | cv.WARP_INVERSE_MAP,
    cv.BORDER_REPLICATE,
    new cv.Scalar(),
  )
  const softA = a.soft
  const corners = new cv.Mat()
  const inBoth = shownByBoth(cv, a, b, h)
  cv.goodFeaturesToTrack(softA, corners, KEPT, QUALITY, APART_PX, inBoth, CORNER_PX)
  const n = corners.rows
  const wanted = Array.from(corners.data32F.slice(0, 2 * n))
  const [to, status, error] = [new cv.Mat(), new cv.Mat(), new cv.Mat()]
  const [again, statusBack, errorBack] = [new cv.Mat(), new cv.Mat(), new cv.Mat()]
  const out: Match[] = []
  if (n > 0) {
    const window = new cv.Size(WINDOW, WINDOW)
    cv.calcOpticalFlowPyrLK(softA, softLaid, corners, to, status, error, window, LEVELS)
    cv.calcOpticalFlowPyrLK(softLaid, softA, to, again, statusBack, errorBack, window, LEVELS)
  }
  const [bw, bh] = [b.gray.cols, b.gray.rows]
  for (let i = 0; i < n; i++) {
    const [x, y] = [wanted[2 * i]!, wanted[2 * i + 1]!]
    const [u, v] = [to.data32F[2 * i]!, to.data32F[2 * i + 1]!]
    const off = Math.hypot(again.data32F[2 * i]! - x, again.data32F[2 * i + 1]! - y)
    if (!status.data[i] || !statusBack.data[i] || off > AGREES_PX) continue
    if (likeness(softA, x, y, softLaid, u, v) < ALIKE) continue
    const [bx, by] = through(h, u, v)
    if (bx < WINDOW / 3 || by < WINDOW / 3 || bx > bw - WINDOW / 3 || by > bh - WINDOW / 3) continue
    out.push([...pointAt(x, y, width, height), ...pointAt(bx, by, bw, bh)])
  }
  const used = [softLaid, back, corners, inBoth, to, status, error, again, statusBack, errorBack]
  for (const one of used) one.delete()
  return out
}

/** Without the noise of single pixels. */
function softened(cv: OpenCv, from: Mat): Mat {
  const to = new cv.Mat()
  cv.GaussianBlur(from, to, new cv.Size(5, 5), 1.2)
  return to
}

/** Where there is nothing but noise, a point is found again wherever it was looked for: so both places must look alike. */
function likeness(one: Mat, x: number, y: number, other: Mat, u: number, v: number): number {
  const [w, h] = [one.cols, one.rows]
  const [x0, y0, u0, v0] = [x, y, u, v].map(Math.round) as [number, number, number, number]
  if (Math.min(x0, y0, u0, v0) < PATCH || Math.max(x0, u0) >= w - PATCH || Math.max(y0, v0) >= h - PATCH)
    return -1
  const [p, q] = [one.data, other.data]
  let [n, sp, sq, spp, sqq, spq] = [0, 0, 0, 0, 0, 0]
  for (let j = -PATCH; j <= PATCH; j++)
    for (let i = -PATCH; i <= PATCH; i++) {
      const [a, b] = [p[(y0 + j) * w + x0 + i]!, q[(v0 + j) * w + u0 + i]!]
      n += 1
      sp += a
      sq += b
      spp += a * a
      sqq += b * b
      spq += a * b
    }
  const spread = Math.sqrt(Math.max(1e-9, (spp - (sp * sp) / n) * (sqq - (sq * sq) / n)))
  return (spq - (sp * sq) / n) / spread
}

/** A pixel's colour is that of its middle. */
const pointAt = (x: number, y: number, width: number, height: number): [number, number] => [
  (x + 0.5 - width / 2) / (width / 2),
  (height / 2 - y - 0.5) / (width / 2),
]

/** White where the second picture shows what the first does, a little inside its edge. */
function shownByBoth(cv: OpenCv, a: Seen, b: Seen, h: readonly number[]): Mat {
  const { cols: width, rows: height } = a.gray
  const bytes = new Uint8Array(width * height)
  const edge = WINDOW / 2
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const w = h[6]! * x + h[7]! * y + h[8]!
      if (w <= 0 || x < edge || y < edge || x > width - edge || y > height - edge) continue
      const [u, v] = [(h[0]! * x + h[1]! * y + h[2]!) / w, (h[3]! * x + h[4]! * y + h[5]!) / w]
      if (u > edge && v > edge && u < b.gray.cols - edge && v < b.gray.rows - edge) bytes[y * width + x] = 255
    }
  return cv.matFromArray(height, width, cv.CV_8UC1, bytes)
}

/** From points as they are told to pixels and back: 3 x 3, row by row. */
function inPixels(h: readonly number[], a: Seen, b: Seen): number[] {
  const times = (p: readonly number[], q: readonly number[]) =>
    Array.from({ length: 9 }, (_, i) => {
      const [r, c] = [Math.floor(i / 3) * 3, i % 3]
      return p[r]! * q[c]! + p[r + 1]! * q[c + 3]! + p[r + 2]! * q[c + 6]!
    })
  const half = (s: Seen) => s.gray.cols / 2
  const out = (s: Seen) => [half(s), 0, half(s) - 0.5, 0, -half(s), s.gray.rows / 2 - 0.5, 0, 0, 1]
  const into = (s: Seen) => {
    const k = 1 / half(s)
    return [k, 0, 0.5 * k - 1, 0, -k, (s.gray.rows / 2 - 0.5) * k, 0, 0, 1]
  }
  return times(out(b), times(h, into(a)))
}

/** Pictures that are read once, and matched in pairs as often as is needed. */
export class Matcher {
  private constructor(
    private readonly cv: OpenCv,
    private readonly all: readonly (Seen | null)[],
  ) {}

  static async of(pictures: readonly Uint8Array[]): Promise<Matcher> {
    const { cv } = await openCv()
    const all: (Seen | null)[] = []
    for (const picture of pictures) all.push(await seen(cv, picture))
    return new Matcher(cv, all)
  }

  /** @param laid as in MatchOrder @returns the points that both show; none where too little agrees, or one cannot be read */
  match(a: number, b: number, laid: number[] | null): Match[] {
    const { cv } = this
    const [one, other] = [this.all[a], this.all[b]]
    if (!one || !other) return []
    const rough = laid ? inPixels(laid, one, other) : agreeing(cv, one, other)
    const points = rough ? refined(cv, one, other, rough) : []
    return points.length >= LEAST ? points : []
  }

  close(): void {
    for (const one of this.all) for (const mat of [one?.gray, one?.soft, one?.descriptors]) mat?.delete()
  }
}

export async function matchPictures({ pictures, pairs }: MatchOrder): Promise<Matched[]> {
  const matcher = await Matcher.of(pictures)
  try {
    return pairs.map(({ a, b, laid }): Matched => ({ a, b, points: matcher.match(a, b, laid) }))
  } finally {
    matcher.close()
  }
}
