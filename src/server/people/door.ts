/** Lets in who may come in: checks Host and Origin of all, and the access code where the network is open. */
import type { IncomingMessage } from 'node:http'
import type { MiddlewareHandler } from 'hono'
import { getCookie, setCookie } from 'hono/cookie'
import { parse } from 'hono/utils/cookie'
import { ACCESS_COOKIE, type AccessCode } from './accessCode'
import { doorPage } from './doorPage'
import { hostAllowed, originAllowed } from './origin'

export interface DoorOptions {
  hosts: ReadonlySet<string>
  /** Null where the server is bound to this computer alone. */
  access: AccessCode | null
}

const WRONG = 'That is not the code. Look at it once more.'
const WAIT = 'Too many wrong codes. Wait a minute, then try again.'

export function door({ hosts, access }: DoorOptions): MiddlewareHandler {
  return async (c, next) => {
    const host = c.req.header('host')
    if (!hostAllowed(host, hosts)) return c.text('This server does not answer under this name.', 421)
    const changes = !['GET', 'HEAD', 'OPTIONS'].includes(c.req.method)
    const origin = c.req.header('origin')
    // Programs send no Origin; browsers always do on what changes something.
    if (changes && origin !== undefined && !originAllowed(origin, host)) {
      return c.text('This request comes from another page.', 403)
    }
    if (!access || access.accepts(getCookie(c, ACCESS_COOKIE))) return next()
    if (c.req.path === '/access' && c.req.method === 'POST') {
      const { code } = await c.req.parseBody()
      const result = access.redeem(typeof code === 'string' ? code : '', Date.now())
      if (result === 'wrong' || result === 'wait') {
        return c.html(doorPage(result === 'wait' ? WAIT : WRONG), result === 'wait' ? 429 : 401)
      }
      setCookie(c, ACCESS_COOKIE, result.cookie, {
        httpOnly: true,
        sameSite: 'Strict',
        path: '/',
        maxAge: 30 * 86_400,
      })
      return c.redirect('/', 303)
    }
    if (c.req.path.startsWith('/api/')) return c.json({ error: 'The access code is missing.' }, 401)
    return c.html(doorPage(null), 401)
  }
}

/** May this request open a socket? */
export function socketAllowed(request: IncomingMessage, { hosts, access }: DoorOptions): boolean {
  const { host, origin, cookie } = request.headers
  if (!hostAllowed(host, hosts) || !originAllowed(origin, host)) return false
  return !access || access.accepts(parse(cookie ?? '')[ACCESS_COOKIE])
}
