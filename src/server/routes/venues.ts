/** Venues, and the files in which they and their cameras travel. */
import { Hono } from 'hono'
import { bodyLimit } from 'hono/body-limit'
import { describeRoute, validator } from 'hono-openapi'
import * as v from 'valibot'
import { FileRefused } from '../../core/formats/venueFile'
import { addVenue, deleteVenue, openVenue, renameVenue } from '../store/venues'
import { exportVenue } from '../venues/exportVenue'
import { ImportMode, ImportPlan } from '../venues/importPlan'
import { venueSchema } from '../venues/schemas'
import { MAX_ZIP_BYTES, writeVenueZip } from '../venues/zip'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const Name = v.object({ name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60)) })
const Looked = v.object({ id: v.string(), plan: ImportPlan })
const Applied = v.object({ venueId: v.string(), backup: v.nullable(v.string()) })
const MAX_CSV_BYTES = 4 * 1024 * 1024

const GONE = 'This venue is not there any more.'
const limit = (maxSize: number) =>
  bodyLimit({
    maxSize,
    onError: (c) => c.json<Problem, 413>({ error: 'This file is too large. It is not opened.' }, 413),
  })
const fileName = (name: string) =>
  `${name.replace(/[^A-Za-z0-9]+/g, '-').replace(/^-|-$/g, '') || 'venue'}.zip`

export function venueRoutes({ db, catalogue, imports, changed }: Deps) {
  return new Hono()
    .post(
      '/',
      documented('Make a venue and open it', v.object({ id: v.string() })),
      validator('json', Name),
      async (c) => {
        const id = await addVenue(db, c.req.valid('json').name)
        await changed()
        return c.json({ id }, 200)
      },
    )
    .patch(
      '/:id',
      documented('Rename a venue', Done, { 404: 'No such venue' }),
      validator('param', Id),
      validator('json', Name),
      async (c) => {
        if (!(await renameVenue(db, c.req.valid('param').id, c.req.valid('json').name)))
          return c.json<Problem, 404>({ error: GONE }, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/:id/open',
      documented('Open a venue; the one that was open is closed', Done, { 404: 'No such venue' }),
      validator('param', Id),
      async (c) => {
        if (!(await openVenue(db, c.req.valid('param').id))) return c.json<Problem, 404>({ error: GONE }, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .delete(
      '/:id',
      documented('Delete a venue for good', Done, { 404: 'No such venue', 409: 'It is open' }),
      validator('param', Id),
      async (c) => {
        const result = await deleteVenue(db, c.req.valid('param').id)
        if (result === 'gone') return c.json<Problem, 404>({ error: GONE }, 404)
        if (result === 'open') return c.json<Problem, 409>({ error: 'Open another venue first.' }, 409)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .get(
      '/:id/file',
      describeRoute({
        summary: 'The whole venue as a zip',
        responses: {
          200: { description: 'ZIP', content: { 'application/zip': {} } },
          404: { description: GONE },
        },
      }),
      validator('param', Id),
      async (c) => {
        const bundle = await exportVenue(db, c.req.valid('param').id)
        if (!bundle) return c.json<Problem, 404>({ error: GONE }, 404)
        const zip = await writeVenueZip(bundle, venueSchema())
        return c.body(new Uint8Array(zip), 200, {
          'content-type': 'application/zip',
          'content-disposition': `attachment; filename="${fileName(bundle.file.venue.name)}"`,
        })
      },
    )
    .post(
      '/imports/zip',
      documented('Look at a venue file: what would it change?', Looked, {
        400: 'It is refused',
        413: 'Too large',
      }),
      limit(MAX_ZIP_BYTES),
      async (c) => {
        try {
          return c.json(await imports.lookAtZip(Buffer.from(await c.req.arrayBuffer())), 200)
        } catch (error) {
          if (error instanceof FileRefused) return c.json<Problem, 400>({ error: error.message }, 400)
          throw error
        }
      },
    )
    .post(
      '/imports/csv',
      documented('Look at a list of cameras: what would it change?', Looked, {
        400: 'It is refused',
        413: 'Too large',
      }),
      limit(MAX_CSV_BYTES),
      async (c) => {
        const venue = catalogue.current?.view.venue
        if (!venue) return c.json<Problem, 400>({ error: 'No venue is open.' }, 400)
        try {
          return c.json(await imports.lookAtCsv(await c.req.text(), venue.id), 200)
        } catch (error) {
          if (error instanceof FileRefused) return c.json<Problem, 400>({ error: error.message }, 400)
          throw error
        }
      },
    )
    .post(
      '/imports/:id',
      documented('Take in what was looked at', Applied, { 404: 'Nothing waits under this id' }),
      validator('param', Id),
      validator('json', v.object({ mode: ImportMode })),
      async (c) => {
        const applied = await imports.apply(c.req.valid('param').id, c.req.valid('json').mode)
        if (!applied) return c.json<Problem, 404>({ error: 'Choose the file again.' }, 404)
        await changed()
        return c.json(applied, 200)
      },
    )
    .delete('/imports/:id', documented('Forget what was looked at', Done), validator('param', Id), (c) => {
      imports.drop(c.req.valid('param').id)
      return c.json({ ok: true as const }, 200)
    })
}
