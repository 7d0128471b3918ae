/** How an event is guarded, and what the guard knows of a camera. */
import * as v from 'valibot'
import type { TallyState } from '../tally/sources'

export const GUARD_MODES = ['off', 'ease', 'ask', 'refuse'] as const
const Share = v.pipe(v.number(), v.minValue(0.05), v.maxValue(1))

/** Of an event. */
export const Guard = v.object({
  mode: v.picklist(GUARD_MODES),
  /** Cameras on preview are guarded too. */
  preview: v.boolean(),
  /** A recall on air takes at least so long. */
  seconds: v.pipe(v.number(), v.minValue(1), v.maxValue(60)),
  /** The most that a stick may push on air, as a share. */
  speed: Share,
  /** Cameras that have another share. */
  speeds: v.record(v.pipe(v.string(), v.uuid()), Share),
})
export type Guard = v.InferOutput<typeof Guard>
export const USUAL_GUARD: Guard = { mode: 'ease', preview: false, seconds: 8, speed: 0.25, speeds: {} }

/** What the guard needs to know of a camera. */
export interface OnAir {
  tally: TallyState
  guard: Guard
  /** The camera's own share of the stick on air. */
  speed: number
  /** Somebody has confirmed this order. */
  confirmed: boolean
}
