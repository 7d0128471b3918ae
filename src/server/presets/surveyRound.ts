/** Photographs all that a camera can reach, or a part of it anew, picture by picture, at its widest. */

import { isUsable } from '../../core/facts/health'
import { pictureSize } from '../../core/image/pictureSize'
import { createLens } from '../../core/optics/lens'
import { sightOf } from '../../core/optics/sight'
import type { View } from '../../core/optics/sphere'
import { AS_USUAL } from '../../core/orders/entries'
import { aimed, type PresetPose } from '../../core/presets/pose'
import { NO_LIMITS } from '../../core/stick/speeds'
import { mapFor } from '../../core/survey/map'
import {
  aboutHowMany,
  MOST_PICTURES,
  onSphere,
  planSurvey,
  type Reach,
  reachOfPart,
} from '../../core/survey/plan'
import { NO_SURVEY } from './roundStore'
import { arrival, PICTURE_SETTLES_MS, type RoundWork, SILENT, wait } from './roundWork'

const POSE_MS = 4000
/** A camera whose pictures fail so often has none. */
const MOST_FAILED = 5
const BLIND = 'This camera does not report where it looks, so its pictures cannot be put together.'
const FAR_TOO_MANY =
  'At its widest this camera sees so little that all of it would take too many pictures. Set limits around what matters, then survey again.'
const NONE_SENT = 'the camera sent none'
const NO_PICTURES = 'The camera sends no pictures. See its picture’s address in Setup, Cameras.'

interface Taken {
  jpeg: Uint8Array
  view: View
}

export async function surveyRound(work: RoundWork, part: Reach | null = null): Promise<void> {
  const { camera, row } = work.member
  const { profile } = camera
  if (!profile || !camera.pose || !aimed(camera.pose)) return work.end(BLIND)
  const lens = createLens(profile.lens)
  const sight = sightOf({ profile, lens, mount: row.mount, limits: row.limits ?? NO_LIMITS, digital: false })
  const { pan, tilt } = sight.seen
  // Of a head that its profile does not describe the ends are not known.
  const all: Reach = onSphere({ pan, tilt })
  const fov = { hfovDeg: lens.hfovDeg(lens.wide), vfovDeg: lens.vfovDeg(lens.wide) }
  if (part && !(await work.store.surveyed())) return work.end(NO_SURVEY)
  const reach = part ? reachOfPart(all, part, fov) : all
  if (aboutHowMany(reach, fov) > MOST_PICTURES) return work.end(FAR_TOO_MANY)
  const poses = planSurvey(reach, fov)
  work.tell({ total: poses.length })
  const taken: Taken[] = []
  let failed = 0
  for (const [i, pose] of poses.entries()) {
    if (!work.goesOn) return
    work.tell({ at: `picture ${i + 1}` })
    const head = sight.turned(pose)
    const trouble = await photograph(work, { ...head, zoom: lens.wide }, (at, jpeg) =>
      taken.push({ jpeg, view: sight.view(at) }),
    )
    if (!isUsable(camera.health.state)) return work.end(SILENT)
    if (!work.goesOn) return
    if (trouble) {
      failed += 1
      work.trouble(`Picture ${i + 1}: ${trouble}`)
      // It may not move now, or has no pictures: either way the reason is the same each time.
      if (failed >= MOST_FAILED && taken.length === 0)
        return work.end(trouble === NONE_SENT ? NO_PICTURES : `It could not begin: ${trouble}`)
    }
    work.tell({ through: i + 1, taken: taken.length })
  }
  if (taken.length === 0) return work.end(NO_PICTURES)
  work.tell({ at: 'putting the pictures together' })
  const size = pictureSize(taken[0]!.jpeg)
  const problem = await work.store.keepSurvey(taken, part ? null : mapFor(reach, fov, size?.width ?? 640))
  if (problem) work.end(problem)
}

/** @returns why there is none; null when it is taken */
export async function photograph(
  work: RoundWork,
  to: { panDeg: number; tiltDeg: number; zoom: number },
  take: (at: { panDeg: number; tiltDeg: number; zoom: number }, jpeg: Uint8Array) => void,
): Promise<string | null> {
  const { camera, pictures, row } = work.member
  const pose: PresetPose = { ...to, focusAuto: null, focus: null, encoder: null }
  const result = await work.perform({ t: 'goToPose', ...AS_USUAL, camera: row.id, pose })
  if (!result.ok) return result.message
  const trouble = await arrival(work, '')
  if (trouble) return trouble
  await wait(work.clock, PICTURE_SETTLES_MS)
  const jpeg = (await pictures.fresh()) ?? (await pictures.fresh())
  if (!jpeg) return NONE_SENT
  // At its widest all of a room is sharp: what the focus still does need not be waited for.
  const { pose: now } = camera
  const stands = now !== null && !now.moving && !now.late
  const at = aimed(stands ? now : await camera.restingPose(POSE_MS))
  if (!at) return 'it did not come to rest'
  take(at, jpeg)
  return null
}
