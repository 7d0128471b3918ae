/** Storing, naming, recalling, overwriting and deleting presets, and undoing it. */
import { Hono } from 'hono'
import { bodyLimit } from 'hono/body-limit'
import { validator } from 'hono-openapi'
import * as v from 'valibot'
import { presetsFromText, presetsToCsv, presetsToJson } from '../../core/formats/presetList'
import { FileRefused } from '../../core/formats/venueFile'
import { PresetBoard } from '../../core/presets/board'
import { Pace, Parts } from '../../core/presets/pace'
import { PresetPose } from '../../core/presets/pose'
import type { Fleet } from '../fleet'
import { listPresets, takePresets } from '../presets/presetList'
import { presetPicture } from '../presets/presetPicture'
import { retake } from '../presets/retake'
import type { DeskView } from '../store/catalogue'
import {
  addPreset,
  amendPreset,
  changePreset,
  copyPresets,
  deletePreset,
  orderPresets,
  overwritePreset,
  readVersions,
  restorePreset,
  type Shot,
  useVersion,
} from '../store/presets'
import { Done, documented, type Problem, Stored } from './answers'
import type { Deps } from './deps'

const POSE_TIMEOUT_MS = 2500

const Name = v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60))
const PresetNumber = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(9999))
const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })

const Uuid = v.pipe(v.string(), v.uuid())
const Ids = v.pipe(v.array(Uuid), v.maxLength(20_000))
const Change = v.partial(
  v.object({
    name: Name,
    section: PresetBoard.section,
    mark: PresetBoard.mark,
    pace: v.nullable(Pace),
    parts: Parts,
    pinned: v.boolean(),
  }),
)
const VersionView = v.object({
  version: v.number(),
  pose: PresetPose,
  pictureId: v.nullable(v.string()),
  storedAt: v.string(),
})
export type VersionView = v.InferOutput<typeof VersionView>
const Taken = v.object({ added: v.number(), changed: v.number() })
const MAX_LIST_BYTES = 10 * 1024 * 1024
const Copied = v.object({ copied: v.number() })
const MAX_UPLOAD_BYTES = 20 * 1024 * 1024

/** A pose means the same on the same head only. */
function headsDiffer(view: DeskView, ids: readonly string[], cameraId: string): string | null {
  const target = view.cameras.find((c) => c.id === cameraId)
  if (!target) return 'That camera is not there any more.'
  const heads = new Map(view.cameras.map((c) => [c.id, c.headProfile]))
  const other = view.presets.find((p) => ids.includes(p.id) && heads.get(p.cameraId) !== target.headProfile)
  return other
    ? `${other.name} belongs to a camera with another head, so its pose means something else there.`
    : null
}

const GONE = 'This preset is not there any more.'

/** Pose and picture of a camera as it stands; or why they cannot be had. */
async function takeShot(
  fleet: Fleet,
  cameraId: string,
): Promise<(Shot & { warning: string | null }) | string> {
  const member = fleet.get(cameraId)
  if (!member) return 'This camera is switched off in the desk, or not in the list any more.'
  if (member.camera.health.state === 'standby') return 'The camera is in standby. Switch it on, then store.'
  if (!member.camera.capabilities.position)
    return 'This camera does not tell where it stands, so its pose cannot be stored.'
  const pose = await member.camera.restingPose(POSE_TIMEOUT_MS)
  if (!pose) {
    const { state } = member.camera.health
    return state === 'ready' || state === 'slow'
      ? 'The camera is still moving. Let it come to rest, then store.'
      : 'The camera does not answer, so there is no pose to store. Check its power and its cable.'
  }
  const jpeg = await member.pictures.fresh()
  const { panDeg, tiltDeg, zoom, focusAuto, focus } = pose
  return {
    pose: { panDeg, tiltDeg, zoom, focusAuto, focus },
    jpeg,
    takenAt: new Date(),
    warning: jpeg ? null : 'Stored without a picture: the camera sent none. Store again to add one.',
  }
}

export function presetRoutes({ db, catalogue, fleet, recall, changed }: Deps) {
  const stored = (id: string, formerVersion: number | null, warning: string | null): Stored => ({
    preset: catalogue.preset(id)!,
    formerVersion,
    warning,
  })
  return new Hono()
    .post(
      '/',
      documented('Store a new preset where the camera stands', Stored, {
        409: 'The camera cannot tell where it stands',
      }),
      validator(
        'json',
        v.object({
          cameraId: v.string(),
          name: v.optional(v.nullable(Name), null),
          /** Where it is free; else the next free one. */
          number: v.optional(v.nullable(PresetNumber), null),
        }),
      ),
      async (c) => {
        const { cameraId, name, number } = c.req.valid('json')
        const event = catalogue.current?.view.event
        if (!event) return c.json<Problem, 409>({ error: 'No event is open.' }, 409)
        const shot = await takeShot(fleet(), cameraId)
        if (typeof shot === 'string') return c.json<Problem, 409>({ error: shot }, 409)
        const id = await addPreset(db, { eventId: event.id, cameraId, name, number, shot })
        await changed()
        return c.json(stored(id, null, shot.warning), 200)
      },
    )
    .put(
      '/:id/shot',
      documented('Store over a preset', Stored, {
        404: 'No such preset',
        409: 'The camera cannot tell where it stands',
      }),
      validator('param', Id),
      async (c) => {
        const { id } = c.req.valid('param')
        const preset = catalogue.preset(id)
        if (!preset) return c.json<Problem, 404>({ error: GONE }, 404)
        const shot = await takeShot(fleet(), preset.cameraId)
        if (typeof shot === 'string') return c.json<Problem, 409>({ error: shot }, 409)
        const former = await overwritePreset(db, id, shot)
        if (former === null) return c.json<Problem, 404>({ error: GONE }, 404)
        await changed()
        return c.json(stored(id, former, shot.warning), 200)
      },
    )
    .put(
      '/:id/version',
      documented('Go back to a former version', Done, { 404: 'No such version' }),
      validator('param', Id),
      validator('json', v.object({ version: v.pipe(v.number(), v.integer()) })),
      async (c) => {
        const { version } = c.req.valid('json')
        if (!(await useVersion(db, c.req.valid('param').id, version))) {
          return c.json<Problem, 404>({ error: 'That version is not there.' }, 404)
        }
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .patch(
      '/:id',
      documented('Change what is said of a preset', Done, { 404: 'No such preset' }),
      validator('param', Id),
      validator('json', Change),
      async (c) => {
        if (!(await changePreset(db, c.req.valid('param').id, c.req.valid('json')))) {
          return c.json<Problem, 404>({ error: GONE }, 404)
        }
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .get(
      '/:id/versions',
      documented('All that was stored in a preset, the newest first', v.array(VersionView)),
      validator('param', Id),
      async (c) => {
        const versions = await readVersions(db, c.req.valid('param').id)
        return c.json(
          versions.map((x) => ({ ...x, storedAt: x.storedAt.toISOString() })),
          200,
        )
      },
    )
    .get('/list.csv', (c) => {
      const view = catalogue.current?.view
      return c.body(presetsToCsv(view ? listPresets(view) : []), 200, {
        'content-type': 'text/csv; charset=utf-8',
        'content-disposition': 'attachment; filename="presets.csv"',
      })
    })
    .get('/list.json', (c) => {
      const view = catalogue.current?.view
      return c.body(presetsToJson(view ? listPresets(view) : []), 200, {
        'content-type': 'application/json; charset=utf-8',
        'content-disposition': 'attachment; filename="presets.json"',
      })
    })
    .post(
      '/list',
      documented('Take in a list of presets, CSV or JSON: all of it, or nothing', Taken, {
        400: 'It is refused',
        409: 'No event is open',
      }),
      bodyLimit({
        maxSize: MAX_LIST_BYTES,
        onError: (c) => c.json<Problem, 413>({ error: 'This list is too large. It is not opened.' }, 413),
      }),
      async (c) => {
        const view = catalogue.current?.view
        if (!view) return c.json<Problem, 409>({ error: 'No event is open.' }, 409)
        try {
          const counts = await takePresets(db, view, presetsFromText(await c.req.text()))
          await changed()
          return c.json(counts, 200)
        } catch (error) {
          if (error instanceof FileRefused) return c.json<Problem, 400>({ error: error.message }, 400)
          throw error
        }
      },
    )
    .post(
      '/order',
      documented('Put presets into this order', Done),
      validator('json', v.object({ ids: Ids, board: v.picklist(['own', 'pinned']) })),
      async (c) => {
        const { ids, board } = c.req.valid('json')
        await orderPresets(db, ids, board)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/copy',
      documented('Copy presets into another event, or to another camera of the same head', Copied, {
        404: 'No such event or camera',
        409: 'The heads differ',
      }),
      validator('json', v.object({ ids: Ids, eventId: Uuid, cameraId: v.nullable(Uuid) })),
      async (c) => {
        const { ids, eventId, cameraId } = c.req.valid('json')
        const view = catalogue.current?.view
        if (!view?.events.some((e) => e.id === eventId))
          return c.json<Problem, 404>({ error: 'That event is not there any more.' }, 404)
        const problem = cameraId === null ? null : headsDiffer(view, ids, cameraId)
        if (problem) return c.json<Problem, 409>({ error: problem }, 409)
        const copied = await copyPresets(db, ids, { eventId, cameraId })
        await changed()
        return c.json({ copied }, 200)
      },
    )
    .post(
      '/:id/retake',
      documented("Take a preset's picture anew; the camera must stand there", Done, {
        404: 'No such preset',
        409: 'The camera does not stand there, or gives no picture',
      }),
      validator('param', Id),
      async (c) => {
        const preset = catalogue.preset(c.req.valid('param').id)
        const member = preset && fleet().get(preset.cameraId)
        if (!preset || !member) return c.json<Problem, 404>({ error: GONE }, 404)
        const problem = await retake(db, member, preset)
        if (problem) return c.json<Problem, 409>({ error: problem }, 409)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .put(
      '/:id/picture',
      documented('Give a preset a picture of your own', Done, {
        400: 'It is no picture that can be read',
        404: 'No such preset',
        413: 'Too large',
      }),
      bodyLimit({
        maxSize: MAX_UPLOAD_BYTES,
        onError: (c) => c.json<Problem, 413>({ error: 'This picture is too large: at most 20 MB.' }, 413),
      }),
      validator('param', Id),
      async (c) => {
        const jpeg = await presetPicture(Buffer.from(await c.req.arrayBuffer()))
        if (!jpeg)
          return c.json<Problem, 400>(
            { error: 'This file is no picture that can be read. Choose a JPEG or a PNG.' },
            400,
          )
        if (!(await amendPreset(db, c.req.valid('param').id, { jpeg })))
          return c.json<Problem, 404>({ error: GONE }, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .delete(
      '/:id',
      documented('Delete a preset; it can be restored', Done, { 404: 'No such preset' }),
      validator('param', Id),
      async (c) => {
        if (!(await deletePreset(db, c.req.valid('param').id)))
          return c.json<Problem, 404>({ error: GONE }, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/:id/restore',
      documented('Bring a deleted preset back', Done, { 404: 'No such deleted preset' }),
      validator('param', Id),
      async (c) => {
        if (!(await restorePreset(db, c.req.valid('param').id)))
          return c.json<Problem, 404>({ error: GONE }, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/:id/recall',
      documented('Recall a preset', Done, { 409: 'The camera cannot go there now' }),
      validator('param', Id),
      async (c) => {
        const result = await recall(c.req.valid('param').id, null)
        if (!result.ok) return c.json<Problem, 409>({ error: result.message }, 409)
        return c.json({ ok: true as const }, 200)
      },
    )
}
