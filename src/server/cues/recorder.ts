/** Records the path of a camera while it is driven by hand: as it reports it, at 25 times a second. */

import {
  apart,
  curveAt,
  offFrom,
  simplified,
  smoothed,
  USUAL_TOLERANCE,
  withoutRest,
} from '../../core/cues/recorded'
import type { MovePoint, RecordedMove } from '../../core/cues/show'
import type { Lens } from '../../core/optics/lens'
import type { LivePose } from '../../core/presets/pose'

const RATE_HZ = 25
const LONGEST_S = 300
const SMOOTH_S = 0.08
/** What moved less than this was not driven, picture widths. */
const WORTH = 0.01

interface Recording {
  fromMs: number | null
  points: MovePoint[]
}

export class Recorder {
  private readonly recordings = new Map<string, Recording>()

  /** Those under way: camera, how long, how many readings. */
  get now(): { camera: string; intoMs: number; points: number }[] {
    return [...this.recordings].map(([camera, { points }]) => ({
      ...{ camera, intoMs: (points.at(-1)?.s ?? 0) * 1000, points: points.length },
    }))
  }

  start(camera: string): void {
    this.recordings.set(camera, { fromMs: null, points: [] })
  }

  cancel(camera: string): boolean {
    return this.recordings.delete(camera)
  }

  has(camera: string): boolean {
    return this.recordings.has(camera)
  }

  /** @param atMs when it was true */
  see(camera: string, { panDeg, tiltDeg, zoom }: LivePose, atMs: number): void {
    const mine = this.recordings.get(camera)
    if (!mine || panDeg === null || tiltDeg === null || zoom === null) return
    mine.fromMs ??= atMs
    const s = (atMs - mine.fromMs) / 1000
    const last = mine.points.at(-1)
    if ((last && s <= last.s) || s > LONGEST_S) return
    mine.points.push({ s, panDeg, tiltDeg, zoom })
  }

  /** @returns the move, or why there is none, in a sentence */
  stop(camera: string, name: string, lens: Lens): RecordedMove | string {
    const mine = this.recordings.get(camera)
    this.recordings.delete(camera)
    if (!mine) return 'No move of this camera is being recorded.'
    const { points } = mine
    if (points.length < 3) return 'The camera did not tell where it was, so there is nothing to keep.'
    if (!points.some((p) => apart(lens, p, points[0]!) > WORTH))
      return 'The camera did not move while it was recorded.'
    // Readings come less often than the hand moves: between them it does not go straight.
    const at = curveAt(points)
    const even = Array.from({ length: Math.floor(points.at(-1)!.s * RATE_HZ) + 1 }, (_, i) => {
      return { s: i / RATE_HZ, ...at(i / RATE_HZ) }
    })
    const moving = withoutRest(lens, even)
    const kept = simplified(lens, smoothed(moving, SMOOTH_S), USUAL_TOLERANCE)
    return { name, camera, points: kept, off: offFrom(lens, moving, kept) }
  }
}
