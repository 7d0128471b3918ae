/** A camera goes back to where pictures of it were taken, and sees by them how far its mount has been turned. */
import { isBumped } from '../../core/bump/bump'
import { isUsable } from '../../core/facts/health'
import { createLens } from '../../core/optics/lens'
import { sightOf } from '../../core/optics/sight'
import { angleBetweenDeg, type View } from '../../core/optics/sphere'
import { aimed } from '../../core/presets/pose'
import { NO_LIMITS } from '../../core/stick/speeds'
import type { LookedAgain } from '../jobs/bump'
import { type RoundWork, SILENT } from './roundWork'
import { photograph } from './surveyRound'

/** So many pictures are looked at again, far apart. */
const MOST = 6
/** Pictures that see less than this are looked at only where there are no others: a bump leaves them behind. */
const WIDE_DEG = 15
const NO_FORMER =
  'There is nothing to compare with: no survey, and no preset with a picture of its own. Store presets, or survey, while the camera stands as it should.'
const NOTHING_ALIKE =
  'Nothing of what was seen then is recognised now. If it was turned far, turn it back about to where it was, then do this again.'
const BLIND = 'This camera does not report where it looks, so its pictures cannot be compared.'

/** Those that are farthest from each other, the widest first. */
export function spreadOut<T extends { view: View }>(all: readonly T[], most: number): T[] {
  const wide = all.filter(({ view }) => view.hfovDeg >= WIDE_DEG)
  const left = [...(wide.length > 0 ? wide : all)].sort((a, b) => b.view.hfovDeg - a.view.hfovDeg)
  const out = left.splice(0, 1)
  while (out.length < most && left.length > 0) {
    const far = ({ view }: T) => Math.min(...out.map((one) => angleBetweenDeg(one.view, view)))
    const next = left.reduce((best, one) => (far(one) > far(best) ? one : best))
    out.push(...left.splice(left.indexOf(next), 1))
  }
  return out
}

export async function bumpRound(work: RoundWork): Promise<void> {
  const { camera, row } = work.member
  const { profile } = camera
  if (!profile || !camera.pose || !aimed(camera.pose)) return work.end(BLIND)
  const lens = createLens(profile.lens)
  const sight = sightOf({ profile, lens, mount: row.mount, limits: row.limits ?? NO_LIMITS, digital: false })
  const former = spreadOut(await work.store.formerLooks(sight), MOST)
  if (former.length === 0) return work.end(NO_FORMER)
  work.tell({ total: former.length })
  const looked: LookedAgain[] = []
  for (const [i, { view, jpeg }] of former.entries()) {
    if (!work.goesOn) return
    work.tell({ at: `picture ${i + 1}` })
    const zoom = lens.zoomForHfov(view.hfovDeg)
    const trouble = await photograph(work, { ...sight.turned(view), zoom }, (at, now) => {
      looked.push({ former: jpeg, today: now, was: view, now: sight.view(at) })
    })
    if (!isUsable(camera.health.state)) return work.end(SILENT)
    if (!work.goesOn) return
    if (trouble) work.trouble(`Picture ${i + 1}: ${trouble}`)
    work.tell({ through: i + 1, taken: looked.length })
  }
  if (looked.length === 0) return work.end('No picture could be taken.')
  work.tell({ at: 'comparing the pictures' })
  const found = await work.store.bumpOf(looked)
  if (!found) return work.end(NOTHING_ALIKE)
  work.tell({ bump: found, bumped: isBumped(found) })
}
