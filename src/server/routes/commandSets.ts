/** Command sets: open JSON files that describe cameras which take plain commands. */
import { and, eq } from 'drizzle-orm'
import { Hono } from 'hono'
import * as v from 'valibot'
import { commandSet } from '../store/schema'
import { commandSetSchema } from '../venues/schemas'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.maxLength(64)) })

export function commandSetRoutes({ db, jobs, catalogue, changed }: Deps) {
  return new Hono()
    .post('/', documented('Keep a command set, given as JSON', Done, { 400: 'It is refused' }), async (c) => {
      const venue = catalogue.current?.view.venue
      if (!venue) return c.json<Problem, 400>({ error: 'No venue is open.' }, 400)
      const data = await jobs.run('readCommandSet', await c.req.text())
      await db.transaction((tx) =>
        tx
          .insert(commandSet)
          .values({ venueId: venue.id, id: data.id, data })
          .onConflictDoUpdate({ target: [commandSet.venueId, commandSet.id], set: { data } }),
      )
      await changed()
      return c.json({ ok: true as const }, 200)
    })
    .get('/schema', (c) => c.body(commandSetSchema(), 200, { 'content-type': 'application/schema+json' }))
    .get('/:id/file', given('param', Id), (c) => {
      const data = catalogue.current?.commandSets.get(c.req.valid('param').id)
      if (!data) return c.json<Problem, 404>({ error: 'This command set is not there.' }, 404)
      return c.body(`${JSON.stringify(data, null, 2)}\n`, 200, {
        'content-type': 'application/json',
        'content-disposition': `attachment; filename="${data.id}.json"`,
      })
    })
    .delete(
      '/:id',
      documented('Delete a command set that no camera uses', Done, { 404: 'No such set', 409: 'It is used' }),
      given('param', Id),
      async (c) => {
        const { id } = c.req.valid('param')
        const view = catalogue.current?.view
        if (!view?.commandSets.some((set) => set.id === id))
          return c.json<Problem, 404>({ error: 'This command set is not there.' }, 404)
        const user = view.cameras.find((camera) =>
          JSON.stringify(camera.connection).includes(`"set":"${id}"`),
        )
        if (user) {
          return c.json<Problem, 409>(
            { error: `Camera ${user.number}, ${user.name}, uses this command set.` },
            409,
          )
        }
        await db.transaction((tx) =>
          tx.delete(commandSet).where(and(eq(commandSet.venueId, view.venue.id), eq(commandSet.id, id))),
        )
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
}
