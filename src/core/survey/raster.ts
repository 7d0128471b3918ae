/** Pictures that were taken from one place in several directions, laid over each other on a map or into a view. */
import { straightened } from '../optics/bend'
import type { View } from '../optics/sphere'
import type { SurveyMap } from './map'

const RAD = Math.PI / 180
/** Called a million times for each picture: looked up once. */
const { abs, floor, max, min } = Math

/** One picture of a survey. */
export interface Shot {
  width: number
  height: number
  /** RGBA, row by row from the top. */
  pixels: Uint8ClampedArray
  /** What it shows. */
  view: View
  /** Its brightness against the others; 1 is unchanged. */
  gain: number
  /** How often it was renewed since, in part: a newer one lies over it. */
  age?: number
}

/** A shot, made ready for many points. */
interface Ready {
  shot: Shot
  /** Rows of the rotation from the room to the camera: right, up, forward. */
  m: readonly number[]
  /** Half the picture's width and height at a distance of one. */
  tx: number
  ty: number
  /** Cosine of the angle within which something can be in the picture. */
  within: number
  /** Where it looks. */
  at: readonly [number, number, number]
}

/** The picture's right and up, turned anticlockwise in its plane. */
function rolledRows(right: readonly number[], up: readonly number[], deg: number): number[] {
  const [s, c] = [Math.sin(deg * RAD), Math.cos(deg * RAD)]
  return [...right.map((x, k) => c * x + s * up[k]!), ...right.map((x, k) => c * up[k]! - s * x)]
}

function ready(shot: Shot): Ready {
  const { panDeg, tiltDeg, hfovDeg, vfovDeg, rollDeg = 0 } = shot.view
  const [sp, cp] = [Math.sin(panDeg * RAD), Math.cos(panDeg * RAD)]
  const [st, ct] = [Math.sin(tiltDeg * RAD), Math.cos(tiltDeg * RAD)]
  const [tx, ty] = [Math.tan((hfovDeg * RAD) / 2), Math.tan((vfovDeg * RAD) / 2)]
  return {
    shot,
    m: rolledRows([cp, 0, -sp], [-sp * st, ct, -cp * st], rollDeg).concat(sp * ct, st, cp * ct),
    ...{ tx, ty },
    // A lens that draws the corners in shows a little more than its angle says.
    within: (shot.view.bend ? 0.85 : 1) / Math.hypot(tx, ty, 1),
    at: [sp * ct, st, cp * ct],
  }
}

/** How narrow the band is in which two pictures are blended: the power of how far inside each a point lies. */
const NARROW = 12
/** At its very edge a picture still counts so much; an older one under a newer one so much less. */
const LEAST = 1e-12
const UNDER = 1e-9

/** Colour of one direction, 0..255 each and how many pictures show it; written into `out`. */
function sample(shots: readonly Ready[], x: number, y: number, z: number, out: Float64Array): void {
  let r = 0
  let g = 0
  let b = 0
  let sum = 0
  for (const { shot, m, tx, ty } of shots) {
    const cz = m[6]! * x + m[7]! * y + m[8]! * z
    if (cz <= 0) continue
    let u = (m[0]! * x + m[1]! * y + m[2]! * z) / cz
    let v = (m[3]! * x + m[4]! * y + m[5]! * z) / cz
    const { bend } = shot.view
    if (bend) {
      const r2 = u * u + v * v
      const k = 1 + bend[0] * r2 + bend[1] * r2 * r2
      // A bend that turns back on itself shows nothing there.
      if (r2 > 4 || k <= 0.2) continue
      u *= k
      v *= k
    }
    u /= tx
    v /= ty
    const inside = min(1 - abs(u), 1 - abs(v))
    if (inside <= 0) continue
    const { width, height, pixels, gain, age } = shot
    const px = min(width - 1.001, max(0, ((u + 1) / 2) * width - 0.5))
    const py = min(height - 1.001, max(0, ((1 - v) / 2) * height - 0.5))
    const x0 = floor(px)
    const y0 = floor(py)
    const fx = px - x0
    const fy = py - y0
    const at = 4 * (y0 * width + x0)
    const below = at + 4 * width
    const weight = (inside ** NARROW + LEAST) * (age ? UNDER ** age : 1)
    const w00 = (1 - fx) * (1 - fy)
    const w10 = fx * (1 - fy)
    const w01 = (1 - fx) * fy
    const w11 = fx * fy
    const k = weight * gain
    r += k * (w00 * pixels[at]! + w10 * pixels[at + 4]! + w01 * pixels[below]! + w11 * pixels[below + 4]!)
    g +=
      k *
      (w00 * pixels[at + 1]! + w10 * pixels[at + 5]! + w01 * pixels[below + 1]! + w11 * pixels[below + 5]!)
    b +=
      k *
      (w00 * pixels[at + 2]! + w10 * pixels[at + 6]! + w01 * pixels[below + 2]! + w11 * pixels[below + 6]!)
    sum += weight
  }
  out[0] = sum > 0 ? r / sum : 0
  out[1] = sum > 0 ? g / sum : 0
  out[2] = sum > 0 ? b / sum : 0
  out[3] = sum
}

export interface Area {
  x: number
  y: number
  width: number
  height: number
}

/** What no picture shows: the tone of the page. */
const NOTHING = [0x0c, 0x13, 0x15] as const

/** Makes pieces of the map, and views out of it. */
export class Raster {
  private readonly shots: Ready[]

  constructor(shots: readonly Shot[]) {
    this.shots = shots.map(ready)
  }

  /** RGBA of a part of the map, row by row. */
  onMap(map: SurveyMap, area: Area): Uint8ClampedArray<ArrayBuffer> {
    const deg = (x: number, y: number) =>
      [map.panDeg + x / map.pxPerDeg, map.tiltDeg - y / map.pxPerDeg] as const
    const [panMid, tiltMid] = deg(area.x + area.width / 2, area.y + area.height / 2)
    const reach = (Math.hypot(area.width, area.height) / 2 / map.pxPerDeg) * RAD
    const near = this.near(panMid, tiltMid, reach)
    const sines = Float64Array.from({ length: area.width }, (_, i) =>
      Math.sin(deg(area.x + i + 0.5, 0)[0] * RAD),
    )
    const cosines = Float64Array.from({ length: area.width }, (_, i) =>
      Math.cos(deg(area.x + i + 0.5, 0)[0] * RAD),
    )
    return this.fill(near, area.width, area.height, (i, j, out) => {
      const tilt = deg(0, area.y + j + 0.5)[1] * RAD
      const c = Math.cos(tilt)
      out[0] = sines[i]! * c
      out[1] = Math.sin(tilt)
      out[2] = cosines[i]! * c
    })
  }

  /** RGBA of what a camera would see; where no picture shows anything it is transparent. */
  inView(view: View, width: number, height: number): Uint8ClampedArray<ArrayBuffer> {
    const { m, tx, ty } = ready({ width, height, pixels: new Uint8ClampedArray(), view, gain: 1 })
    return this.fill(this.shots, width, height, (i, j, out) => {
      const sx = ((2 * (i + 0.5)) / width - 1) * tx
      const sy = (1 - (2 * (j + 0.5)) / height) * ty
      const [x, y] = view.bend ? straightened(sx, sy, view.bend) : [sx, sy]
      out[0] = m[0]! * x + m[3]! * y + m[6]!
      out[1] = m[1]! * x + m[4]! * y + m[7]!
      out[2] = m[2]! * x + m[5]! * y + m[8]!
    })
  }

  /** Those that may show something within so many radians of a place. */
  private near(panDeg: number, tiltDeg: number, reach: number): Ready[] {
    const c = Math.cos(tiltDeg * RAD)
    const at = [Math.sin(panDeg * RAD) * c, Math.sin(tiltDeg * RAD), Math.cos(panDeg * RAD) * c]
    return this.shots.filter((one) => {
      const cos = one.at[0] * at[0]! + one.at[1] * at[1]! + one.at[2] * at[2]!
      return Math.acos(Math.min(1, Math.max(-1, cos))) <= Math.acos(one.within) + reach
    })
  }

  private fill(
    shots: readonly Ready[],
    width: number,
    height: number,
    direction: (i: number, j: number, out: Float64Array) => void,
  ): Uint8ClampedArray<ArrayBuffer> {
    const pixels = new Uint8ClampedArray(4 * width * height)
    const [ray, colour] = [new Float64Array(3), new Float64Array(4)]
    for (let j = 0, at = 0; j < height; j++)
      for (let i = 0; i < width; i++, at += 4) {
        direction(i, j, ray)
        sample(shots, ray[0]!, ray[1]!, ray[2]!, colour)
        const seen = colour[3]! > 0
        pixels[at] = seen ? colour[0]! : NOTHING[0]
        pixels[at + 1] = seen ? colour[1]! : NOTHING[1]
        pixels[at + 2] = seen ? colour[2]! : NOTHING[2]
        pixels[at + 3] = seen ? 255 : 0
      }
    return pixels
  }
}
