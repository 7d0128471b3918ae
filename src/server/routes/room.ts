/** The room of the open event: what was touched, what follows from it, and the picture of its plan. */
import { Hono } from 'hono'
import { describeRoute } from 'hono-openapi'
import * as v from 'valibot'
import { SERVER } from '../../core/facts/facts'
import { RoomKept, RoomView } from '../../core/room/room'
import { solvable } from '../../core/room/solvable'
import { putPlanPicture, putRoom, readPlanPicture, readRoom } from '../store/room'
import { documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const NO_EVENT = 'No event is open.'
const SOONER = 'Somebody else has just changed the room. Look at it again, then do this once more.'
const UNREADABLE = 'This is no picture that can be read. Choose a JPEG or a PNG.'

export function roomRoutes({ db, catalogue, facts, jobs }: Deps) {
  const event = () => catalogue.current?.view.event.id ?? null
  const told = async (id: string) => {
    const view = await readRoom(db, id)
    facts.put('room', SERVER, { event: id, version: view.version })
    return view
  }
  return new Hono()
    .get('/', documented('The room of the open event', RoomView, { 404: NO_EVENT }), async (c) => {
      const id = event()
      return id ? c.json(await readRoom(db, id), 200) : c.json<Problem, 404>({ error: NO_EVENT }, 404)
    })
    .put(
      '/',
      documented('Keep what was touched; where the cameras stand is computed anew', RoomView, {
        404: NO_EVENT,
        409: 'Somebody else was sooner',
      }),
      given('json', v.object({ version: v.pipe(v.number(), v.integer(), v.minValue(0)), room: RoomKept })),
      async (c) => {
        const id = event()
        if (!id) return c.json<Problem, 404>({ error: NO_EVENT }, 404)
        const { version, room } = c.req.valid('json')
        const known = new Set(catalogue.current?.view.cameras.map((camera) => camera.id))
        const solved = await jobs.run('roomOf', solvable(room, known))
        if ((await putRoom(db, id, version, room, solved)) === null)
          return c.json<Problem, 409>({ error: SOONER }, 409)
        return c.json(await told(id), 200)
      },
    )
    .get(
      '/picture',
      describeRoute({
        summary: 'The picture of the room’s plan',
        responses: {
          200: { description: 'JPEG', content: { 'image/jpeg': {} } },
          404: { description: 'There is none' },
        },
      }),
      async (c) => {
        const id = event()
        const jpeg = id ? await readPlanPicture(db, id) : null
        if (!jpeg) return c.notFound()
        return c.body(new Uint8Array(jpeg), 200, {
          'content-type': 'image/jpeg',
          'cache-control': 'no-cache',
        })
      },
    )
    .put(
      '/picture',
      documented('Lay a plan or a photograph under the room; the body is a JPEG or a PNG', RoomView, {
        400: UNREADABLE,
        404: NO_EVENT,
      }),
      async (c) => {
        const id = event()
        if (!id) return c.json<Problem, 404>({ error: NO_EVENT }, 404)
        const picture = await jobs.run('planPicture', new Uint8Array(await c.req.arrayBuffer()))
        if (!picture) return c.json<Problem, 400>({ error: UNREADABLE }, 400)
        await putPlanPicture(db, id, picture)
        return c.json(await told(id), 200)
      },
    )
    .delete(
      '/picture',
      documented('Take the picture of the plan away', RoomView, { 404: NO_EVENT }),
      async (c) => {
        const id = event()
        if (!id) return c.json<Problem, 404>({ error: NO_EVENT }, 404)
        await putPlanPicture(db, id, null)
        return c.json(await told(id), 200)
      },
    )
}
