/** Mends everything of a camera that was bumped: presets, limits, survey and room at once, and undoes it. */
import { type Bump, bumpedView } from '../../core/bump/bump'
import { mendedLimits, mendedPlace, mendedPose } from '../../core/bump/mended'
import { nearTurn, type PanTilt } from '../../core/optics/aim'
import { createLens } from '../../core/optics/lens'
import { sightOf } from '../../core/optics/sight'
import type { View } from '../../core/optics/sphere'
import { solvable } from '../../core/room/solvable'
import { NO_LIMITS } from '../../core/stick/speeds'
import { mapFor, type SurveyMap } from '../../core/survey/map'
import type { Member } from '../fleet'
import type { Jobs } from '../jobs/jobs'
import { keepMend, type Mend, readMend, undoMend } from '../store/bumps'
import type { Catalogue } from '../store/catalogue'
import type { Database } from '../store/database'
import { readRoom } from '../store/room'
import type { BeforeMend } from '../store/schema'
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

/** The map that holds all of these pictures, as finely as it was. */
function mapAround(views: readonly View[], pxPerDeg: number): SurveyMap {
  const near = views[0]!.panDeg
  const pans = views.map(({ panDeg }) => nearTurn(panDeg, near))
  const tilts = views.map(({ tiltDeg }) => tiltDeg)
  const span = (all: number[]) => ({ minDeg: Math.min(...all), maxDeg: Math.max(...all) })
  const whole = mapFor({ pan: span(pans), tilt: span(tilts) }, views[0]!, 640)
  const fine = (px: number) => Math.max(1, Math.round((px / whole.pxPerDeg) * pxPerDeg))
  return { ...whole, pxPerDeg, width: fine(whole.width), height: fine(whole.height) }
}

/** The room with these marks in place of those of the same points and camera, solved on another thread. */
async function roomWith(
  { db, jobs, catalogue }: MendDeps,
  eventId: string,
  marks: BeforeMend['marks'],
): Promise<Mend['room']> {
  if (marks.length === 0) return null
  const { version, points: all, length, pins, placed } = await readRoom(db, eventId)
  const points = all.map((point) => {
    const mine = marks.filter(({ pointId }) => pointId === point.id).map(({ mark }) => mark)
    const others = point.marks.filter(({ cameraId }) => mine.every((mark) => mark.cameraId !== cameraId))
    return mine.length > 0 ? { ...point, marks: [...others, ...mine] } : point
  })
  const known = new Set(catalogue.current?.view.cameras.map(({ id }) => id))
  const solved = await jobs.run('roomOf', solvable({ points, length }, known))
  return { version, kept: { points, length, pins, placed }, solved }
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
  const lens = createLens(profile.lens)
  const sight = sightOf({
    profile,
    lens,
    mount: member.row.mount,
    limits: limits ?? NO_LIMITS,
    digital: false,
  })
  const presets = (catalogue.current?.view.presets ?? [])
    .filter((p) => p.cameraId === cameraId && p.pose?.panDeg != null && p.pose.tiltDeg !== null)
    .map(({ id, pose }) => ({ id, pose: mendedPose(pose!, bump, profile, sight, lensToo) }))
  const after = limits && mendedLimits(limits, bump, sight)
  const former = await surveyOf(db, eventId, cameraId)
  let survey: Mend['survey'] = { is: 'none' }
  if (former) {
    const views = former.shots.map(({ view }) => bumpedView(view, bump))
    survey = await redrawn(deps, former, views, mapAround(views, former.about.map.pxPerDeg))
  }
  const room = await readRoom(db, eventId)
  const marks = room.points.flatMap(({ id, marks }) =>
    marks.filter((mark) => mark.cameraId === cameraId).map((mark) => ({ pointId: id, mark })),
  )
  const grids = (await readGrids(db, eventId))
    .filter((one) => one.cameraId === cameraId)
    .map(({ id, grid: { corners } }) => ({ id, corners }))
  const corner = (at: PanTilt) => mendedPlace(at, bump)
  await keepMend(db, eventId, cameraId, {
    grids: grids.map(({ id, corners: [a, b, c, d] }) => ({
      id,
      corners: [corner(a), corner(b), corner(c), corner(d)],
    })),
    ...{ presets, limits: after, survey },
    room: await roomWith(
      deps,
      eventId,
      marks.map(({ pointId, mark }) => ({ pointId, mark: { ...mark, ...mendedPlace(mark, bump) } })),
    ),
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
  const room = await roomWith(deps, eventId, before.marks)
  await undoMend(db, eventId, member.row.id, before, { survey, room })
  return true
}
