/** Stored pictures. A picture never changes, so a browser may keep it for good. */
import { Hono } from 'hono'
import { describeRoute } from 'hono-openapi'
import * as v from 'valibot'
import { MAY_ALL, type May } from '../../core/people/may'
import { visitorOf } from '../people/door'
import { readPicture } from '../store/presets'
import type { Deps } from './deps'
import { given } from './given'

export function pictureRoutes({ db, catalogue }: Pick<Deps, 'db' | 'catalogue'>) {
  const ofPresetsOf = (may: May, id: string) =>
    may.everywhere ||
    (catalogue.current?.view.presets ?? []).some((preset) => preset.pictureId === id && may.preset(preset))
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
      const may = visitorOf(c)?.may() ?? MAY_ALL
      if (!ofPresetsOf(may, c.req.valid('param').id)) return c.notFound()
      const jpeg = await readPicture(db, c.req.valid('param').id)
      if (!jpeg) return c.notFound()
      return c.body(new Uint8Array(jpeg), 200, {
        'content-type': 'image/jpeg',
        'cache-control': 'private, max-age=31536000, immutable',
      })
    },
  )
}
