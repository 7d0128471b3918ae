/** Looks: what a recall would change, recalling, undoing, and all of them as CSV. */
import { Hono } from 'hono'
import Papa from 'papaparse'
import * as v from 'valibot'
import { looksCsvRows } from '../../core/picture/looks'
import { SETTING_GROUPS } from '../../core/picture/settings'
import type { Recalled } from '../picture/looks'
import { documented, HOLD_TO_DO_IT, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
const Which = {
  cameras: v.optional(v.nullable(v.pipe(v.array(v.pipe(v.string(), v.uuid())), v.maxLength(64))), null),
  groups: v.optional(v.nullable(v.array(v.picklist(SETTING_GROUPS))), null),
}
const ChangeOut = v.object({
  key: v.string(),
  label: v.string(),
  fromText: v.string(),
  toText: v.string(),
  jumps: v.boolean(),
})
const PlanOut = v.array(
  v.object({
    camera: v.string(),
    name: v.string(),
    changes: v.array(ChangeOut),
    missing: v.array(v.string()),
  }),
)
const RecallOut = v.object({
  /** Brings back what stood before. */
  undo: v.string(),
  problems: v.array(v.string()),
})
const FormerOut = v.array(
  v.object({
    id: v.string(),
    /** What was done after it. */
    what: v.string(),
    cameras: v.array(v.string()),
    atMs: v.number(),
    /** The server ended in the middle of it. */
    cut: v.boolean(),
  }),
)
const Refused = { error: v.string(), ask: v.optional(v.boolean()) }

export function lookRoutes({ looks, catalogue, actorOf }: Deps) {
  const gone: Problem = { error: 'This look no longer exists.' }
  const find = (id: string) => catalogue.current?.view.show.looks.find((look) => look.id === id) ?? null
  const answer = (done: Recalled) =>
    done.is === 'done' ? { undo: done.undo, problems: done.problems } : null
  return new Hono()
    .get('/csv', documented('All looks as CSV', v.string()), (c) => {
      const view = catalogue.current?.view
      const names = new Map(view?.cameras.map(({ id, number, name }) => [id, `${number} ${name}`]))
      const rows = looksCsvRows(view?.show.looks ?? [], (id) => names.get(id) ?? 'a camera that is gone')
      c.header('content-disposition', 'attachment; filename="looks.csv"')
      return c.text(`\ufeff${Papa.unparse(rows)}\r\n`, 200, { 'content-type': 'text/csv; charset=utf-8' })
    })
    .get(
      '/former',
      documented('What cameras were set to before recalls and matches, newest first', FormerOut),
      async (c) => c.json(await looks().former(), 200),
    )
    .post(
      '/undo/:id',
      documented('Bring back what stood before a recall', RecallOut, { 409: 'It is no longer known' }),
      given('param', Id),
      async (c) => {
        const done = await looks().undo(c.req.valid('param').id, actorOf(c))
        const out = answer(done)
        if (!out) return c.json<Problem, 409>({ error: done.is === 'done' ? '' : done.why }, 409)
        return c.json(out, 200)
      },
    )
    .post(
      '/:id/compare',
      documented('What a recall would change', PlanOut, { 404: gone.error }),
      given('param', Id),
      given('json', v.object(Which)),
      (c) => {
        const look = find(c.req.valid('param').id)
        if (!look) return c.json<Problem, 404>(gone, 404)
        const planned = looks().planned(look, c.req.valid('json'))
        return c.json(
          planned.map(({ camera, name, plan }) => ({ camera, name, ...plan })),
          200,
        )
      },
    )
    .post(
      '/:id/recall',
      documented('Recall a look, whole or by group, also at other cameras', RecallOut, {
        409: 'It cannot be set now, or it would jump on air and is to be confirmed',
      }),
      given('param', Id),
      given(
        'json',
        v.object({
          ...Which,
          /** Null: as the look has it. */
          seconds: v.optional(v.nullable(v.pipe(v.number(), v.minValue(0), v.maxValue(60))), null),
          confirmed: v.optional(v.boolean(), false),
        }),
      ),
      async (c) => {
        const done = await looks().recall(c.req.valid('param').id, c.req.valid('json'), actorOf(c))
        const out = answer(done)
        if (!out && done.is !== 'done')
          return c.json<v.InferOutput<v.ObjectSchema<typeof Refused, undefined>>, 409>(
            done.is === 'ask' ? { error: `${done.why} ${HOLD_TO_DO_IT}`, ask: true } : { error: done.why },
            409,
          )
        return c.json(out!, 200)
      },
    )
}
