/** Matching cameras by measurement, and making grey grey. */
import { Hono } from 'hono'
import * as v from 'valibot'
import { chartPatches } from '../../core/picture/patch'
import type { MatchOrder } from '../picture/matching'
import { documented, HOLD_TO_DO_IT, type Problem } from './answers'
import type { Deps } from './deps'
import { given } from './given'

const Share = v.pipe(v.number(), v.minValue(0), v.maxValue(1))
const Point = v.object({ x: Share, y: Share })
/** One place, or the four corners of a 24-patch chart, clockwise from the top left. */
const Touched = v.object({
  camera: v.pipe(v.string(), v.uuid()),
  at: v.union([v.tuple([Point]), v.tuple([Point, Point, Point, Point])]),
})
const Order = v.object({
  /** Null: to plain grey. */
  reference: v.nullable(Touched),
  level: v.optional(v.nullable(v.pipe(v.number(), v.minValue(0.01), v.maxValue(0.95))), null),
  others: v.pipe(v.array(Touched), v.minLength(1), v.maxLength(32)),
  confirmed: v.optional(v.boolean(), false),
})
const Out = v.object({
  /** Brings back what stood before. */
  undo: v.string(),
  cameras: v.array(
    v.object({
      camera: v.string(),
      name: v.string(),
      before: v.nullable(v.number()),
      after: v.nullable(v.number()),
      seconds: v.number(),
      why: v.nullable(v.string()),
    }),
  ),
})

const placed = ({ camera, at }: v.InferOutput<typeof Touched>) => ({
  camera,
  at: at.length === 4 ? chartPatches(at) : at,
})

export function matchRoutes({ matching, actorOf }: Deps) {
  return new Hono().post(
    '/',
    documented('Match cameras to one, or to grey, by a patch or a chart that all of them see', Out, {
      409: 'It cannot be measured, or a camera is on air and it is to be confirmed',
    }),
    given('json', Order),
    async (c) => {
      const { reference, others, level, confirmed } = c.req.valid('json')
      const order: MatchOrder = {
        reference: reference && placed(reference),
        ...{ others: others.map(placed), level, confirmed },
      }
      const done = await matching().match(order, actorOf(c))
      if (done.is !== 'done')
        return c.json<Problem & { ask?: boolean }, 409>(
          done.is === 'ask' ? { error: `${done.why} ${HOLD_TO_DO_IT}`, ask: true } : { error: done.why },
          409,
        )
      return c.json({ undo: done.undo, cameras: done.cameras }, 200)
    },
  )
}
