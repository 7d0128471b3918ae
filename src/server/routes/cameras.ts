/** The list of cameras: trying, adding, changing, ordering, switching, deleting and bringing back. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { CameraSettings, Connection, originsOf, SECRET_NAMES, Secrets } from '../../core/cameras/connection'
import { keptSecrets } from '../../core/cameras/keptSecrets'
import { can } from '../../core/facts/capabilities'
import { camerasToCsv } from '../../core/formats/cameraCsv'
import { Pace } from '../../core/presets/pace'
import { Edge, limitsWith } from '../cameras/limits'
import { Outcome } from '../finding/outcome'
import { tryCamera } from '../finding/tryCamera'
import { forgetCertificate } from '../links/certificates'
import {
  addCamera,
  changeCamera,
  deleteCamera,
  NumberTaken,
  numberByAddress,
  orderCameras,
  restoreCamera,
  setHabits,
} from '../store/cameras'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const Body = v.object({ settings: CameraSettings, secrets: v.optional(Secrets, {}) })
const Added = v.object({ id: v.string() })

/** A camera that is turned by more than this was moved on purpose. */

const GONE = 'This camera is no longer in the list.'
const NO_VENUE = 'No venue is open.'

export function cameraRoutes({ db, secrets: box, catalogue, fleet, gate, actorOf, changed }: Deps) {
  /** What is kept, with what was entered instead. */
  const merged = (cameraId: string | null, entered: Secrets, connection: Connection): Secrets => {
    const row = catalogue.current?.cameraRows.find((r) => r.id === cameraId)
    const all = row ? (catalogue.current?.secrets.get(row.id) ?? {}) : {}
    // A kept password is not tried at another address.
    const kept = row ? keptSecrets(all, row, { connection, picture: row.picture }) : {}
    const given = Object.fromEntries(
      SECRET_NAMES.filter((n) => entered[n] !== undefined).map((n) => [n, entered[n]]),
    )
    return { ...kept, ...given }
  }
  return new Hono()
    .post(
      '/try',
      documented('Try whether a camera answers, without saving it', Outcome, { 409: 'No venue is open' }),
      given(
        'json',
        v.object({
          connection: Connection,
          secrets: v.optional(Secrets, {}),
          /** The camera of the list that is being changed. */
          cameraId: v.optional(v.nullable(v.pipe(v.string(), v.uuid())), null),
          /** Whatever certificate it shows is taken for its own from now on. */
          trustNew: v.optional(v.boolean(), false),
        }),
      ),
      async (c) => {
        const { connection, secrets, cameraId, trustNew } = c.req.valid('json')
        const snapshot = catalogue.current
        if (!snapshot) return c.json<Problem, 409>({ error: NO_VENUE }, 409)
        if (trustNew) for (const origin of originsOf(connection)) forgetCertificate(origin)
        const outcome = await tryCamera(connection, {
          secrets: merged(cameraId, secrets, connection),
          commandSets: snapshot.commandSets,
          headProfiles: snapshot.view.headProfiles,
          lines: fleet().lines,
          others: snapshot.view.cameras.filter((camera) => camera.id !== cameraId),
          // One that is on in the desk is asked over the line that it has.
          own: cameraId === null ? null : (fleet().get(cameraId)?.row.connection ?? null),
        })
        return c.json(outcome, 200)
      },
    )
    .post(
      '/',
      documented('Add a camera', Added, { 409: 'Its number is used, or no venue is open' }),
      given('json', Body),
      async (c) => {
        const { settings, secrets } = c.req.valid('json')
        const venue = catalogue.current?.view.venue
        if (!venue) return c.json<Problem, 409>({ error: NO_VENUE }, 409)
        try {
          const id = await addCamera(db, box, venue.id, settings, secrets)
          await changed()
          return c.json({ id }, 200)
        } catch (error) {
          if (error instanceof NumberTaken) return c.json<Problem, 409>({ error: error.message }, 409)
          throw error
        }
      },
    )
    .put(
      '/:id',
      documented('Change a camera', Done, { 404: 'No such camera', 409: 'Its number is used' }),
      given('param', Id),
      given('json', Body),
      async (c) => {
        const { settings, secrets } = c.req.valid('json')
        try {
          const there = await changeCamera(db, box, c.req.valid('param').id, settings, secrets)
          if (!there) return c.json<Problem, 404>({ error: GONE }, 404)
          await changed()
          return c.json({ ok: true as const }, 200)
        } catch (error) {
          if (error instanceof NumberTaken) return c.json<Problem, 409>({ error: error.message }, 409)
          throw error
        }
      },
    )
    .delete(
      '/:id',
      documented('Delete a camera; it can be restored with its presets', Done, { 404: 'No such camera' }),
      given('param', Id),
      async (c) => {
        if (!(await deleteCamera(db, c.req.valid('param').id)))
          return c.json<Problem, 404>({ error: GONE }, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/:id/restore',
      documented('Bring a deleted camera back', Done, { 404: 'No such deleted camera' }),
      given('param', Id),
      async (c) => {
        if (!(await restoreCamera(db, c.req.valid('param').id)))
          return c.json<Problem, 404>({ error: GONE }, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/:id/limits',
      documented('Set an edge of the range in which a camera may be driven, where it stands now', Done, {
        404: 'No such camera',
        409: 'It is not known where it stands, or the edges would cross',
      }),
      given('param', Id),
      given('json', v.object({ edge: Edge })),
      async (c) => {
        const { id } = c.req.valid('param')
        const member = fleet().get(id)
        if (!member) return c.json<Problem, 404>({ error: GONE }, 404)
        const limits = limitsWith(
          member.row.limits,
          c.req.valid('json').edge,
          member.camera.pose,
          member.row.mount,
        )
        if (typeof limits === 'string') return c.json<Problem, 409>({ error: limits }, 409)
        await setHabits(db, id, { limits })
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .patch(
      '/:id/habits',
      documented('How its presets travel and where they are kept', Done, { 404: 'No such camera' }),
      given('param', Id),
      given(
        'json',
        v.partial(
          v.object({
            pace: v.nullable(Pace),
            holdPicture: v.boolean(),
            alsoInMemory: v.boolean(),
            leash: v.boolean(),
            headConfirmed: v.boolean(),
          }),
        ),
        { change: true },
      ),
      async (c) => {
        if (!(await setHabits(db, c.req.valid('param').id, c.req.valid('json'))))
          return c.json<Problem, 404>({ error: GONE }, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/order',
      documented('Put the cameras in this order', Done, { 409: 'No venue is open' }),
      given('json', v.object({ ids: v.pipe(v.array(v.pipe(v.string(), v.uuid())), v.maxLength(1000)) })),
      async (c) => {
        const venue = catalogue.current?.view.venue
        if (!venue) return c.json<Problem, 409>({ error: NO_VENUE }, 409)
        await orderCameras(db, venue.id, c.req.valid('json').ids)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/number-by-address',
      documented('Number the cameras by their addresses', Done, { 409: 'No venue is open' }),
      async (c) => {
        const venue = catalogue.current?.view.venue
        if (!venue) return c.json<Problem, 409>({ error: NO_VENUE }, 409)
        await numberByAddress(db, venue.id)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/power',
      documented(
        'Switch all cameras on, or to standby',
        v.object({ failed: v.array(v.object({ camera: v.string(), message: v.string() })) }),
      ),
      given('json', v.object({ on: v.boolean() })),
      async (c) => {
        const { on } = c.req.valid('json')
        const able = fleet().all.filter(({ camera }) => can(camera.capabilities, 'power'))
        const results = await Promise.all(
          able.map(async ({ row }) => ({
            row,
            result: await gate.perform({ t: 'power', camera: row.id, on }, actorOf(c)),
          })),
        )
        const failed = results.flatMap(({ row, result }) =>
          result.ok ? [] : [{ camera: `${row.number} ${row.name}`, message: result.message }],
        )
        return c.json({ failed }, 200)
      },
    )
    .get('/list.csv', (c) => {
      const cameras = catalogue.current?.view.cameras ?? []
      return c.body(camerasToCsv(cameras), 200, {
        'content-type': 'text/csv; charset=utf-8',
        'content-disposition': 'attachment; filename="cameras.csv"',
      })
    })
}
