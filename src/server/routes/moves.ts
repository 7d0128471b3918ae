/** How a camera's newest move went: planned and measured. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { MoveRecord } from '../../core/motion/follow/record'
import { documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })

export function moveRoutes({ fleet }: Deps) {
  return new Hono().get(
    '/:id/move',
    documented('The newest timed move of a camera, as planned and as it went', MoveRecord, {
      404: 'It has made none',
    }),
    given('param', Id),
    (c) => {
      const record = fleet().get(c.req.valid('param').id)?.camera.lastMove ?? null
      return record
        ? c.json(record, 200)
        : c.json<Problem, 404>({ error: 'This camera has not made a timed move yet.' }, 404)
    },
  )
}
