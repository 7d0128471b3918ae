/** Surveys of the open event: what they show, piece by piece, and presets stored out of them. */
import { Hono } from 'hono'
import { describeRoute } from 'hono-openapi'
import * as v from 'valibot'
import { createLens } from '../../core/optics/lens'
import { sightOf } from '../../core/optics/sight'
import { MAY_ALL, type May } from '../../core/people/may'
import { PresetName } from '../../core/presets/preset'
import { NO_LIMITS } from '../../core/stick/speeds'
import type { Framing } from '../../core/survey/handles'
import { SURVEY_FORMAT, SurveyProjection, SurveyView } from '../../core/survey/surveys'
import type { Member } from '../fleet'
import { visitorOf } from '../people/door'
import { addPreset } from '../store/presets'
import { readShots, readSurvey, readSurveys, readTile, readWhole, removeSurvey } from '../store/surveys'
import { amendPreset } from '../store/versions'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Uuid = v.pipe(v.string(), v.uuid())
const Id = v.object({ id: Uuid })
const Count = v.pipe(v.string(), v.regex(/^\d{1,3}$/), v.transform(Number))
const GONE = 'There is no such survey. Look at Sightlines again.'
const PICTURE = { width: 640, height: 360 }
const Deg = v.pipe(v.number(), v.minValue(-720), v.maxValue(720))

/** As the operator sees it, degrees. */
const Frame = {
  panDeg: Deg,
  tiltDeg: Deg,
  hfovDeg: v.pipe(v.number(), v.gtValue(0), v.maxValue(170)),
}

export function surveyRoutes({ db, catalogue, fleet, jobs, changed }: Deps) {
  /** One that is of the open event, and of a camera that whoever asks may see. */
  const found = async (id: string, may: May) => {
    const row = await readSurvey(db, id)
    const event = catalogue.current?.view.event.id
    return row && row.eventId === event && may.camera(row.cameraId) ? row : null
  }
  const cameraOf = (id: string) => catalogue.current?.view.cameras.find((one) => one.id === id) ?? null
  /** Where the head is to stand for a frame on the map, and what it shows there. */
  const framed = async (row: { id: string }, member: Member, { panDeg, tiltDeg, hfovDeg }: Framing) => {
    const { profile } = member.camera
    const { mount, limits } = member.row
    const lens = createLens(profile.lens)
    const sight = sightOf({ profile, lens, mount, limits: limits ?? NO_LIMITS, digital: false })
    const { pan, tilt } = sight.seen
    const within = (deg: number, { minDeg, maxDeg }: typeof pan) => Math.min(maxDeg, Math.max(minDeg, deg))
    const seen = { panDeg: within(panDeg, pan), tiltDeg: within(tiltDeg, tilt) }
    const zoom = lens.zoomForHfov(Math.min(hfovDeg, lens.hfovDeg(lens.wide)))
    const view = sight.view({ ...sight.turned(seen), zoom })
    const jpeg = await jobs
      .run('surveyView', { pictures: await readShots(db, row.id), view, ...PICTURE })
      .catch(() => null)
    const pose = { ...sight.turned(seen), zoom, focusAuto: null, focus: null, encoder: null }
    return { pose, jpeg }
  }
  const fileOf = (id: string, ending: string) => `survey-${cameraOf(id)?.number ?? 0}.${ending}`
  return new Hono()
    .get('/', documented('The surveys of the open event', v.array(SurveyView)), async (c) => {
      const may = visitorOf(c)?.may() ?? MAY_ALL
      const event = catalogue.current?.view.event.id
      const rows = event ? await readSurveys(db, event) : []
      return c.json<SurveyView[]>(
        rows
          .filter(({ cameraId }) => may.camera(cameraId))
          .map(({ id, cameraId, takenAt, about }) => ({
            ...{ id, cameraId, takenAt: takenAt.toISOString() },
            ...about,
          })),
      )
    })
    .get(
      '/:id/tiles/:level/:column/:row',
      describeRoute({
        summary:
          'A piece of a survey’s map, 512 px wide and high; level 0 is the whole, each further one half',
        responses: {
          200: { description: 'JPEG', content: { 'image/jpeg': {} } },
          404: { description: 'No such piece' },
        },
      }),
      given('param', v.object({ id: Uuid, level: Count, column: Count, row: Count })),
      async (c) => {
        const { id, level, column, row } = c.req.valid('param')
        if (!(await found(id, visitorOf(c)?.may() ?? MAY_ALL))) return c.notFound()
        const jpeg = await readTile(db, id, level, column, row)
        if (!jpeg) return c.notFound()
        // A survey never changes: a new one has another name.
        return c.body(new Uint8Array(jpeg), 200, {
          'content-type': 'image/jpeg',
          'cache-control': 'private, max-age=31536000, immutable',
        })
      },
    )
    .get(
      '/:id/picture.png',
      describeRoute({
        summary: 'A survey’s whole map as one picture',
        responses: {
          200: { description: 'PNG', content: { 'image/png': {} } },
          404: { description: 'No such survey' },
        },
      }),
      given('param', Id),
      async (c) => {
        const row = await found(c.req.valid('param').id, visitorOf(c)?.may() ?? MAY_ALL)
        if (!row) return c.notFound()
        const { width, height } = row.about.map
        const png = await jobs.run('surveyPng', { pieces: await readWhole(db, row.id), width, height })
        return c.body(new Uint8Array(png), 200, {
          'content-type': 'image/png',
          'content-disposition': `attachment; filename="${fileOf(row.cameraId, 'png')}"`,
        })
      },
    )
    .get(
      '/:id/projection.json',
      documented('How directions lie in a survey’s picture', SurveyProjection, { 404: GONE }),
      given('param', Id),
      async (c) => {
        const row = await found(c.req.valid('param').id, visitorOf(c)?.may() ?? MAY_ALL)
        if (!row) return c.json<Problem, 404>({ error: GONE }, 404)
        const camera = cameraOf(row.cameraId)
        c.header('content-disposition', `attachment; filename="${fileOf(row.cameraId, 'json')}"`)
        return c.json(
          {
            format: SURVEY_FORMAT,
            version: 1 as const,
            ...row.about.map,
            camera: camera ? { number: camera.number, name: camera.name } : null,
            takenAt: row.takenAt.toISOString(),
          },
          200,
        )
      },
    )
    .delete('/:id', documented('Remove a survey', Done, { 404: GONE }), given('param', Id), async (c) => {
      const row = await found(c.req.valid('param').id, visitorOf(c)?.may() ?? MAY_ALL)
      return row && (await removeSurvey(db, row.id))
        ? c.json({ ok: true as const }, 200)
        : c.json<Problem, 404>({ error: GONE }, 404)
    })
    .post(
      '/:id/presets',
      documented(
        'Store a preset from a survey, without moving the camera; its picture is cut out of the survey',
        v.object({ id: v.string(), number: v.number() }),
        { 404: GONE, 409: 'The camera is switched off in the desk' },
      ),
      given('param', Id),
      given(
        'json',
        v.object({
          ...Frame,
          name: v.optional(v.nullable(PresetName), null),
        }),
      ),
      async (c) => {
        const { panDeg, tiltDeg, hfovDeg, name } = c.req.valid('json')
        const row = await found(c.req.valid('param').id, visitorOf(c)?.may() ?? MAY_ALL)
        if (!row) return c.json<Problem, 404>({ error: GONE }, 404)
        const member = fleet().get(row.cameraId)
        if (!member) return c.json<Problem, 409>({ error: 'This camera is switched off in the desk.' }, 409)
        const { pose, jpeg } = await framed(row, member, { panDeg, tiltDeg, hfovDeg })
        const added = await addPreset(db, {
          ...{ eventId: row.eventId, cameraId: row.cameraId, name },
          shot: { pose, light: null, jpeg, takenAt: new Date(), surveyed: jpeg !== null },
        })
        await changed({ presets: [added.id] })
        return c.json({ id: added.id, number: added.number }, 200)
      },
    )
    .put(
      '/:id/presets/:preset',
      documented(
        'Change the frame of a preset on a survey, without moving the camera; its picture is cut out of the survey',
        v.object({ former: v.number() }),
        { 404: GONE, 409: 'The camera is switched off in the desk' },
      ),
      given('param', v.object({ id: Uuid, preset: Uuid })),
      given('json', v.object(Frame)),
      async (c) => {
        const { id, preset } = c.req.valid('param')
        const row = await found(id, visitorOf(c)?.may() ?? MAY_ALL)
        const known = catalogue.preset(preset)
        if (!row || known?.cameraId !== row.cameraId) return c.json<Problem, 404>({ error: GONE }, 404)
        const member = fleet().get(row.cameraId)
        if (!member) return c.json<Problem, 409>({ error: 'This camera is switched off in the desk.' }, 409)
        const { pose, jpeg } = await framed(row, member, c.req.valid('json'))
        const { focusAuto, focus } = known.pose ?? pose
        await amendPreset(db, preset, {
          pose: { ...pose, focusAuto, focus },
          ...(jpeg ? { jpeg, surveyed: true } : {}),
        })
        await changed({ presets: [preset] })
        return c.json({ former: known.version }, 200)
      },
    )
}
