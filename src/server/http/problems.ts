/** One shape for every error: a sentence, and where. It never repeats what was sent. */
import type { Context } from 'hono'
import { HTTPException } from 'hono/http-exception'
import { FileRefused } from '../../core/formats/venueFile'
import { log } from '../log'
import type { Problem } from '../routes/answers'
import { databaseFault } from '../store/database'

const NO_DATABASE =
  'The database does not answer, so nothing was stored. It is being restarted: try again in a few seconds.'
const UNSURE =
  'The database fell silent just then, so it is not known whether this was stored. Look again in a few seconds.'
const NOT_TEXT = 'This holds a character that cannot be stored.'
const UNREADABLE = 'This cannot be read: it is not valid JSON.'
const OURS = 'The server could not do this. Try again; if that does not help, restart it.'

function problemOf(error: unknown): { status: 400 | 413 | 422 | 500 | 503; body: Problem } {
  if (error instanceof FileRefused) return { status: 400, body: { error: error.message, where: 'body' } }
  if (error instanceof HTTPException) {
    const status = error.status === 413 ? 413 : error.status >= 500 ? 500 : 400
    return { status, body: { error: status === 500 ? OURS : UNREADABLE, where: 'body' } }
  }
  switch (databaseFault(error)) {
    case 'gone':
    case 'late':
      return { status: 503, body: { error: NO_DATABASE, where: null } }
    case 'unsure':
      return { status: 503, body: { error: UNSURE, where: null } }
    case 'not-text':
      return { status: 422, body: { error: NOT_TEXT, where: 'body' } }
    default:
      return { status: 500, body: { error: OURS, where: null } }
  }
}

export function tellProblem(error: unknown, c: Context) {
  const { status, body } = problemOf(error)
  if (status >= 500) log.error({ err: error, method: c.req.method, path: c.req.path }, 'a request failed')
  return c.json<Problem>(body, status)
}
