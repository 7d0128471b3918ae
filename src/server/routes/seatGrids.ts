/** Presets of a whole block of seats: made, and taken back, as one. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { PRESET_SAID } from '../../core/presets/preset'
import { SeatGrid, seatsOf } from '../../core/survey/seatGrid'
import { seatPoses } from '../presets/seatPoses'
import { addListed, deletePresets } from '../store/presets'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Uuid = v.pipe(v.string(), v.uuid())
const Ids = v.pipe(v.array(Uuid), v.maxLength(20_000))
const Grid = v.object({
  ids: v.array(v.string()),
  /** Seats that the camera cannot reach, and that were left out. */
  beyond: v.number(),
})

export function seatGridRoutes({ db, catalogue, fleet, changed }: Deps) {
  return new Hono()
    .post(
      '/grid',
      documented('Make a preset of every seat of a block, as one section', Grid, {
        404: 'No such camera',
        409: 'The corners span no block, or no seat can be reached',
      }),
      given('json', v.object({ cameraId: Uuid, section: PRESET_SAID.section, grid: SeatGrid })),
      async (c) => {
        const { cameraId, section, grid } = c.req.valid('json')
        const event = catalogue.current?.view.event
        const member = fleet().get(cameraId)
        if (!event || !member)
          return c.json<Problem, 404>({ error: 'This camera is switched off in the desk.' }, 404)
        const seats = seatsOf(grid)
        if ('problem' in seats) return c.json<Problem, 409>({ error: seats.problem }, 409)
        const { poses, beyond } = seatPoses(member, seats)
        if (poses.length === 0)
          return c.json<Problem, 409>({ error: 'None of these seats is within reach of this camera.' }, 409)
        const taken = catalogue.current!.view.presets.filter((p) => p.cameraId === cameraId)
        const first = Math.max(0, ...taken.map(({ number }) => number)) + 1
        const ids = await db.transaction((tx) =>
          addListed(
            tx as never,
            event.id,
            poses.map(({ label, pose }, i) => ({
              ...{ cameraId, section, pose, name: label, number: first + i, mark: '' },
            })),
          ),
        )
        await changed({ presets: ids })
        return c.json({ ids, beyond }, 200)
      },
    )
    .post(
      '/remove',
      documented('Remove several presets at once', Done),
      given('json', v.object({ ids: Ids })),
      async (c) => {
        const { ids } = c.req.valid('json')
        await deletePresets(db, ids)
        await changed({ presets: ids })
        return c.json({ ok: true as const }, 200)
      },
    )
}
