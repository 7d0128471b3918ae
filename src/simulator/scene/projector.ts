/** Draws flat shapes that stand in a room as a camera sees them. Metres; x right, y up, z ahead. */
import type { SKRSContext2D } from '@napi-rs/canvas'
import { toCamera, type Vec3 } from '../../core/optics/sphere'

const NEAR_M = 0.12
const RAD = Math.PI / 180

export type Paint = string | CanvasGradient

export class Projector {
  private readonly focal: number

  constructor(
    readonly ctx: SKRSContext2D,
    readonly width: number,
    readonly height: number,
    readonly eye: Vec3,
    readonly panDeg: number,
    readonly tiltDeg: number,
    hfovDeg: number,
    private readonly rollDeg = 0,
  ) {
    this.focal = width / 2 / Math.tan((hfovDeg * RAD) / 2)
  }

  toCam(p: Vec3): Vec3 {
    const relative: Vec3 = [p[0] - this.eye[0], p[1] - this.eye[1], p[2] - this.eye[2]]
    const upright = toCamera(relative, this.panDeg, this.tiltDeg)
    if (this.rollDeg === 0) return upright
    // A camera that is rolled clockwise shows everything turned the other way.
    const [s, c] = [Math.sin(this.rollDeg * RAD), Math.cos(this.rollDeg * RAD)]
    return [upright[0] * c - upright[1] * s, upright[0] * s + upright[1] * c, upright[2]]
  }

  private screen([x, y, z]: Vec3): [number, number] {
    return [this.width / 2 + (this.focal * x) / z, this.height / 2 - (this.focal * y) / z]
  }

  /** Screen point of a room point; null if it is behind the lens. */
  point(p: Vec3): [number, number] | null {
    const cam = this.toCam(p)
    return cam[2] < NEAR_M ? null : this.screen(cam)
  }

  depth(p: Vec3): number {
    return Math.hypot(p[0] - this.eye[0], p[1] - this.eye[1], p[2] - this.eye[2])
  }

  /** Pixels that one metre takes at a point, facing the camera. */
  pixelsPerMetre(p: Vec3): number {
    return this.focal / Math.max(NEAR_M, this.toCam(p)[2])
  }

  /** The outline of a flat polygon, cut where it passes behind the lens. False where nothing is in view. */
  private trace(points: readonly Vec3[]): boolean {
    const cams = points.map((p) => this.toCam(p))
    const cut: Vec3[] = []
    for (let i = 0; i < cams.length; i++) {
      const a = cams[i]!
      const b = cams[(i + 1) % cams.length]!
      if (a[2] >= NEAR_M) cut.push(a)
      if (a[2] >= NEAR_M !== b[2] >= NEAR_M) {
        const t = (NEAR_M - a[2]) / (b[2] - a[2])
        cut.push([a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, NEAR_M])
      }
    }
    if (cut.length < 3) return false
    const dots = cut.map((c) => this.screen(c))
    const out = (test: (d: [number, number]) => boolean) => dots.every(test)
    if (out((d) => d[0] < 0) || out((d) => d[0] > this.width)) return false
    if (out((d) => d[1] < 0) || out((d) => d[1] > this.height)) return false
    this.ctx.beginPath()
    dots.forEach(([x, y], i) => {
      if (i === 0) this.ctx.moveTo(x, y)
      else this.ctx.lineTo(x, y)
    })
    this.ctx.closePath()
    return true
  }

  fill(points: readonly Vec3[], paint: Paint): void {
    if (!this.trace(points)) return
    this.ctx.fillStyle = paint
    this.ctx.fill()
  }

  /** A flat polygon shaded evenly from one room point to another. */
  shade(points: readonly Vec3[], from: Vec3, to: Vec3, colours: readonly string[]): void {
    const a = this.point(from)
    const b = this.point(to)
    if (!a || !b) {
      this.fill(points, colours[0]!)
      return
    }
    const gradient = this.ctx.createLinearGradient(a[0], a[1], b[0], b[1])
    colours.forEach((c, i) => {
      gradient.addColorStop(i / (colours.length - 1), c)
    })
    this.fill(points, gradient)
  }

  /** A straight line of a thickness in metres. */
  beam(a: Vec3, b: Vec3, thicknessM: number, colour: string): void {
    const ca = this.toCam(a)
    const cb = this.toCam(b)
    if (ca[2] < NEAR_M && cb[2] < NEAR_M) return
    const clip = (p: Vec3, q: Vec3): Vec3 => {
      if (p[2] >= NEAR_M) return p
      const t = (NEAR_M - p[2]) / (q[2] - p[2])
      return [p[0] + (q[0] - p[0]) * t, p[1] + (q[1] - p[1]) * t, NEAR_M]
    }
    const [p, q] = [clip(ca, cb), clip(cb, ca)]
    const [s, t] = [this.screen(p), this.screen(q)]
    const ws = (thicknessM * this.focal) / p[2] / 2
    const wt = (thicknessM * this.focal) / q[2] / 2
    const length = Math.hypot(t[0] - s[0], t[1] - s[1])
    if (length < 1e-6) return
    const n = [-(t[1] - s[1]) / length, (t[0] - s[0]) / length] as const
    const { ctx } = this
    ctx.beginPath()
    ctx.moveTo(s[0] + n[0] * ws, s[1] + n[1] * ws)
    ctx.lineTo(t[0] + n[0] * wt, t[1] + n[1] * wt)
    ctx.lineTo(t[0] - n[0] * wt, t[1] - n[1] * wt)
    ctx.lineTo(s[0] - n[0] * ws, s[1] - n[1] * ws)
    ctx.closePath()
    ctx.fillStyle = colour
    ctx.fill()
  }

  /**
   * Draws on a plane through `origin`: the callback works in metres, x along `right`, y along `up`.
   * Near the origin this is exact, which is enough for things as large as a person or a sign.
   * @param reachM how far the drawing reaches from its origin, to skip what is out of the picture
   */
  plane(origin: Vec3, right: Vec3, up: Vec3, reachM: number, draw: (ctx: SKRSContext2D) => void): void {
    const cam = this.toCam(origin)
    if (cam[2] < NEAR_M + 0.2) return
    const o = this.screen(cam)
    const reach = (reachM * this.focal) / cam[2]
    if (o[0] < -reach || o[0] > this.width + reach || o[1] < -reach || o[1] > this.height + reach) return
    const e = 0.02
    const along = (d: Vec3): [number, number] => {
      const p = this.point([origin[0] + d[0] * e, origin[1] + d[1] * e, origin[2] + d[2] * e])
      return p ? [(p[0] - o[0]) / e, (p[1] - o[1]) / e] : [0, 0]
    }
    const r = along(right)
    const u = along(up)
    const { ctx } = this
    ctx.save()
    ctx.transform(r[0], r[1], u[0], u[1], o[0], o[1])
    draw(ctx)
    ctx.restore()
  }

  /** The horizontal direction from a point to the camera, as an angle about y; 0 is towards -z. */
  bearingFrom(p: Vec3): number {
    return Math.atan2(p[0] - this.eye[0], p[2] - this.eye[2])
  }
}
