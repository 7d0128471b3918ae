/** What runs an event: Go, next, back, hold, stop; tours and recorded moves. */
import { randomUUID } from 'node:crypto'
import { Hono } from 'hono'
import * as v from 'valibot'
import { FINDING_KINDS } from '../../core/cues/check'
import { ShowNow } from '../../core/cues/now'
import { sheetCsv, sheetHtml, sheetRows } from '../../core/cues/sheet'
import { Cue } from '../../core/cues/show'
import { stepText } from '../../core/cues/stepText'
import { isUsable } from '../../core/facts/health'
import { putPart } from '../store/show'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const Finding = v.object({
  kind: v.picklist(FINDING_KINDS),
  cue: v.string(),
  step: v.nullable(v.string()),
  camera: v.nullable(v.string()),
  atS: v.number(),
  text: v.string(),
  mend: v.nullable(v.object({ label: v.string(), cue: Cue })),
})
/** Ids of presets, with commas. */
const Astray = v.pipe(
  v.string(),
  v.maxLength(40_000),
  v.transform((text) => text.split(',').filter(Boolean)),
)
const NO_CAMERA = 'This camera is no longer in the list.'
const NOT_RUNNING = 'It does not run.'

export function runningRoutes({ db, jobs, catalogue, cues, facts, fleet, actorOf, changed, gate }: Deps) {
  const desk = () => cues().desk
  const ok = { ok: true } as const
  const rows = () => {
    const world = cues().world()
    return sheetRows(catalogue.current?.view.show.cues ?? [], (does) => stepText(world, does))
  }
  return new Hono()
    .get('/show', documented('Where the running order stands, and what runs', ShowNow), (c) =>
      c.json(desk().now, 200),
    )
    .get(
      '/check',
      documented('Look through all cues before the event', v.array(Finding)),
      given('query', v.object({ astray: v.optional(Astray, '') })),
      async (c) => {
        const view = catalogue.current?.view
        if (!view) return c.json([], 200)
        const silent = view.cameras.filter(({ id }) => {
          const health = fleet().get(id)?.camera.health
          return !health || !isUsable(health.state)
        })
        const devicesSilent = view.devices.filter(({ id }) => facts.get('device', id)?.ok === false)
        const { cameras, headProfiles, presets, show, devices } = view
        const findings = await jobs.run('checkCues', {
          // No more than it needs: it is copied to another thread.
          source: {
            cameras: cameras.map(({ id, number, name, headProfile, pace }) => ({
              ...{ id, number, name, headProfile, pace },
            })),
            presets: presets.map(({ id, cameraId, number, name, pose, pace }) => ({
              ...{ id, cameraId, number, name, pose, pace },
            })),
            ...{ headProfiles, show, devices },
          },
          state: cues().state(),
          live: {
            guard: view.event.guard,
            silent: new Set(silent.map(({ id }) => id)),
            devicesSilent: new Set(devicesSilent.map(({ id }) => id)),
            astray: new Set(c.req.valid('query').astray),
          },
          fadeSeconds: view.tally.switcher.fadeSeconds,
        })
        return c.json(findings, 200)
      },
    )
    .get('/show/order.csv', (c) =>
      c.body(sheetCsv(rows()), 200, {
        'content-type': 'text/csv; charset=utf-8',
        'content-disposition': 'attachment; filename="running-order.csv"',
      }),
    )
    .get('/show/order.html', (c) => {
      const view = catalogue.current?.view
      return c.html(sheetHtml(view?.event.name ?? '', view?.venue.name ?? '', rows()))
    })
    .post(
      '/show/go',
      documented('Start the next cue of the running order', Done, { 409: 'There is none, or it is held' }),
      (c) => {
        const problem = desk().goNext(actorOf(c))
        return problem ? c.json<Problem, 409>({ error: problem }, 409) : c.json(ok, 200)
      },
    )
    .post(
      '/show/next',
      documented('Choose which cue Go starts: the one after, before, or a given one', Done),
      given(
        'json',
        v.object({ by: v.optional(v.picklist([1, -1])), cue: v.optional(v.pipe(v.string(), v.uuid())) }),
      ),
      (c) => {
        const { by, cue } = c.req.valid('json')
        if (cue) desk().choose(cue)
        else desk().step(by ?? 1)
        return c.json(ok, 200)
      },
    )
    .post(
      '/show/hold',
      documented('Hold the running order, or let it go on', Done),
      given('json', v.object({ on: v.boolean() })),
      (c) => {
        desk().hold(c.req.valid('json').on)
        return c.json(ok, 200)
      },
    )
    .post('/show/seen', documented('What was interrupted or missed has been seen', Done), (c) => {
      desk().forgetInterrupted()
      return c.json(ok, 200)
    })
    .post('/stop-all', documented('End all cues and tours, and stop every camera softly', Done), (c) => {
      cues().stopAll(actorOf(c))
      return c.json(ok, 200)
    })
    .post(
      '/cues/:id/go',
      documented('Start a cue', Done, { 409: 'It cannot begin' }),
      given('param', Id),
      (c) => {
        const problem = desk().go(c.req.valid('param').id, actorOf(c))
        return problem ? c.json<Problem, 409>({ error: problem }, 409) : c.json(ok, 200)
      },
    )
    .post(
      '/cues/:id/stop',
      documented('End a cue, and stop its cameras softly', Done),
      given('param', Id),
      async (c) => {
        const actor = actorOf(c)
        for (const camera of desk().stop(c.req.valid('param').id))
          void gate.perform({ t: 'hold', camera }, actor)
        return c.json(ok, 200)
      },
    )
    .post(
      '/tours/:id/go',
      documented('Start a tour', Done, { 409: 'It cannot begin' }),
      given('param', Id),
      async (c) => {
        const { id } = c.req.valid('param')
        if (!cues().world().tour(id))
          return c.json<Problem, 409>({ error: 'This tour no longer exists.' }, 409)
        void cues().tours.start(id, `Tour “${cues().world().tour(id)!.name}”`)
        return c.json(ok, 200)
      },
    )
    .post(
      '/tours/:id/go-on',
      documented('Let a tour that a hand has paused go on', Done, { 409: NOT_RUNNING }),
      given('param', Id),
      (c) =>
        cues().tours.goOn(c.req.valid('param').id)
          ? c.json(ok, 200)
          : c.json<Problem, 409>({ error: NOT_RUNNING }, 409),
    )
    .post('/tours/:id/stop', documented('End a tour', Done, { 409: NOT_RUNNING }), given('param', Id), (c) =>
      cues().tours.stop(c.req.valid('param').id)
        ? c.json(ok, 200)
        : c.json<Problem, 409>({ error: NOT_RUNNING }, 409),
    )
    .post(
      '/moves/:id/play',
      documented('Play a recorded move', Done, { 409: 'It cannot be played' }),
      given('param', Id),
      given(
        'json',
        v.object({
          percent: v.optional(v.pipe(v.number(), v.integer(), v.minValue(25), v.maxValue(400)), 100),
          backwards: v.optional(v.boolean(), false),
          times: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(999)), 1),
        }),
      ),
      (c) => {
        const { id } = c.req.valid('param')
        const move = cues().world().move(id)
        if (!move) return c.json<Problem, 409>({ error: 'This recorded move no longer exists.' }, 409)
        const does = { t: 'replay' as const, move: id, ...c.req.valid('json') }
        void cues()
          .tours.replay(does, `Move “${move.name}”`)
          .then(
            ({ ok: went, why }) => went || cues().notice(`“${move.name}” was not played to its end: ${why}`),
          )
        return c.json(ok, 200)
      },
    )
    .post(
      '/moves/:id/stop',
      documented('End a recorded move', Done, { 409: NOT_RUNNING }),
      given('param', Id),
      (c) =>
        cues().tours.stop(c.req.valid('param').id)
          ? c.json(ok, 200)
          : c.json<Problem, 409>({ error: NOT_RUNNING }, 409),
    )
    .post(
      '/cameras/:id/recording',
      documented('Record the way of a camera while it is driven', Done, { 404: NO_CAMERA }),
      given('param', Id),
      (c) => {
        if (!cues().world().camera(c.req.valid('param').id))
          return c.json<Problem, 404>({ error: NO_CAMERA }, 404)
        cues().recorder.start(c.req.valid('param').id)
        desk().changed()
        return c.json(ok, 200)
      },
    )
    .put(
      '/cameras/:id/recording',
      documented('End the recording, and keep it as a move', v.object({ id: v.string() }), {
        409: 'There is nothing to keep',
      }),
      given('param', Id),
      given('json', v.object({ name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60)) })),
      async (c) => {
        const camera = c.req.valid('param').id
        const lens = cues().world().camera(camera)?.lens
        const event = catalogue.current?.view.event.id
        const move =
          lens && event ? cues().recorder.stop(camera, c.req.valid('json').name, lens) : NOT_RUNNING
        desk().changed()
        if (typeof move === 'string' || !event) return c.json<Problem, 409>({ error: String(move) }, 409)
        const id = randomUUID()
        await putPart(db, event, 'move', id, move, { version: null })
        await changed()
        return c.json({ id }, 200)
      },
    )
    .delete(
      '/cameras/:id/recording',
      documented('End the recording, and keep nothing', Done),
      given('param', Id),
      (c) => {
        cues().recorder.cancel(c.req.valid('param').id)
        desk().changed()
        return c.json(ok, 200)
      },
    )
}
