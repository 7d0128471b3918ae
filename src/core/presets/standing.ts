/** What a preset's tile may truthfully say about its camera. */
import * as v from 'valibot'
import { isHere, type LivePose, offByDeg, type PresetPose, type Tolerance } from './pose'

/** A recall under way or over, as the server reports it for one camera. */
export const Travel = v.object({
  presetId: v.string(),
  /** `sent`: the camera took it, and does not tell where it goes. */
  state: v.picklist(['travelling', 'arrived', 'failed', 'interrupted', 'sent']),
  /** Estimated ms until arrival, while travelling. */
  leftMs: v.number(),
  /** Estimated ms of the whole move. */
  totalMs: v.number(),
  reason: v.nullable(v.string()),
  /** The on-air guard made it slower than it was asked to be. */
  eased: v.boolean(),
})
export type Travel = v.InferOutput<typeof Travel>

export type Standing =
  | { kind: 'idle' }
  /** The camera does not answer, so nothing can be said. */
  | { kind: 'unknown' }
  | { kind: 'travelling'; leftMs: number; share: number; eased: boolean }
  | { kind: 'here' }
  | { kind: 'off'; deg: number; zoomOnly: boolean }
  | { kind: 'failed'; reason: string }
  /** Told to the camera's own memory; where it stands is not known. */
  | { kind: 'sent' }

/**
 * @param pose the camera's newest pose; null if it is not known
 * @param travel the camera's newest recall; null before the first
 */
export function standingOf(
  preset: { id: string; pose: PresetPose | null },
  pose: LivePose | null,
  travel: Travel | null,
  tolerance: Tolerance,
): Standing {
  const mine = travel?.presetId === preset.id
  if (mine && travel.state === 'travelling') {
    const share = travel.totalMs > 0 ? 1 - travel.leftMs / travel.totalMs : 1
    return {
      kind: 'travelling',
      leftMs: travel.leftMs,
      share: Math.min(1, Math.max(0, share)),
      eased: travel.eased,
    }
  }
  if (mine && travel.state === 'failed') return { kind: 'failed', reason: travel.reason ?? 'did not arrive' }
  if (mine && travel.state === 'sent') return { kind: 'sent' }
  if (!preset.pose) return { kind: 'idle' }
  if (!pose) return mine ? { kind: 'unknown' } : { kind: 'idle' }
  if (!pose.moving && isHere(pose, preset.pose, tolerance)) return { kind: 'here' }
  if (!mine) return { kind: 'idle' }
  const deg = offByDeg(pose, preset.pose)
  return { kind: 'off', deg, zoomOnly: deg <= tolerance.deg }
}
