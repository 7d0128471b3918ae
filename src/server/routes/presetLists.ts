/** The open event's presets as a list in an open format, out and in. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { documented, type Problem } from './answers'
import type { Deps } from './deps'

const Taken = v.object({ added: v.number(), changed: v.number() })

export function presetListRoutes({ jobs, databaseUrl, dataFolder, catalogue, changed }: Deps) {
  return new Hono()
    .get('/list.csv', async (c) =>
      c.body(await jobs.run('presetListFile', { databaseUrl, dataFolder, kind: 'csv' }), 200, {
        'content-type': 'text/csv; charset=utf-8',
        'content-disposition': 'attachment; filename="presets.csv"',
      }),
    )
    .get('/list.json', async (c) =>
      c.body(await jobs.run('presetListFile', { databaseUrl, dataFolder, kind: 'json' }), 200, {
        'content-type': 'application/json; charset=utf-8',
        'content-disposition': 'attachment; filename="presets.json"',
      }),
    )
    .post(
      '/list',
      documented('Take in a list of presets, CSV or JSON: all of it, or nothing', Taken, {
        400: 'It is refused',
        409: 'No event is open',
      }),
      async (c) => {
        if (!catalogue.current) return c.json<Problem, 409>({ error: 'No event is open.' }, 409)
        const counts = await jobs.run('takePresetList', { databaseUrl, dataFolder, text: await c.req.text() })
        await changed()
        return c.json(counts, 200)
      },
    )
}
