/** What the Desk shows: venue, event, cameras, presets; and the health of the whole. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { Health } from '../../core/facts/health'
import { MAY_ALL } from '../../core/people/may'
import { reachOf } from '../../core/people/rights'
import { deskFor } from '../people/deskFor'
import { visitorOf } from '../people/door'
import { DeskView } from '../store/catalogue'
import { documented, type Problem } from './answers'
import type { Deps } from './deps'

const HealthView = v.object({
  ok: v.boolean(),
  database: v.boolean(),
  /** The guardian watches over what moves. */
  guardian: v.boolean(),
  /** How late the server's loop runs, ms: over the last ten seconds, and at its longest ever. */
  loop: v.object({ p99Ms: v.number(), longestMs: v.number(), longestEverMs: v.number() }),
  /** How many pages are open. */
  pages: v.number(),
  cameras: v.array(v.object({ id: v.string(), name: v.string(), health: Health })),
})

export function deskRoutes({ catalogue, fleet, databaseAnswers, loopDelay, guarded, pages }: Deps) {
  return new Hono()
    .get('/health', documented('Is everything well?', HealthView), async (c) => {
      const database = await databaseAnswers()
      const may = visitorOf(c)?.may() ?? MAY_ALL
      const seen = fleet().all.filter(({ row }) => may.camera(row.id))
      const cameras = seen.map(({ row, camera }) => ({
        id: row.id,
        name: row.name,
        health: camera.health,
      }))
      const guardian = guarded()
      const ok = database && guardian
      return c.json({ ok, database, guardian, loop: loopDelay(), pages: pages(), cameras })
    })
    .get('/desk', documented('The open event', DeskView, { 404: 'No event is open' }), async (c) => {
      const snapshot = catalogue.current
      if (!snapshot) return c.json<Problem, 404>({ error: 'No event is open.' }, 404)
      const visitor = visitorOf(c)
      const may = visitor?.may() ?? MAY_ALL
      const event = snapshot.view.event.id
      if (visitor && !may.everywhere)
        return c.json(deskFor(snapshot.view, may, reachOf(visitor.grant(), event).desk), 200)
      // Made once per change, a piece at a time: thousands of presets would block the loop.
      const text = await snapshot.text()
      return c.body(text, 200, { 'content-type': 'application/json' })
    })
}
