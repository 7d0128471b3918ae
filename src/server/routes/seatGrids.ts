/** Presets of a whole block of seats: made, and taken back, as one. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { PRESET_SAID } from '../../core/presets/preset'
import { MadeGrid, SeatGrid, seatsOf } from '../../core/survey/seatGrid'
import { seatPoses } from '../presets/seatPoses'
import { addListed, deletePresets, numbersOf } from '../store/presets'
import { addGrid, cameraOfGrid, putRegrid, readGrids } from '../store/seatGrids'
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

const ChangedOut = v.object({
  changed: v.number(),
  /** Anew, or as they were before an earlier change took them away. */
  made: v.number(),
  removed: v.number(),
  /** Seats that the camera cannot reach. */
  beyond: v.number(),
})

const NO_GRID = 'There is no such grid any more. Look at Sightlines again.'
const NONE_LEFT = 'None of its seats is within reach of this camera then. Nothing was changed.'

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
        const ids = await db.transaction(async (tx) => {
          const made = await addListed(
            tx as never,
            event.id,
            poses.map(({ label, pose }, i) => ({
              ...{ cameraId, section, pose, name: label, number: first + i, mark: '' },
            })),
          )
          // Each belongs to its seat by the number that it was given.
          const rows = await numbersOf(tx as never, made)
          const seats = poses.map(({ label }, i) => ({ label, presetId: rows.get(first + i)! }))
          await addGrid(tx, event.id, { cameraId, section, grid, seats })
          return made
        })
        await changed({ presets: ids })
        return c.json({ ids, beyond }, 200)
      },
    )
    .get('/grids', documented('The seat grids of the open event', v.array(MadeGrid)), async (c) => {
      const event = catalogue.current?.view.event.id
      const rows = event ? await readGrids(db, event) : []
      return c.json(
        rows.map(({ seats, ...row }) => ({ ...row, presets: seats.length })),
        200,
      )
    })
    .put(
      '/grids/:id',
      documented('Change a block of seats: its presets follow, each in its place', ChangedOut, {
        404: 'No such grid',
        409: 'It cannot be',
      }),
      given('param', v.object({ id: Uuid })),
      given('json', v.object({ grid: SeatGrid })),
      async (c) => {
        const { grid } = c.req.valid('json')
        const event = catalogue.current?.view.event
        const { id } = c.req.valid('param')
        const cameraId = event ? await cameraOfGrid(db, event.id, id) : null
        const member = cameraId === null ? null : fleet().get(cameraId)
        if (!event || !member) return c.json<Problem, 404>({ error: NO_GRID }, 404)
        const seats = seatsOf(grid)
        if ('problem' in seats) return c.json<Problem, 409>({ error: seats.problem }, 409)
        const { poses, beyond } = seatPoses(member, seats)
        if (poses.length === 0) return c.json<Problem, 409>({ error: NONE_LEFT }, 409)
        const posed = new Map(poses.map(({ label, pose }) => [label, pose]))
        const done = await putRegrid(db, event.id, id, grid, seats, posed)
        if (!done) return c.json<Problem, 404>({ error: NO_GRID }, 404)
        const { change, ids } = done
        await changed({ presets: ids })
        const moved = change.stay.filter(({ seat }) => posed.has(seat.label)).length
        const fresh = change.fresh.filter(({ label }) => posed.has(label)).length
        return c.json(
          { changed: moved, made: fresh + change.back.length, removed: change.gone.length, beyond },
          200,
        )
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
