/** Mends everything of a camera that was bumped: presets, limits, survey and room at once, and undoes it. */
import { type Bump, bumpedView, turnedPlace } from '../../core/bump/bump'
import { mendedLimits, mendedMark, mendedPose } from '../../core/bump/mended'
import { nearTurn, type PanTilt } from '../../core/optics/aim'
import { createLens } from '../../core/optics/lens'
import { type Sight, sightOf } from '../../core/optics/sight'
import type { View } from '../../core/optics/sphere'
import { NO_LIMITS } from '../../core/stick/speeds'
import { mapFor, type SurveyMap } from '../../core/survey/map'
import { onSphere } from '../../core/survey/plan'
import type { Member } from '../fleet'
import type { Jobs } from '../jobs/jobs'
import { keepMend, type Mend, readMend, undoMend } from '../store/bumps'
import type { Catalogue } from '../store/catalogue'
import type { Database } from '../store/database'
import { readRoom } from '../store/room'
import { readGrids } from '../store/seatGrids'
import { surveyOf } from '../store/surveys'

export interface MendDeps {
  db: Database
  jobs: Pick<Jobs, 'run'>
  catalogue: Catalogue
}

type Former = NonNullable<Awaited<ReturnType<typeof surveyOf>>>

/** The same pictures where they are now. Null where they cannot be read: it is then taken away. */
async function redrawn(
  { jobs }: MendDeps,
  { about, shots, takenAt }: Former,
  views: readonly View[],
  map: SurveyMap,
): Promise<Mend['survey']> {
  const placed = shots.map((shot, i) => ({ ...shot, view: views[i]! }))
  const made = await jobs.run('redrawSurvey', { pictures: placed, map })
  if (!made) return { is: 'gone' }
  const { tiles, levels } = made
  return { is: 'kept', takenAt, about: { ...about, map, levels }, tiles, shots: placed }
}

const sightWith = ({ camera, row }: Member, limits: Member['row']['limits']): Sight => {
  const { profile } = camera
  const lens = createLens(profile.lens)
  return sightOf({ profile, lens, mount: row.mount, limits: limits ?? NO_LIMITS, digital: false })
}

/** @returns how many presets it has mended */
export async function mendBump(
  deps: MendDeps,
  eventId: string,
  member: Member,
  bump: Bump,
  lensToo: boolean,
): Promise<number> {
  const { db, catalogue } = deps
  const { profile } = member.camera
  const cameraId = member.row.id
  const { limits } = member.row
  const sight = sightWith(member, limits)
  const presets = (catalogue.current?.view.presets ?? [])
    .filter((p) => p.cameraId === cameraId && p.pose?.panDeg != null && p.pose.tiltDeg !== null)
    .map(({ id, pose }) => ({ id, pose: mendedPose(pose!, bump, profile, sight, lensToo) }))
  const after = limits && mendedLimits(limits, bump, sight)
  const former = await surveyOf(db, eventId, cameraId)
  let survey: Mend['survey'] = { is: 'none' }
  if (former) {
    const { pan, tilt } = sightWith(member, after).seen
    const { lens } = sight
    const fov = { hfovDeg: lens.hfovDeg(lens.wide), vfovDeg: lens.vfovDeg(lens.wide) }
    const whole = mapFor(onSphere({ pan, tilt }), fov, 640)
    // As finely as it was.
    const { pxPerDeg } = former.about.map
    const fine = (px: number) => Math.max(1, Math.round((px / whole.pxPerDeg) * pxPerDeg))
    const map = { ...whole, pxPerDeg, width: fine(whole.width), height: fine(whole.height) }
    survey = await redrawn(
      deps,
      former,
      former.shots.map(({ view }) => bumpedView(view, bump)),
      map,
    )
  }
  const room = await readRoom(db, eventId)
  const marks = room.points.flatMap(({ id, marks }) =>
    marks.filter((mark) => mark.cameraId === cameraId).map((mark) => ({ pointId: id, mark })),
  )
  const grids = (await readGrids(db, eventId))
    .filter((one) => one.cameraId === cameraId)
    .map(({ id, grid: { corners } }) => ({ id, corners }))
  const corner = (at: PanTilt): PanTilt => {
    const now = turnedPlace(at, bump)
    return { panDeg: nearTurn(now.panDeg, at.panDeg), tiltDeg: now.tiltDeg }
  }
  await keepMend(db, eventId, cameraId, {
    grids: grids.map(({ id, corners: [a, b, c, d] }) => ({
      id,
      corners: [corner(a), corner(b), corner(c), corner(d)],
    })),
    ...{ presets, limits: after, survey },
    marks: marks.map(({ pointId, mark }) => ({ pointId, mark: mendedMark(mark, bump) })),
    before: {
      limits,
      marks,
      grids,
      survey: former && {
        takenAt: former.takenAt.toISOString(),
        map: former.about.map,
        views: former.shots.map(({ view }) => view),
      },
    },
  })
  return presets.length
}

/** @returns whether there was anything to undo */
export async function undoBump(deps: MendDeps, eventId: string, member: Member): Promise<boolean> {
  const { db } = deps
  const before = await readMend(db, eventId, member.row.id)
  if (!before) return false
  const now = await surveyOf(db, eventId, member.row.id)
  // One that was taken since is of today.
  const survey =
    before.survey && now && now.takenAt.toISOString() === before.survey.takenAt
      ? await redrawn(deps, now, before.survey.views, before.survey.map)
      : { is: 'none' as const }
  await undoMend(db, eventId, member.row.id, before, survey)
  return true
}
