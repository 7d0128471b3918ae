/** What is on air and what is next: asked, set by programs and by hand, and where it comes from. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { MAY_ALL } from '../../core/people/may'
import { BY_HAND, BY_HTTP } from '../../core/tally/board'
import { clashing, Tally, TallySettings, TallyState } from '../../core/tally/sources'
import { SWITCHER_ACTIONS } from '../../core/tally/switcher'
import { visitorOf } from '../people/door'
import { setTally } from '../store/tally'
import { Done, documented, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Source = v.object({
  id: v.string(),
  name: v.string(),
  /** As `tsl31-udp`; `http` and `hand` need no setting up. */
  kind: v.string(),
  port: v.nullable(v.number()),
  /** Milliseconds since 1970; null: never. */
  lastHeardMs: v.nullable(v.number()),
  silent: v.boolean(),
  /** From its rhythm or its setting; null: it has no rhythm. */
  silentAfterMs: v.nullable(v.number()),
  trouble: v.nullable(v.string()),
  /** What it said of each of its addresses. */
  addresses: v.array(
    v.object({
      address: v.string(),
      label: v.string(),
      program: v.boolean(),
      preview: v.boolean(),
      camera: v.nullable(v.string()),
    }),
  ),
})
const TallyView = v.object({
  sources: v.array(Source),
  cameras: v.array(v.object({ id: v.string(), number: v.number(), ...Tally.entries })),
})
export type TallyView = v.InferOutput<typeof TallyView>

const CameraNumber = v.object({
  number: v.pipe(v.string(), v.regex(/^\d{1,4}$/, 'This is no camera number.'), v.transform(Number)),
})
const Saying = v.object({
  /** null: this source no longer says anything about the camera. */
  state: v.nullable(TallyState),
  /** Other cameras that this source has in the same state go off. */
  alone: v.optional(v.boolean(), false),
  byHand: v.optional(v.boolean(), false),
})

export function tallyRoutes({ db, catalogue, tally, switching, changed }: Deps) {
  return new Hono()
    .get('/', documented('What is on air and what is next', TallyView), (c) => {
      const may = visitorOf(c)?.may() ?? MAY_ALL
      const cameras = (catalogue.current?.view.cameras ?? []).flatMap(({ id, number }) => {
        const mine = may.camera(id) ? tally().of(id) : null
        return mine ? [{ id, number, ...mine }] : []
      })
      return c.json({ sources: may.everywhere ? tally().sources : [], cameras }, 200)
    })
    .put(
      '/settings',
      documented('Where the tally of the open venue comes from', Done, {
        409: 'No venue is open, or two sources listen at one place',
      }),
      given('json', TallySettings),
      async (c) => {
        const settings = c.req.valid('json')
        const venue = catalogue.current?.view.venue
        if (!venue) return c.json<Problem, 409>({ error: 'No venue is open.' }, 409)
        const clash = clashing(settings)
        if (clash) {
          const error = `“${clash[0].name}” and “${clash[1].name}” would listen at the same port. Give one of them another.`
          return c.json<Problem, 409>({ error }, 409)
        }
        await setTally(db, venue.id, settings)
        await changed()
        return c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/switcher/:action',
      documented('Ask the switcher, or change by hand, what is on air and what is next', Done, {
        404: 'No camera has this number',
        409: 'It was not done',
      }),
      given('param', v.object({ action: v.picklist(SWITCHER_ACTIONS) })),
      given('json', v.object({ camera: v.optional(v.nullable(v.number()), null) })),
      async (c) => {
        const { camera: number } = c.req.valid('json')
        const camera = catalogue.current?.view.cameras.find((one) => one.number === number)
        if (number !== null && !camera)
          return c.json<Problem, 404>({ error: `No camera has the number ${number}.` }, 404)
        const problem = await switching().act(c.req.valid('param').action, camera?.id ?? null)
        return problem ? c.json<Problem, 409>({ error: problem }, 409) : c.json({ ok: true as const }, 200)
      },
    )
    .post(
      '/:number',
      documented('Say whether a camera is on air', Done, {
        404: 'No camera has this number',
        409: 'It is not set by hand at this venue',
      }),
      given('param', CameraNumber),
      given('json', Saying),
      (c) => {
        const { number } = c.req.valid('param')
        const { state, alone, byHand } = c.req.valid('json')
        const camera = catalogue.current?.view.cameras.find((one) => one.number === number)
        if (!camera) return c.json<Problem, 404>({ error: `No camera has the number ${number}.` }, 404)
        if (byHand && !tally().byHand) {
          const error = 'On air is not set by hand at this venue. Switch it on in Setup, Tally.'
          return c.json<Problem, 409>({ error }, 409)
        }
        tally().say(byHand ? BY_HAND : BY_HTTP, camera.id, state, alone)
        return c.json({ ok: true as const }, 200)
      },
    )
}
