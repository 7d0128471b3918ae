/** Mending a camera that was bumped, by what a round has found. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { Bump } from '../../core/bump/bump'
import { mendBump, undoBump } from '../presets/mendBump'
import { RoomChanged } from '../store/bumps'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const GONE = 'This camera is switched off in the desk, or no longer in the list.'
const SOONER = 'Somebody else has just changed the room, so nothing was changed here. Do this once more.'
const NOTHING = 'There is nothing to undo any more.'

/** @returns null where somebody has changed the room meanwhile: nothing was changed then */
const unlessSooner = <T>(work: Promise<T>): Promise<T | null> =>
  work.catch((error: unknown) => {
    if (error instanceof RoomChanged) return null
    throw error
  })

export function bumpRoutes(deps: Deps) {
  const found = (id: string) => {
    const event = deps.catalogue.current?.view.event.id
    const member = deps.fleet().get(id)
    return event && member ? { event, member } : null
  }
  return new Hono()
    .post(
      '/:id/mend-bump',
      documented(
        'Turn presets, limits, survey and the room’s points of a camera as its mount was turned',
        v.object({ changed: v.number() }),
        { 404: GONE, 409: SOONER },
      ),
      given('param', Id),
      given('json', v.object({ bump: Bump, lensToo: v.boolean() })),
      async (c) => {
        const at = found(c.req.valid('param').id)
        if (!at) return c.json<Problem, 404>({ error: GONE }, 404)
        const { bump, lensToo } = c.req.valid('json')
        const changed = await unlessSooner(mendBump(deps, at.event, at.member, bump, lensToo))
        if (changed === null) return c.json<Problem, 409>({ error: SOONER }, 409)
        await deps.changed()
        return c.json({ changed }, 200)
      },
    )
    .delete(
      '/:id/mend-bump',
      documented('Take the newest mend back', Done, { 404: GONE, 409: NOTHING }),
      given('param', Id),
      async (c) => {
        const at = found(c.req.valid('param').id)
        if (!at) return c.json<Problem, 404>({ error: GONE }, 404)
        const undone = await unlessSooner(undoBump(deps, at.event, at.member))
        if (!undone) return c.json<Problem, 409>({ error: undone === null ? SOONER : NOTHING }, 409)
        await deps.changed()
        return c.json({ ok: true as const }, 200)
      },
    )
}
