/** Limits of a camera, set by driving it to an edge. Kept as the head has them; asked for as they are seen. */
import * as v from 'valibot'
import type { Mount } from '../../core/cameras/connection'
import { panSign, tiltSign } from '../../core/cameras/mount'
import { type Limits, NO_LIMITS } from '../../core/stick/speeds'

/** As the operator sees it; `none` removes them all. */
export const Edge = v.picklist(['left', 'right', 'up', 'down', 'none'])
export type Edge = v.InferOutput<typeof Edge>

/** The least distance between two limits, degrees. */
const LEAST_DEG = 1

/** @returns the new limits, null for none; a sentence where they make no sense */
export function limitsWith(
  before: Limits | null,
  edge: Edge,
  pose: { panDeg: number | null; tiltDeg: number | null } | null,
  mount: Mount,
): Limits | null | string {
  if (edge === 'none') return null
  if (!pose || pose.panDeg === null || pose.tiltDeg === null)
    return 'It is not known where this camera stands, so no limit can be set there.'
  const positive = edge === 'right' || edge === 'up'
  const limits = { ...(before ?? NO_LIMITS) }
  if (edge === 'left' || edge === 'right') {
    if ((panSign(mount) === 1) === positive) limits.panMaxDeg = pose.panDeg
    else limits.panMinDeg = pose.panDeg
  } else if ((tiltSign(mount) === 1) === positive) limits.tiltMaxDeg = pose.tiltDeg
  else limits.tiltMinDeg = pose.tiltDeg
  const crossed = (min: number | null, max: number | null) =>
    min !== null && max !== null && max - min < LEAST_DEG
  if (crossed(limits.panMinDeg, limits.panMaxDeg) || crossed(limits.tiltMinDeg, limits.tiltMaxDeg))
    return 'The two limits would cross. Drive further to that side, or remove the limits first.'
  return limits
}
