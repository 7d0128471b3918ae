/** Searching for cameras. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { Search } from '../finding/finder'
import { serialPorts } from '../finding/serialPorts'
import { ownSubnets } from '../finding/subnet'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const Ways = v.object({
  /** Networks of this computer. */
  subnets: v.array(v.string()),
  serialPorts: v.array(v.object({ path: v.string(), name: v.string() })),
})
export type Ways = v.InferOutput<typeof Ways>
const Order = v.object({
  onvif: v.boolean(),
  range: v.nullable(v.pipe(v.string(), v.maxLength(80))),
  serial: v.boolean(),
})
const GONE = 'This search no longer exists. Start it again.'

export function findingRoutes({ finder }: Deps) {
  return new Hono()
    .get('/ways', documented('Where cameras can be searched', Ways), async (c) =>
      c.json({ subnets: ownSubnets(), serialPorts: await serialPorts() }, 200),
    )
    .post(
      '/',
      documented('Start a search', Search, { 400: 'The range of addresses makes no sense' }),
      given('json', Order),
      (c) => {
        const search = finder.start(c.req.valid('json'))
        if (typeof search === 'string') return c.json<Problem, 400>({ error: search }, 400)
        return c.json(search, 200)
      },
    )
    .get(
      '/:id',
      documented('How a search stands', Search, { 404: 'No such search' }),
      given('param', Id),
      (c) => {
        const search = finder.get(c.req.valid('param').id)
        if (!search) return c.json<Problem, 404>({ error: GONE }, 404)
        return c.json(search, 200)
      },
    )
    .delete(
      '/:id',
      documented('Call a search off', Done, { 404: 'No such search' }),
      given('param', Id),
      (c) => {
        if (!finder.cancel(c.req.valid('param').id)) return c.json<Problem, 404>({ error: GONE }, 404)
        return c.json({ ok: true as const }, 200)
      },
    )
}
