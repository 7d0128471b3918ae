/** The open event's presets as a list in an open format, out and in. */
import { Hono } from 'hono'
import { bodyLimit } from 'hono/body-limit'
import * as v from 'valibot'
import { presetsFromText, presetsToCsv, presetsToJson } from '../../core/formats/presetList'
import { FileRefused } from '../../core/formats/venueFile'
import { listPresets, takePresets } from '../presets/presetList'
import { documented, type Problem } from './answers'
import type { Deps } from './deps'

const Taken = v.object({ added: v.number(), changed: v.number() })
const MAX_LIST_BYTES = 10 * 1024 * 1024

export function presetListRoutes({ db, catalogue, changed }: Deps) {
  return new Hono()
    .get('/list.csv', (c) => {
      const view = catalogue.current?.view
      return c.body(presetsToCsv(view ? listPresets(view) : []), 200, {
        'content-type': 'text/csv; charset=utf-8',
        'content-disposition': 'attachment; filename="presets.csv"',
      })
    })
    .get('/list.json', (c) => {
      const view = catalogue.current?.view
      return c.body(presetsToJson(view ? listPresets(view) : []), 200, {
        'content-type': 'application/json; charset=utf-8',
        'content-disposition': 'attachment; filename="presets.json"',
      })
    })
    .post(
      '/list',
      documented('Take in a list of presets, CSV or JSON: all of it, or nothing', Taken, {
        400: 'It is refused',
        409: 'No event is open',
      }),
      bodyLimit({
        maxSize: MAX_LIST_BYTES,
        onError: (c) => c.json<Problem, 413>({ error: 'This list is too large. It is not opened.' }, 413),
      }),
      async (c) => {
        const view = catalogue.current?.view
        if (!view) return c.json<Problem, 409>({ error: 'No event is open.' }, 409)
        try {
          const counts = await takePresets(db, view, presetsFromText(await c.req.text()))
          await changed()
          return c.json(counts, 200)
        } catch (error) {
          if (error instanceof FileRefused) return c.json<Problem, 400>({ error: error.message }, 400)
          throw error
        }
      },
    )
}
