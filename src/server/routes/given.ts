/** What a request brings, checked by its schema: refused with a sentence and the place, never with the input. */
import type { StandardSchemaV1 } from '@standard-schema/spec'
import type { Context, ValidationTargets } from 'hono'
import { validator } from 'hono-openapi'
import type * as v from 'valibot'
import type { Problem } from './answers'

const MOST_WHERE = 120
const NO_NUL = 'This holds a character that cannot be stored.'
const EMPTY = 'Nothing is to be changed: give at least one value.'

type Issue = StandardSchemaV1.Issue

const placeOf = ({ path = [] }: Issue): string =>
  path
    .map((part) => String(typeof part === 'object' ? part.key : part))
    .join('.')
    .slice(0, MOST_WHERE)

/** Our own sentences are kept; what the library says may repeat the input, so of it only what was expected is. */
function sentenceOf(issue: Issue): string {
  const { message } = issue
  const expected = (issue as { expected?: string | null }).expected
  if (!/^Invalid /.test(message)) return message
  return expected && expected.length < 200 && !/^\//.test(expected)
    ? `This value is not right here: ${expected} is expected.`
    : 'This value is not right here.'
}

function holdsNul(value: unknown): boolean {
  if (typeof value === 'string') return value.includes('\0')
  if (typeof value !== 'object' || value === null) return false
  return Object.entries(value).some(([key, inner]) => key.includes('\0') || holdsNul(inner))
}

const refuse = (c: Context, error: string, where: string) => c.json<Problem>({ error, where }, 400)

/** @param options.change it is a change of what is there, so at least one value is needed */
export function given<T extends keyof ValidationTargets, S extends v.GenericSchema>(
  target: T,
  schema: S,
  options: { change?: boolean } = {},
) {
  return validator(target, schema, (result, c) => {
    if (!result.success) {
      const [issue] = result.error as readonly Issue[]
      return refuse(
        c,
        issue ? sentenceOf(issue) : 'This value is not right here.',
        (issue && placeOf(issue)) || target,
      )
    }
    if (holdsNul(result.data)) return refuse(c, NO_NUL, target)
    if (options.change && Object.values(result.data as object).every((x) => x === undefined))
      return refuse(c, EMPTY, target)
  })
}
