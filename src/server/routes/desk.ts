/** What the Desk shows: venue, event, cameras, presets; and the health of the whole. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { Health } from '../../core/live/messages'
import { DeskView } from '../store/catalogue'
import { documented, type Problem } from './answers'
import type { Deps } from './deps'

const HealthView = v.object({
  ok: v.boolean(),
  database: v.boolean(),
  cameras: v.array(v.object({ id: v.string(), name: v.string(), health: Health })),
})

export function deskRoutes({ catalogue, fleet, databaseAnswers }: Deps) {
  return new Hono()
    .get('/health', documented('Is everything well?', HealthView), async (c) => {
      const database = await databaseAnswers()
      const cameras = fleet().all.map(({ row, camera }) => ({
        id: row.id,
        name: row.name,
        health: camera.health,
      }))
      return c.json({ ok: database, database, cameras })
    })
    .get('/desk', documented('The open event', DeskView, { 404: 'No event is open' }), (c) => {
      const snapshot = catalogue.current
      if (!snapshot) return c.json<Problem, 404>({ error: 'No event is open.' }, 404)
      return c.json(snapshot.view, 200)
    })
}
