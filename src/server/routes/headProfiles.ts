/** Head profiles of the venue's own: open JSON files that describe a head and its lens. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { type HeadProfile, PROFILE_FORMAT } from '../../core/heads/profile'
import { HEAD_PROFILES, isBuiltIn } from '../../core/heads/registry'
import { deleteHead, putHeads, restatePresets } from '../store/heads'
import { headProfileSchema } from '../venues/schemas'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.maxLength(64)) })
const GONE = 'This head profile is not there.'
const BUILT_IN = 'This head profile comes with the application. Give yours another id.'

const fileOf = (profile: HeadProfile) => ({ format: PROFILE_FORMAT, version: 1, ...profile })

export function headProfileRoutes({ db, jobs, catalogue, changed }: Deps) {
  return new Hono()
    .post(
      '/',
      documented('Keep a head profile, given as JSON', Done, {
        400: 'It is refused',
        409: 'Its id is taken',
      }),
      async (c) => {
        const view = catalogue.current?.view
        if (!view) return c.json<Problem, 409>({ error: 'No venue is open.' }, 409)
        const profile = await jobs.run('readHeadProfile', await c.req.text())
        if (isBuiltIn(profile.id)) return c.json<Problem, 409>({ error: BUILT_IN }, 409)
        const users = view.cameras.filter((camera) => camera.headProfile === profile.id)
        await db.transaction(async (tx) => {
          await putHeads(tx, view.venue.id, [profile])
          const before = view.headProfiles.find(({ id }) => id === profile.id) ?? null
          for (const { id, headConfirmed } of users)
            await restatePresets(tx, [id], profile, headConfirmed ? before : null)
        })
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .get('/schema', (c) => c.body(headProfileSchema(), 200, { 'content-type': 'application/schema+json' }))
    .get('/:id/file', given('param', Id), (c) => {
      const { id } = c.req.valid('param')
      const own = catalogue.current?.view.headProfiles ?? []
      const profile = [...own, ...HEAD_PROFILES].find((p) => p.id === id)
      if (!profile) return c.json<Problem, 404>({ error: GONE }, 404)
      return c.body(`${JSON.stringify(fileOf(profile), null, 2)}\n`, 200, {
        'content-type': 'application/json',
        'content-disposition': `attachment; filename="${profile.id}.json"`,
      })
    })
    .delete(
      '/:id',
      documented('Delete a head profile that no camera uses', Done, {
        404: 'No such profile of the venue',
        409: 'It is used',
      }),
      given('param', Id),
      async (c) => {
        const { id } = c.req.valid('param')
        const view = catalogue.current?.view
        if (!view?.headProfiles.some((profile) => profile.id === id))
          return c.json<Problem, 404>({ error: GONE }, 404)
        const user = view.cameras.find((camera) => camera.headProfile === id)
        if (user)
          return c.json<Problem, 409>(
            { error: `Camera ${user.number}, ${user.name}, uses this head profile.` },
            409,
          )
        await db.transaction((tx) => deleteHead(tx, view.venue.id, id))
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
}
