/** What a camera has measured of its own head and lens: to look at, to use, to throw away. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { HeadProfile } from '../../core/heads/profile'
import { isBuiltIn, profileOf } from '../../core/heads/registry'
import { HeadLearnt, profileLearnt } from '../../core/learning/learnt'
import { dropHeadLearnt, readHeadLearnt, takeLearnt } from '../store/learnt'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const GONE = 'This camera is no longer in the list.'
const NOTHING = 'This camera has learnt nothing that is not in use already.'
const OTHER = 'It was measured with another head profile. Let it learn again.'

/** `after` is the profile as it would be used. */
const Seen = v.object({ learnt: HeadLearnt, before: HeadProfile, after: HeadProfile })

export function learntRoutes({ db, catalogue, changed }: Deps) {
  const found = async (id: string) => {
    const view = catalogue.current?.view
    const camera = view?.cameras.find((one) => one.id === id)
    const learnt = camera ? await readHeadLearnt(db, id) : null
    if (!view || !camera || !learnt) return { view, camera, seen: null, error: camera ? NOTHING : GONE }
    const before = profileOf(camera.headProfile, view.headProfiles)
    if (before.id !== learnt.profile) return { view, camera, seen: null, error: OTHER }
    // One that comes with the application, or that others have too, stays as it is.
    const shared = view.cameras.some((one) => one.id !== id && one.headProfile === before.id)
    const own =
      isBuiltIn(before.id) || shared
        ? {
            id: `${before.id.slice(0, 40)}-${id.slice(0, 8)}`,
            name: `${before.name}, ${camera.name}`.slice(0, 60),
          }
        : {}
    return {
      view,
      camera,
      seen: { learnt, before, after: { ...profileLearnt(before, learnt), ...own } },
      error: '',
    }
  }
  return new Hono()
    .get(
      '/:id/learnt',
      documented('What a camera has measured of its own head and lens', v.nullable(Seen)),
      given('param', Id),
      async (c) => c.json((await found(c.req.valid('param').id)).seen, 200),
    )
    .post(
      '/:id/learnt/use',
      documented('Use what a camera has measured: as a head profile of the venue', Done, {
        400: 'It would make no sense',
        404: 'There is nothing',
      }),
      given('param', Id),
      async (c) => {
        const { id } = c.req.valid('param')
        const { view, camera, seen, error } = await found(id)
        if (!view || !camera || !seen) return c.json<Problem, 404>({ error }, 404)
        const sense = v.safeParse(HeadProfile, seen.after)
        if (!sense.success)
          return c.json<Problem, 400>({ error: `${sense.issues[0].message} Let it learn again.` }, 400)
        await takeLearnt(
          db,
          { venueId: view.venue.id, cameraId: id, limits: camera.limits, confirmed: camera.headConfirmed },
          { before: seen.before, after: sense.output },
        )
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .delete(
      '/:id/learnt',
      documented('Throw away what a camera has measured', Done),
      given('param', Id),
      async (c) => {
        await dropHeadLearnt(db, c.req.valid('param').id)
        return c.json({ ok: true as const }, 200)
      },
    )
}
