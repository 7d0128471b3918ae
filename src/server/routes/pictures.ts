/** Stored pictures. A picture never changes, so a browser may keep it for good. */
import { Hono } from 'hono'
import { describeRoute } from 'hono-openapi'
import * as v from 'valibot'
import type { Database } from '../store/database'
import { readPicture } from '../store/presets'
import { given } from './given'

export function pictureRoutes(db: Database) {
  return new Hono().get(
    '/:id',
    describeRoute({
      summary: 'A stored picture',
      responses: {
        200: { description: 'JPEG', content: { 'image/jpeg': {} } },
        404: { description: 'No such picture' },
      },
    }),
    given('param', v.object({ id: v.pipe(v.string(), v.uuid()) })),
    async (c) => {
      const jpeg = await readPicture(db, c.req.valid('param').id)
      if (!jpeg) return c.notFound()
      return c.body(new Uint8Array(jpeg), 200, {
        'content-type': 'image/jpeg',
        'cache-control': 'private, max-age=31536000, immutable',
      })
    },
  )
}
