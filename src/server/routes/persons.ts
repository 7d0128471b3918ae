/** People at the desk, each with the controls as they like them. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { Controls } from '../../core/controls/controls'
import { visitorOf } from '../people/door'
import { addPerson, changePerson, deletePerson, PersonView, readPersons } from '../store/persons'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const Name = v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(40))
const GONE = 'This person no longer exists.'

export function personRoutes({ db }: Deps) {
  return new Hono()
    .get('/', documented('Who drives here, and how', v.array(PersonView)), async (c) => {
      const own = visitorOf(c)?.person ?? null
      return c.json(await readPersons(db, own), 200)
    })
    .post('/', documented('Add a person', PersonView), given('json', v.object({ name: Name })), async (c) =>
      c.json(await addPerson(db, c.req.valid('json').name), 200),
    )
    .put(
      '/:id',
      documented('Change a name, or how a person drives', Done, {
        404: 'No such person',
        409: 'The name is that of somebody who signs in',
      }),
      given('param', Id),
      given('json', v.object({ name: v.optional(Name), controls: v.optional(Controls) }), { change: true }),
      async (c) => {
        const own = visitorOf(c)?.person ?? null
        if (own !== null && c.req.valid('json').name !== undefined)
          return c.json<Problem, 409>({ error: 'Names are changed in Setup, People.' }, 409)
        if (own !== null && own !== c.req.valid('param').id) return c.json<Problem, 404>({ error: GONE }, 404)
        if (!(await changePerson(db, c.req.valid('param').id, c.req.valid('json'))))
          return c.json<Problem, 404>({ error: GONE }, 404)
        return c.json({ ok: true as const }, 200)
      },
    )
    .delete(
      '/:id',
      documented('Delete a person', Done, { 409: 'It is the last one, or gone' }),
      given('param', Id),
      async (c) => {
        if (!(await deletePerson(db, c.req.valid('param').id)))
          return c.json<Problem, 409>({ error: 'The last person stays.' }, 409)
        return c.json({ ok: true as const }, 200)
      },
    )
}
