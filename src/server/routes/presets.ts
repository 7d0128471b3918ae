/** Storing, naming, recalling, overwriting and deleting presets, and undoing it. */
import { Hono } from 'hono'
import { validator } from 'hono-openapi'
import * as v from 'valibot'
import type { Fleet } from '../fleet'
import {
  addPreset,
  deletePreset,
  overwritePreset,
  renamePreset,
  restorePreset,
  type Shot,
  useVersion,
} from '../store/presets'
import { Done, documented, type Problem, Stored } from './answers'
import type { Deps } from './deps'

const POSE_TIMEOUT_MS = 2500

const Name = v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60))
const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })

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
      validator('json', v.object({ cameraId: v.string(), name: v.optional(v.nullable(Name), null) })),
      async (c) => {
        const { cameraId, name } = c.req.valid('json')
        const event = catalogue.current?.view.event
        if (!event) return c.json<Problem, 409>({ error: 'No event is open.' }, 409)
        const shot = await takeShot(fleet(), cameraId)
        if (typeof shot === 'string') return c.json<Problem, 409>({ error: shot }, 409)
        const id = await addPreset(db, { eventId: event.id, cameraId, name, shot })
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
      documented('Rename a preset', Done, { 404: 'No such preset' }),
      validator('param', Id),
      validator('json', v.object({ name: Name })),
      async (c) => {
        const { name } = c.req.valid('json')
        if (!(await renamePreset(db, c.req.valid('param').id, name))) {
          return c.json<Problem, 404>({ error: GONE }, 404)
        }
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
        const result = await recall(c.req.valid('param').id)
        if (!result.ok) return c.json<Problem, 409>({ error: result.message }, 409)
        return c.json({ ok: true as const }, 200)
      },
    )
}
