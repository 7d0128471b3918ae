/** The made-up demo venue: added beside what is there, or removed again. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { hasDemo, loadDemo, removeDemo } from '../store/demo'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'

const State = v.object({ present: v.boolean() })

export function demoRoutes({ db, secrets, demo, changed }: Deps) {
  return new Hono()
    .get('/', documented('Is the demo venue there?', State), async (c) =>
      c.json({ present: await hasDemo(db) }, 200),
    )
    .post('/', documented('Add the demo venue and open it', Done), async (c) => {
      await loadDemo(db, secrets, demo, 'always')
      await changed()
      return c.json({ ok: true as const }, 200)
    })
    .delete('/', documented('Remove the demo venue', Done, { 404: 'It is not there' }), async (c) => {
      if (!(await removeDemo(db))) return c.json<Problem, 404>({ error: 'The demo no longer exists.' }, 404)
      await changed()
      return c.json({ ok: true as const }, 200)
    })
}
