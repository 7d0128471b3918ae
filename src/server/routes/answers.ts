/** Shapes that several routes answer with. */
import { describeRoute, resolver } from 'hono-openapi'
import * as v from 'valibot'
import { PresetView } from '../../core/presets/preset'

/** `where`: the place in what was sent; null if it is not in that. */
export const Problem = v.object({ error: v.string(), where: v.optional(v.nullable(v.string())) })
export type Problem = v.InferOutput<typeof Problem>

export const Done = v.object({ ok: v.literal(true) })

/** A preset after a store; with `formerVersion` where it can be undone, with `warning` where something is missing. */
export const Stored = v.object({
  preset: PresetView,
  formerVersion: v.nullable(v.number()),
  warning: v.nullable(v.string()),
})
export type Stored = v.InferOutput<typeof Stored>

const body = (schema: v.GenericSchema, description: string) => ({
  description,
  content: { 'application/json': { schema: resolver(schema) } },
})

/** Documentation of a route whose faults are all told as `{ error }`. */
export function documented(summary: string, schema: v.GenericSchema, faults: Record<number, string> = {}) {
  const responses: Record<number, ReturnType<typeof body>> = { 200: body(schema, summary) }
  for (const [status, text] of Object.entries(faults)) responses[Number(status)] = body(Problem, text)
  return describeRoute({ summary, responses })
}

/** What the page adds to what the guard says, where a thumb may confirm it. */
export const HOLD_TO_DO_IT = 'Hold to do it all the same.'
