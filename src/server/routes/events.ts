/** Events of the open venue: making, naming, opening, deleting. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { Guard } from '../../core/orders/guardSettings'
import { Words } from '../../core/presets/board'
import { addEvent, changeEvent, deleteEvent, openEvent } from '../store/events'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const Name = v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60))
const GONE = 'This event no longer exists.'

export function eventRoutes({ db, catalogue, changed, backups }: Deps) {
  return new Hono()
    .post(
      '/',
      documented('Make an event of the open venue, and open it', v.object({ id: v.string() }), {
        409: 'No venue is open',
      }),
      given('json', v.object({ name: Name })),
      async (c) => {
        const venue = catalogue.current?.view.venue
        if (!venue) return c.json<Problem, 409>({ error: 'No venue is open.' }, 409)
        const id = await addEvent(db, venue.id, c.req.valid('json').name)
        await changed()
        return c.json({ id }, 200)
      },
    )
    .patch(
      '/:id',
      documented('Rename an event, or change its list of words or its on-air guard', Done, {
        404: 'No such event',
      }),
      given('param', Id),
      given('json', v.partial(v.object({ name: Name, words: Words, guard: Guard })), { change: true }),
      async (c) => {
        if (!(await changeEvent(db, c.req.valid('param').id, c.req.valid('json'))))
          return c.json<Problem, 404>({ error: GONE }, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/:id/open',
      documented('Open an event', Done, { 404: 'No such event' }),
      given('param', Id),
      async (c) => {
        const venue = catalogue.current?.view.venue
        if (!venue || !(await openEvent(db, venue.id, c.req.valid('param').id)))
          return c.json<Problem, 404>({ error: GONE }, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .delete(
      '/:id',
      documented('Delete an event for good, with its presets', Done, { 409: 'It is open, or gone' }),
      given('param', Id),
      async (c) => {
        const view = catalogue.current?.view
        if (view && view.event.id !== c.req.valid('param').id)
          await backups.make(view.venue, 'before-removal')
        if (!(await deleteEvent(db, c.req.valid('param').id)))
          return c.json<Problem, 409>(
            { error: 'The open event cannot be deleted. Open another one first.' },
            409,
          )
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
}
