/** Rounds of a camera through its presets or its own memories. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { RoundOrder } from '../../core/presets/round'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Camera = v.object({ id: v.pipe(v.string(), v.uuid()) })

const NO_ROUND = 'This camera is on no round.'

export function roundRoutes({ rounds, gate, actorOf }: Deps) {
  return new Hono()
    .post(
      '/:id/round',
      documented('Let a camera go through its presets or its own memories; progress comes live', Done, {
        409: 'It cannot begin now',
      }),
      given('param', Camera),
      given('json', RoundOrder),
      async (c) => {
        const { id } = c.req.valid('param')
        const round = c.req.valid('json')
        const confirmed = c.req.query('confirmed') === '1'
        const result = await gate.perform({ t: 'startRound', camera: id, round }, actorOf(c), confirmed)
        return result.ok
          ? c.json({ ok: true as const }, 200)
          : c.json<Problem, 409>({ error: result.message }, 409)
      },
    )
    .post(
      '/:id/round/pause',
      documented('Let the round of a camera wait, or go on', Done, { 404: 'It is on none' }),
      given('param', Camera),
      given('json', v.object({ on: v.boolean() })),
      (c) =>
        rounds.pause(c.req.valid('param').id, c.req.valid('json').on)
          ? c.json({ ok: true as const }, 200)
          : c.json<Problem, 404>({ error: NO_ROUND }, 404),
    )
    .delete(
      '/:id/round',
      documented('Stop the round of a camera', Done, { 404: 'It is on none' }),
      given('param', Camera),
      (c) =>
        rounds.stop(c.req.valid('param').id)
          ? c.json({ ok: true as const }, 200)
          : c.json<Problem, 404>({ error: NO_ROUND }, 404),
    )
}
