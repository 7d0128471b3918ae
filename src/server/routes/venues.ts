/** Venues, and the files in which they and their cameras travel. */
import { createReadStream } from 'node:fs'
import { rm } from 'node:fs/promises'
import { Readable } from 'node:stream'
import type { ReadableStream } from 'node:stream/web'
import { Hono } from 'hono'
import { describeRoute } from 'hono-openapi'
import * as v from 'valibot'
import { isZone } from '../../core/cues/zone'
import { BackupView } from '../../core/formats/backups'
import { addVenue, deleteVenue, keepTimeZone, openVenue, renameVenue } from '../store/venues'
import { ImportMode, ImportPlan } from '../venues/importPlan'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const Name = v.object({ name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60)) })
const Zone = v.pipe(
  v.string(),
  v.maxLength(60),
  v.check(isZone, 'There is no such time zone. Write it as Europe/London.'),
)
const Looked = v.object({ id: v.string(), plan: ImportPlan })
const Applied = v.object({ venueId: v.string(), backup: v.nullable(v.string()) })

const NO_BACKUP = 'There is no such backup any more.'
const GONE = 'This venue no longer exists.'
const fileName = (name: string) =>
  `${name.replace(/[^A-Za-z0-9]+/g, '-').replace(/^-|-$/g, '') || 'venue'}.zip`

export function venueRoutes({ db, catalogue, imports, backups, changed }: Deps) {
  return new Hono()
    .get('/backups', documented('Backups of venues, the newest first', v.array(BackupView)), async (c) =>
      c.json(await backups.list(), 200),
    )
    .post(
      '/backups',
      documented('Back the open venue up now', v.object({ file: v.string() }), { 409: 'No venue is open' }),
      async (c) => {
        const venue = catalogue.current?.view.venue
        const file = venue ? await backups.make(venue, 'by-hand') : null
        return file ? c.json({ file }, 200) : c.json<Problem, 409>({ error: 'No venue is open.' }, 409)
      },
    )
    .post(
      '/backups/look',
      documented('Look at a backup: what would putting it back change?', Looked, { 404: NO_BACKUP }),
      given('json', v.object({ file: v.pipe(v.string(), v.maxLength(200)) })),
      async (c) => {
        const looked = await backups.look(c.req.valid('json').file)
        return looked ? c.json(looked, 200) : c.json<Problem, 404>({ error: NO_BACKUP }, 404)
      },
    )
    .post(
      '/',
      documented('Make a venue and open it', v.object({ id: v.string() })),
      given('json', Name),
      async (c) => {
        const id = await addVenue(db, c.req.valid('json').name)
        await changed()
        return c.json({ id }, 200)
      },
    )
    .patch(
      '/:id',
      documented('Rename a venue, or say in which time zone it is', Done, { 404: 'No such venue' }),
      given('param', Id),
      given('json', v.partial(v.object({ ...Name.entries, timeZone: Zone })), { change: true }),
      async (c) => {
        const { id } = c.req.valid('param')
        const { name, timeZone } = c.req.valid('json')
        const named = name === undefined || (await renameVenue(db, id, name))
        const placed = timeZone === undefined || (await keepTimeZone(db, id, timeZone))
        if (!named || !placed) return c.json<Problem, 404>({ error: GONE }, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/:id/open',
      documented('Open a venue; the one that was open is closed', Done, { 404: 'No such venue' }),
      given('param', Id),
      async (c) => {
        if (!(await openVenue(db, c.req.valid('param').id))) return c.json<Problem, 404>({ error: GONE }, 404)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .delete(
      '/:id',
      documented('Delete a venue for good', Done, { 404: 'No such venue', 409: 'It is open' }),
      given('param', Id),
      async (c) => {
        const { id } = c.req.valid('param')
        const named = catalogue.current?.view.venues.find((venue) => venue.id === id)
        if (named && id !== catalogue.current?.view.venue.id) await backups.make(named, 'before-removal')
        const result = await deleteVenue(db, id)
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
      given('param', Id),
      async (c) => {
        const file = await imports.exported(c.req.valid('param').id)
        if (!file) return c.json<Problem, 404>({ error: GONE }, 404)
        const stream = createReadStream(file.path)
        stream.on('close', () => void rm(file.path, { force: true }))
        return c.body(Readable.toWeb(stream) as unknown as globalThis.ReadableStream, 200, {
          'content-type': 'application/zip',
          'content-disposition': `attachment; filename="${fileName(file.name)}"`,
        })
      },
    )
    .post(
      '/imports/zip',
      documented('Look at a venue file: what would it change?', Looked, {
        400: 'It is refused',
        413: 'Too large',
      }),
      async (c) => {
        const { body } = c.req.raw
        if (!body) return c.json<Problem, 400>({ error: 'Choose a file.', where: 'body' }, 400)
        return c.json(await imports.lookAtZip(body as ReadableStream<Uint8Array>), 200)
      },
    )
    .post(
      '/imports/csv',
      documented('Look at a list of cameras: what would it change?', Looked, {
        400: 'It is refused',
        413: 'Too large',
      }),
      async (c) => {
        const venue = catalogue.current?.view.venue
        if (!venue) return c.json<Problem, 400>({ error: 'No venue is open.' }, 400)
        return c.json(await imports.lookAtCsv(await c.req.text(), venue.id), 200)
      },
    )
    .post(
      '/imports/:id',
      documented('Take in what was looked at', Applied, { 404: 'Nothing waits under this id' }),
      given('param', Id),
      given('json', v.object({ mode: ImportMode })),
      async (c) => {
        const applied = await imports.apply(c.req.valid('param').id, c.req.valid('json').mode)
        if (!applied) return c.json<Problem, 404>({ error: 'Choose the file again.' }, 404)
        await changed()
        return c.json(applied, 200)
      },
    )
    .delete('/imports/:id', documented('Forget what was looked at', Done), given('param', Id), (c) => {
      imports.drop(c.req.valid('param').id)
      return c.json({ ok: true as const }, 200)
    })
}
