/** Lets in who may come in: checks Host and Origin of all, and the access code where the network is open. */
import { getConnInfo } from '@hono/node-server/conninfo'
import type { Context, MiddlewareHandler } from 'hono'
import { getCookie, setCookie } from 'hono/cookie'
import { CHANGE_HEADER, PAGE_HEADER } from '../../core/live/headers'
import type { Problem } from '../routes/answers'
import { ACCESS_COOKIE, type AccessCode } from './accessCode'
import { doorPage } from './doorPage'
import { hostAllowed, originAllowed } from './origin'

export interface DoorOptions {
  hosts(): ReadonlySet<string>
  /** Null if the server is bound to this computer alone. */
  access: AccessCode | null
}

const WRONG = 'That is not the code. Look at it once more.'
const WAIT = 'Too many wrong codes. Wait a minute, then try again.'
const ELSEWHERE = 'This request comes from another page.'
const NO_HEADER = `A change needs the header "${CHANGE_HEADER}: 1", which no page from elsewhere can send.`

const addressOf = (c: Context): string => {
  try {
    return getConnInfo(c).remote.address ?? ''
  } catch {
    return ''
  }
}

/** The key of the page that sends a request; '' where it is no page of ours. */
export const pageKey = (c: Context): string => c.req.header(PAGE_HEADER) ?? ''

export function door({ hosts, access }: DoorOptions): MiddlewareHandler {
  return async (c, next) => {
    const host = c.req.header('host')
    if (!hostAllowed(host, hosts())) return c.text('This server does not answer under this name.', 421)
    const changes = !['GET', 'HEAD', 'OPTIONS'].includes(c.req.method)
    const origin = c.req.header('origin')
    const socket = c.req.header('upgrade') !== undefined
    // Of programs the key says all; no page elsewhere can send that header.
    const keyed =
      c.req.path.startsWith('/api/remote/') &&
      c.req.header('authorization') !== undefined &&
      origin === undefined
    if (keyed) return next()
    // A page elsewhere may open a socket to us, and says whose it is.
    if (socket && !originAllowed(origin, host)) return c.text(ELSEWHERE, 403)
    // Programs send no Origin; browsers always do on what changes something.
    if (changes && origin !== undefined && !originAllowed(origin, host))
      return c.json<Problem>({ error: ELSEWHERE, where: 'header' }, 403)
    const form = c.req.path === '/access' && c.req.method === 'POST'
    // No form can send it, and no command that somebody put into a command set.
    if (changes && !form && c.req.header(CHANGE_HEADER) === undefined)
      return c.json<Problem>({ error: NO_HEADER, where: 'header' }, 403)
    if (!access || access.accepts(getCookie(c, ACCESS_COOKIE))) return next()
    if (form) return typed(c, access)
    if (c.req.path.startsWith('/api/'))
      return c.json<Problem>({ error: 'The access code is missing.', where: 'header' }, 401)
    return c.html(doorPage(null), 401)
  }
}

async function typed(c: Context, access: AccessCode) {
  const { code } = await c.req.parseBody().catch(() => ({ code: '' }))
  const result = access.redeem(typeof code === 'string' ? code : '', addressOf(c), Date.now())
  if (result === 'wrong' || result === 'wait')
    return c.html(doorPage(result === 'wait' ? WAIT : WRONG), result === 'wait' ? 429 : 401)
  setCookie(c, ACCESS_COOKIE, result.cookie, {
    httpOnly: true,
    sameSite: 'Strict',
    path: '/',
    maxAge: 30 * 86_400,
  })
  return c.redirect('/', 303)
}
