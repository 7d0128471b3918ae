/** The check of a camera's head, and the mends that it offers. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { AxisMend, HeadCheck, mended } from '../../core/heads/check'
import { HeadProfile } from '../../core/heads/profile'
import { isBuiltIn, profileOf } from '../../core/heads/registry'
import { pushRests } from '../../core/stick/speeds'
import { realClock } from '../cameras/clock'
import { checkHead } from '../cameras/headCheck'
import { setHabits, setHeadProfile } from '../store/cameras'
import { putHeads, restatePresets } from '../store/heads'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const GONE = 'This camera is switched off in the desk, or no longer in the list.'

export function headCheckRoutes({ db, jobs, catalogue, fleet, gate, actorOf, changed }: Deps) {
  return new Hono()
    .post(
      '/:id/check',
      documented('Check the head of a camera by four small nudges', HeadCheck, {
        404: 'It is not in use',
        409: 'It cannot be checked now',
      }),
      given('param', Id),
      async (c) => {
        const { id } = c.req.valid('param')
        const member = fleet().get(id)
        const own = catalogue.current?.view.headProfiles ?? []
        if (!member) return c.json<Problem, 404>({ error: GONE }, 404)
        const actor = actorOf(c)
        const result = await checkHead({
          camera: member.camera,
          profile: profileOf(member.row.headProfile, own),
          clock: realClock,
          mount: member.row.mount,
          look: () => member.pictures.fresh(),
          shift: (before, after) => jobs.run('shiftBetween', { before, after }),
          // Nobody is there any more to see what the camera does: it is only stopped.
          push: (push) => (pushRests(push) || !c.req.raw.signal.aborted) && gate.stick(id, push, actor),
        })
        if (typeof result === 'string') return c.json<Problem, 409>({ error: result }, 409)
        return c.json(result, 200)
      },
    )
    .post(
      '/:id/mend-head',
      documented('Mend what the check of the head has found, in a profile of the venue', Done, {
        400: 'It would make no sense',
        404: 'No such camera',
      }),
      given('param', Id),
      given('json', v.object({ mends: v.pipe(v.array(AxisMend), v.maxLength(8)), confirmed: v.boolean() })),
      async (c) => {
        const { id } = c.req.valid('param')
        const { mends, confirmed } = c.req.valid('json')
        const view = catalogue.current?.view
        const camera = view?.cameras.find((one) => one.id === id)
        if (!view || !camera) return c.json<Problem, 404>({ error: GONE }, 404)
        const before = profileOf(camera.headProfile, view.headProfiles)
        const profile = mended(before, mends)
        const sense = v.safeParse(HeadProfile, profile)
        if (!sense.success) return c.json<Problem, 400>({ error: sense.issues[0].message }, 400)
        // One that comes with the application, or that others have too, stays as it is.
        const shared = view.cameras.some((one) => one.id !== id && one.headProfile === profile.id)
        const mine = isBuiltIn(profile.id) || shared
        const kept = mine
          ? {
              ...profile,
              id: `${profile.id.slice(0, 40)}-${id.slice(0, 8)}`,
              name: `${profile.name}, ${camera.name}`.slice(0, 60),
            }
          : profile
        if (mends.length > 0)
          await db.transaction(async (tx) => {
            await putHeads(tx, view.venue.id, [kept])
            await setHeadProfile(tx, id, kept.id)
            await restatePresets(tx, [id], kept, camera.headConfirmed ? before : null)
          })
        await setHabits(db, id, { headConfirmed: confirmed })
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
}
