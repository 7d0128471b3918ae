/** A head that keeps a subject in the picture by itself, simply: it turns after it, and frames it. */
import type { Lens } from '../../core/optics/lens'
import type { Axis } from './axis'

/** What it turns. */
interface Turned {
  readonly power: boolean
  readonly pan: Axis
  readonly tilt: Axis
  readonly zoom: Axis
  readonly lens: Lens
  readonly hfovDeg: number
}

export interface SubjectAt {
  panDeg: number
  tiltDeg: number
  /** Angle that the subject's height takes up, degrees. */
  heightDeg: number
}

/** How far off the subject may be before it turns, as shares of the picture's width, from calm to quick. */
const CALM = [0.12, 0.06, 0.02]
const QUICKNESS = [0.8, 1.5, 2.5]
/** What the subject's height is to be of the picture's, from wide to close. */
const HEIGHTS = [0.45, 0.7, 0.95]

export class SubjectFollow {
  on = false
  /** 1 to 3. */
  sensitivity = 2
  size = 2
  /** Where the subject is; null if there is none to follow. */
  where: () => SubjectAt | null = () => null
  private running = false

  constructor(private readonly head: Turned) {}

  advance(seconds: number): void {
    if (seconds <= 0) return
    const at = this.on && this.head.power ? this.where() : null
    if (!at) {
      if (this.running) this.rest()
      return
    }
    const { pan, tilt, zoom, lens } = this.head
    const [off, up] = [at.panDeg - pan.position, at.tiltDeg - tilt.position]
    const free = (CALM[this.sensitivity - 1] ?? 0.06) * this.head.hfovDeg
    const gain = QUICKNESS[this.sensitivity - 1] ?? 1.5
    const needed = this.running
      ? Math.max(Math.abs(off), Math.abs(up)) > free / 4
      : Math.max(Math.abs(off), Math.abs(up)) > free
    if (!needed) {
      if (this.running) this.rest()
      return
    }
    this.running = true
    pan.drive(off * gain)
    tilt.drive(up * gain)
    const vfov = at.heightDeg / (HEIGHTS[this.size - 1] ?? 0.7)
    zoom.goTo(Math.min(lens.tele, lens.zoomForHfov((vfov * 16) / 9)), 2500)
  }

  private rest(): void {
    this.running = false
    this.head.pan.drive(0)
    this.head.tilt.drive(0)
  }
}
