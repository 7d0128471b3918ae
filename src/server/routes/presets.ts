/** Storing, naming, recalling, overwriting and deleting presets, and undoing it. */

import { type Context, Hono } from 'hono'
import * as v from 'valibot'
import { pictureSize } from '../../core/image/pictureSize'
import { AS_USUAL } from '../../core/orders/entries'
import type { CameraOrder } from '../../core/orders/orders'
import { sectionForNew } from '../../core/presets/board'
import { Pace } from '../../core/presets/pace'
import type { PresetView } from '../../core/presets/preset'
import {
  MemoryNumber,
  PresetChange,
  PresetName,
  PresetNumber,
  USUAL_SAID,
  VersionView,
} from '../../core/presets/preset'
import { putIntoMemory } from '../presets/intoMemory'
import { retake } from '../presets/retake'
import { NoShot, type TakenShot, takeShot } from '../presets/takeShot'
import type { DeskView } from '../store/catalogue'
import {
  type AddedPreset,
  addPreset,
  changePreset,
  copyPresets,
  deletePreset,
  orderPresets,
  restorePreset,
} from '../store/presets'
import { amendPreset, overwritePreset, readVersions, useVersion } from '../store/versions'
import { Done, documented, type Problem, Stored } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })

const Uuid = v.pipe(v.string(), v.uuid())
const Ids = v.pipe(v.array(Uuid), v.maxLength(20_000))
/** The ids of the copies. */
const Copied = v.object({ ids: v.array(v.string()) })

/** A pose means the same on the same head only. */
function headsDiffer(view: DeskView, ids: readonly string[], cameraId: string): string | null {
  const target = view.cameras.find((c) => c.id === cameraId)
  if (!target) return 'That camera no longer exists.'
  const heads = new Map(view.cameras.map((c) => [c.id, c.headProfile]))
  const wanted = new Set(ids)
  const other = view.presets.find((p) => wanted.has(p.id) && heads.get(p.cameraId) !== target.headProfile)
  return other
    ? `${other.name} belongs to a camera with another head, so its pose means something else there.`
    : null
}

const GONE = 'This preset no longer exists.'

const NO_LIGHT = 'The camera does not tell its exposure and white balance.'
const GONE_FROM_MEMORY = "What was in the camera's memory before cannot be had back."
const ONLY_THERE = 'This preset is in the memory of the camera alone: without it nothing would be left of it.'

/** A new preset as its list will have it; its picture is known when that is read. */
const freshView = (
  cameraId: string,
  { id, number, order, name, section }: AddedPreset,
  { pose, light, takenAt }: TakenShot,
  memory: number | null,
): PresetView => ({
  ...{ id, cameraId, number, order, name, version: 1, pose, light, memory, pictureId: null, surveyed: false },
  ...{ ...USUAL_SAID, section, pinned: null },
  storedAt: takenAt.toISOString(),
})

/** What prevents a shot, as a sentence. */
async function orNone(shot: ReturnType<typeof takeShot>): Promise<Awaited<typeof shot> | string> {
  try {
    return await shot
  } catch (error) {
    if (error instanceof NoShot) return error.message
    throw error
  }
}

export function presetRoutes({ db, jobs, catalogue, fleet, gate, actorOf, changed }: Deps) {
  const givenBy = (c: Context) => (order: CameraOrder) => gate.perform(order, actorOf(c))
  /** Into the memory of its own number. @returns what prevented it */
  const intoMemory = async (c: Context, id: string): Promise<string | null> => {
    const preset = catalogue.preset(id)
    if (!preset) return null
    const { number } = preset
    const trouble = await putIntoMemory(fleet().get(preset.cameraId), preset, number, givenBy(c))
    if (trouble) return `It is not in the camera's memory ${number}: ${trouble}`
    await changePreset(db, id, { memory: number })
    await changed({ presets: [id] })
    return null
  }
  /** @param known what is known of it where the list could not be read again yet */
  const stored = (
    id: string,
    formerVersion: number | null,
    warning: string | null,
    known: PresetView | null = null,
  ): Stored => ({
    preset: (catalogue.preset(id) ?? known)!,
    formerVersion,
    warning,
  })
  return new Hono()
    .post(
      '/',
      documented('Store a new preset where the camera stands', Stored, {
        409: 'The camera cannot tell where it stands',
      }),
      given(
        'json',
        v.object({
          cameraId: v.string(),
          name: v.optional(v.nullable(PresetName), null),
          /** Where it is free; else the next free one. */
          number: v.optional(v.nullable(PresetNumber), null),
          /** With exposure and white balance. */
          light: v.optional(v.boolean(), false),
          /** Into this memory of the camera's own as well; null for none, or as the camera is set. */
          memory: v.optional(v.nullable(MemoryNumber), null),
        }),
      ),
      async (c) => {
        const { cameraId, name, number, light, memory } = c.req.valid('json')
        const event = catalogue.current?.view.event
        if (!event) return c.json<Problem, 409>({ error: 'No event is open.' }, 409)
        const member = fleet().get(cameraId)
        const shot = await orNone(takeShot(member, { light, memory }, givenBy(c)))
        if (typeof shot === 'string') return c.json<Problem, 409>({ error: shot }, 409)
        const section = sectionForNew(
          catalogue.current!.view.presets.filter((p) => p.cameraId === cameraId),
          member?.camera.travel?.presetId ?? null,
        )
        const added = await addPreset(db, {
          eventId: event.id,
          cameraId,
          name,
          number,
          section,
          memory,
          shot,
        })
        await changed({ presets: [added.id] })
        const also = memory === null && member!.row.alsoInMemory ? await intoMemory(c, added.id) : null
        const warning = [shot.warning, also].filter(Boolean).join(' ') || null
        return c.json(stored(added.id, null, warning, freshView(cameraId, added, shot, memory)), 200)
      },
    )
    .put(
      '/:id/shot',
      documented('Store over a preset', Stored, {
        404: 'No such preset',
        409: 'The camera cannot tell where it stands',
      }),
      given('param', Id),
      given('json', v.object({ light: v.optional(v.boolean(), false) })),
      async (c) => {
        const { id } = c.req.valid('param')
        const preset = catalogue.preset(id)
        if (!preset) return c.json<Problem, 404>({ error: GONE }, 404)
        // What was kept of it stays.
        const light = preset.light !== null || c.req.valid('json').light
        const shot = await orNone(
          takeShot(fleet().get(preset.cameraId), { light, memory: preset.memory }, givenBy(c)),
        )
        if (typeof shot === 'string') return c.json<Problem, 409>({ error: shot }, 409)
        const former = await overwritePreset(db, id, shot)
        if (former === null) return c.json<Problem, 404>({ error: GONE }, 404)
        await changed({ presets: [id] })
        // What was in the camera's memory is gone: going back to it is not offered.
        if (!shot.pose)
          return c.json(stored(id, null, [shot.warning, GONE_FROM_MEMORY].filter(Boolean).join(' ')), 200)
        return c.json(stored(id, former, shot.warning), 200)
      },
    )
    .put(
      '/:id/light',
      documented(
        'Keep the exposure and white balance of this moment with a preset, or leave them out',
        Done,
        {
          404: 'No such preset',
          409: 'The camera does not tell them',
        },
      ),
      given('param', Id),
      given('json', v.object({ keep: v.boolean() })),
      async (c) => {
        const preset = catalogue.preset(c.req.valid('param').id)
        if (!preset) return c.json<Problem, 404>({ error: GONE }, 404)
        const member = fleet().get(preset.cameraId)
        const light = c.req.valid('json').keep ? ((await member?.camera.light()) ?? null) : null
        if (c.req.valid('json').keep && !light) return c.json<Problem, 409>({ error: NO_LIGHT }, 409)
        await amendPreset(db, preset.id, { light })
        await changed({ presets: [preset.id] })
        return c.json({ ok: true as const }, 200)
      },
    )
    .put(
      '/:id/memory',
      documented("Keep a preset in the camera's own memory too, or no longer", Done, {
        404: 'No such preset',
        409: 'The camera does not stand there, or refuses',
      }),
      given('param', Id),
      given('json', v.object({ memory: v.nullable(MemoryNumber) })),
      async (c) => {
        const preset = catalogue.preset(c.req.valid('param').id)
        if (!preset) return c.json<Problem, 404>({ error: GONE }, 404)
        const { memory } = c.req.valid('json')
        if (memory === null && !preset.pose) return c.json<Problem, 409>({ error: ONLY_THERE }, 409)
        const member = fleet().get(preset.cameraId)
        const trouble = memory === null ? null : await putIntoMemory(member, preset, memory, givenBy(c))
        if (trouble) return c.json<Problem, 409>({ error: trouble }, 409)
        await changePreset(db, preset.id, { memory })
        await changed({ presets: [preset.id] })
        return c.json({ ok: true as const }, 200)
      },
    )
    .put(
      '/:id/version',
      documented('Go back to a former version', Done, { 404: 'No such version' }),
      given('param', Id),
      given('json', v.object({ version: v.pipe(v.number(), v.integer()) })),
      async (c) => {
        const { version } = c.req.valid('json')
        if (!(await useVersion(db, c.req.valid('param').id, version))) {
          return c.json<Problem, 404>({ error: 'That version is not there.' }, 404)
        }
        await changed({ presets: [c.req.valid('param').id] })
        return c.json({ ok: true as const }, 200)
      },
    )
    .patch(
      '/:id',
      documented('Change what is said of a preset', Done, { 404: 'No such preset' }),
      given('param', Id),
      given('json', PresetChange, { change: true }),
      async (c) => {
        if (!(await changePreset(db, c.req.valid('param').id, c.req.valid('json')))) {
          return c.json<Problem, 404>({ error: GONE }, 404)
        }
        await changed({ presets: [c.req.valid('param').id] })
        return c.json({ ok: true as const }, 200)
      },
    )
    .get(
      '/:id/versions',
      documented('All that was stored in a preset, the newest first', v.array(VersionView)),
      given('param', Id),
      async (c) => {
        const versions = await readVersions(db, c.req.valid('param').id)
        return c.json(
          versions.map((x) => ({ ...x, storedAt: x.storedAt.toISOString() })),
          200,
        )
      },
    )
    .post(
      '/order',
      documented('Put presets into this order', Done),
      given('json', v.object({ ids: Ids, board: v.picklist(['own', 'pinned']) })),
      async (c) => {
        const { ids, board } = c.req.valid('json')
        await orderPresets(db, ids, board)
        await changed({ presets: ids })
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/copy',
      documented('Copy presets into another event, or to another camera of the same head', Copied, {
        404: 'No such event or camera',
        409: 'The heads differ',
      }),
      given('json', v.object({ ids: Ids, eventId: Uuid, cameraId: v.nullable(Uuid) })),
      async (c) => {
        const { ids, eventId, cameraId } = c.req.valid('json')
        const view = catalogue.current?.view
        if (!view?.events.some((e) => e.id === eventId))
          return c.json<Problem, 404>({ error: 'That event no longer exists.' }, 404)
        const problem = cameraId === null ? null : headsDiffer(view, ids, cameraId)
        if (problem) return c.json<Problem, 409>({ error: problem }, 409)
        const copied = await copyPresets(db, ids, { eventId, cameraId })
        await changed()
        return c.json({ ids: copied }, 200)
      },
    )
    .post(
      '/:id/retake',
      documented("Retake a preset's picture; the camera must stand there", Done, {
        404: 'No such preset',
        409: 'The camera does not stand there, or gives no picture',
      }),
      given('param', Id),
      async (c) => {
        const preset = catalogue.preset(c.req.valid('param').id)
        const member = preset && fleet().get(preset.cameraId)
        if (!preset || !member) return c.json<Problem, 404>({ error: GONE }, 404)
        const problem = await retake(db, member, preset)
        if (problem) return c.json<Problem, 409>({ error: problem }, 409)
        await changed({ presets: [preset.id] })
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
      given('param', Id),
      async (c) => {
        const bytes = new Uint8Array(await c.req.arrayBuffer())
        // What is none by its first bytes is not even handed on.
        const jpeg = pictureSize(bytes) ? await jobs.run('presetPicture', bytes, bytes.buffer) : null
        if (!jpeg)
          return c.json<Problem, 400>(
            {
              error: 'This file is no picture that can be read. Choose a JPEG, a PNG or a WebP.',
              where: 'body',
            },
            400,
          )
        if (!(await amendPreset(db, c.req.valid('param').id, { jpeg })))
          return c.json<Problem, 404>({ error: GONE }, 404)
        await changed({ presets: [c.req.valid('param').id] })
        return c.json({ ok: true as const }, 200)
      },
    )
    .delete(
      '/:id',
      documented('Delete a preset; it can be restored', Done, { 404: 'No such preset' }),
      given('param', Id),
      async (c) => {
        if (!(await deletePreset(db, c.req.valid('param').id)))
          return c.json<Problem, 404>({ error: GONE }, 404)
        await changed({ presets: [c.req.valid('param').id] })
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/:id/restore',
      documented('Bring a deleted preset back', Done, { 404: 'No such deleted preset' }),
      given('param', Id),
      async (c) => {
        if (!(await restorePreset(db, c.req.valid('param').id)))
          return c.json<Problem, 404>({ error: GONE }, 404)
        await changed({ presets: [c.req.valid('param').id] })
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/:id/recall',
      documented('Recall a preset', Done, { 409: 'The camera cannot go there now' }),
      given('param', Id),
      given(
        'json',
        v.object({
          pace: v.optional(v.nullable(Pace), null),
          /** On air, where the guard asks first. */
          confirmed: v.optional(v.boolean(), false),
        }),
      ),
      async (c) => {
        const { id } = c.req.valid('param')
        const { pace, confirmed } = c.req.valid('json')
        const result = await gate.perform(
          { t: 'recall', preset: id, ...AS_USUAL, pace, whole: false },
          actorOf(c),
          confirmed,
        )
        if (!result.ok) return c.json<Problem, 409>({ error: result.message }, 409)
        return c.json({ ok: true as const }, 200)
      },
    )
}
