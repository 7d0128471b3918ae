/** How a recall travels. */
import * as v from 'valibot'
import { type Axes, offByDeg } from './pose'

export const Pace = v.variant('kind', [
  v.object({ kind: v.literal('quick') }),
  /** All of it in a given time. */
  v.object({
    kind: v.literal('timed'),
    seconds: v.pipe(v.number(), v.minValue(0.5), v.maxValue(60)),
  }),
  /** At a given speed of the faster axis. */
  v.object({
    kind: v.literal('steady'),
    degPerSec: v.pipe(v.number(), v.minValue(0.1), v.maxValue(100)),
  }),
])
export type Pace = v.InferOutput<typeof Pace>

export const QUICK: Pace = { kind: 'quick' }
/** A move that hardly turns still takes this long to zoom at a steady pace, s for each doubling. */
const ZOOM_S = 1.6
const LEAST_S = 0.5

/**
 * How long a move is to take, s; null: as fast as it can.
 * @param zoomLog the change of log focal length
 */
export function secondsOf(pace: Pace, from: Axes | null, to: Axes, zoomLog: number): number | null {
  if (pace.kind === 'quick') return null
  if (pace.kind === 'timed') return pace.seconds
  if (!from) return null
  const turning = offByDeg(from, to) / pace.degPerSec
  return Math.min(60, Math.max(LEAST_S, turning, (Math.abs(zoomLog) / Math.LN2) * ZOOM_S))
}

/** @param wanted as secondsOf has it @param least null: no less is asked */
export const atLeast = (wanted: number | null, least: number | null | undefined): number | null =>
  least === null || least === undefined ? wanted : Math.max(wanted ?? 0, least)

/** As a tile shows it: nothing for quick. */
export function paceText(pace: Pace | null): string {
  if (!pace || pace.kind === 'quick') return ''
  return pace.kind === 'timed' ? `${pace.seconds} s` : `${pace.degPerSec}°/s`
}

/** Which parts of a preset are recalled; the rest stays as it is. */
export const Parts = v.object({
  panTilt: v.boolean(),
  zoom: v.boolean(),
  focus: v.boolean(),
  /** Exposure and white balance, if they were stored. */
  light: v.optional(v.boolean(), true),
})
export type Parts = v.InferOutput<typeof Parts>
export const ALL_PARTS: Parts = { panTilt: true, zoom: true, focus: true, light: true }
