/** Cues, tours, recorded moves, clock starts and buttons: read, kept, ordered and deleted, all in the same way. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { type Part, type PartData, type PartKind, SHOW_PARTS } from '../../core/cues/show'
import { deletePart, orderParts, partsBefore, putPart } from '../store/show'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const NO_EVENT = 'No event is open.'
const MEANWHILE =
  'Somebody else has changed it meanwhile. Look at it again, then change what is still to be changed.'
const Kept = v.object({ version: v.number() })
const Before = v.object({ version: v.number(), replacedAt: v.string(), data: v.unknown() })
export type Before = v.InferOutput<typeof Before>

export function partRoutes<K extends PartKind>(kind: K, { db, catalogue, changed }: Deps) {
  const { schema, what, path } = SHOW_PARTS[kind]
  const gone = { error: `This ${what} no longer exists.` }
  const event = () => catalogue.current?.view.event.id ?? null
  return new Hono()
    .get('/', documented(`Every ${what} of the open event`, v.array(v.unknown())), (c) =>
      c.json((catalogue.current?.view.show[path] ?? []) as unknown as Part<K>[], 200),
    )
    .post(
      '/order',
      documented(`Put each ${what} in its place`, Done, { 409: NO_EVENT }),
      given('json', v.object({ ids: v.pipe(v.array(v.pipe(v.string(), v.uuid())), v.maxLength(2000)) })),
      async (c) => {
        const id = event()
        if (!id) return c.json<Problem, 409>({ error: NO_EVENT }, 409)
        await orderParts(db, id, kind, c.req.valid('json').ids)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .put(
      '/:id',
      documented(`Keep a ${what}, new or changed; one that was deleted comes back`, Kept, {
        409: 'No event is open, or somebody else has changed it',
      }),
      given('param', Id),
      given(
        'json',
        v.object({
          data: schema as unknown as v.GenericSchema<PartData<K>>,
          /** The one that it replaces; null: whatever is there. */
          version: v.optional(v.nullable(v.number()), null),
          order: v.optional(v.number()),
        }),
      ),
      async (c) => {
        const eventId = event()
        if (!eventId) return c.json<Problem, 409>({ error: NO_EVENT }, 409)
        const { data, version, order } = c.req.valid('json') as {
          data: PartData<K>
          version: number | null
          order?: number
        }
        const put = await putPart(db, eventId, kind, c.req.valid('param').id, data, { version, order })
        if (put.is !== 'kept')
          return c.json<Problem, 409>({ error: put.is === 'elsewhere' ? gone.error : MEANWHILE }, 409)
        await changed()
        return c.json({ version: put.version }, 200)
      },
    )
    .get(
      '/:id/before',
      documented(`What a ${what} was before, the newest first`, v.array(Before), { 409: NO_EVENT }),
      given('param', Id),
      async (c) => {
        const eventId = event()
        if (!eventId) return c.json<Problem, 409>({ error: NO_EVENT }, 409)
        const all = await partsBefore(db, eventId, c.req.valid('param').id)
        // What makes no sense to this version any more cannot be gone back to.
        const readable = all.flatMap(({ version, replacedAt, data }) => {
          const parsed = v.safeParse(schema, data)
          return parsed.success
            ? [{ version, replacedAt: replacedAt.toISOString(), data: parsed.output as unknown }]
            : []
        })
        return c.json(readable, 200)
      },
    )
    .delete(
      '/:id',
      documented(`Delete a ${what}`, Done, { 404: gone.error }),
      given('param', Id),
      async (c) => {
        const eventId = event()
        if (!eventId || !(await deletePart(db, eventId, kind, c.req.valid('param').id)))
          return c.json<Problem, 404>(gone, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
}
