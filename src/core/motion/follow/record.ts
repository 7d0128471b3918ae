/** A move as it was planned and as the camera then reported it, and how far the two were apart. */
import * as v from 'valibot'
import type { MoveTrajectory } from '../plan/types'

export const MovePoint = v.object({
  /** Seconds since it began. */
  s: v.number(),
  panDeg: v.number(),
  tiltDeg: v.number(),
  /** Natural logarithm of the focal length in mm. */
  zoom: v.number(),
})
export type MovePoint = v.InferOutput<typeof MovePoint>

export const MoveRecord = v.object({
  seconds: v.number(),
  planned: v.array(MovePoint),
  measured: v.array(MovePoint),
  /** Off the plan, picture widths: in the middle of the readings, and at most. */
  off: v.nullable(v.object({ median: v.number(), most: v.number() })),
})
export type MoveRecord = v.InferOutput<typeof MoveRecord>

const SAMPLES = 48
const MOST_READINGS = 1500

export function sampled(trajectory: MoveTrajectory, samples = SAMPLES): MovePoint[] {
  return Array.from({ length: samples + 1 }, (_, i) => {
    const s = (trajectory.seconds * i) / samples
    const { pan, tilt, zoom } = trajectory.at(s)
    return { s, panDeg: pan.position, tiltDeg: tilt.position, zoom: zoom.position }
  })
}

export class MoveRecorder {
  private readonly measured: MovePoint[] = []

  constructor(
    private readonly trajectory: MoveTrajectory,
    private readonly hfovDeg: (zoom: number) => number,
  ) {}

  /** A reading, dated when it was true. */
  see(point: MovePoint): void {
    const last = this.measured.at(-1)
    if (point.s < 0 || point.s > this.trajectory.seconds + 1 || this.measured.length >= MOST_READINGS) return
    if (!last || point.s > last.s) this.measured.push(point)
  }

  get record(): MoveRecord {
    const { trajectory, measured } = this
    const offs = measured
      .map((point) => {
        const plan = trajectory.at(point.s)
        const across = (point.panDeg - plan.pan.position) * Math.cos((point.tiltDeg * Math.PI) / 180)
        return Math.hypot(across, point.tiltDeg - plan.tilt.position) / this.hfovDeg(plan.zoom.position)
      })
      .sort((a, b) => a - b)
    const off = offs.length > 0 ? { median: offs[offs.length >> 1]!, most: offs.at(-1)! } : null
    return { seconds: trajectory.seconds, planned: sampled(trajectory), measured: [...measured], off }
  }
}
