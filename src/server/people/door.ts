/** Lets in who may come in: checks Host and Origin of all, and whose the cookie is. */
import { type Context, Hono, type MiddlewareHandler } from 'hono'
import { deleteCookie, getCookie, setCookie } from 'hono/cookie'
import * as v from 'valibot'
import { CHANGE_HEADER, PAGE_HEADER } from '../../core/live/headers'
import { LEAST_PASSWORD, Password, PersonName } from '../../core/people/views'
import type { Problem } from '../routes/answers'
import { isSecure, type Outside, senderOf } from './arrival'
import { closedPage, joinPage, ownerPage, signInPage } from './doorPage'
import { hostAllowed, originAllowed } from './origin'
import type { Passkeys } from './passkeys'
import type { From, People, Visitor } from './people'

export interface DoorOptions {
  hosts(): ReadonlySet<string>
  people: People
  outside: Outside
}

const ELSEWHERE = 'This request comes from another page.'
const NO_HEADER = `A change needs the header "${CHANGE_HEADER}: 1", which no page from elsewhere can send.`
const SIGN_IN = 'Sign in first.'
export const SESSION_COOKIE = 'heron_session'
const COOKIE_S = 30 * 86_400

interface Arrival extends From {
  secure: boolean
  /** For which paths the browser keeps the cookie. */
  path: string
}
const arrivals = new WeakMap<Request, Arrival>()
/** Where it comes from, as the door has seen it. */
export const fromOf = (c: Context): From => arrivals.get(c.req.raw) ?? { address: '', device: '' }

/** The key of the page that sends a request; '' where it is no page of ours. */
export const pageKey = (c: Context): string => c.req.header(PAGE_HEADER) ?? ''

const visitors = new WeakMap<Request, Visitor>()
/** Whose request it is; null: it did not come through the door, but from inside. */
export const visitorOf = (c: Context): Visitor | null => visitors.get(c.req.raw) ?? null

const STRICT = { httpOnly: true, sameSite: 'Strict' } as const

export function keepIn(c: Context, cookie: string): void {
  const { secure, path } = arrivals.get(c.req.raw) ?? { secure: false, path: '/' }
  setCookie(c, SESSION_COOKIE, cookie, { ...STRICT, secure, path, maxAge: COOKIE_S })
}
export const forget = (c: Context): void =>
  void deleteCookie(c, SESSION_COOKIE, { path: arrivals.get(c.req.raw)?.path ?? '/' })

/** What a browser asks for without saying who asks, to put the page on a home screen; nothing in it is anybody's. */
const COVER = /^\/(manifest\.webmanifest|icon-\d+\.png|favicon\.ico|sw\.js|away\.(html|js)|enter\.js)$/
/** Pages that strangers see too. */
const OUTSIDE = /^\/(enter|join|owner)(\/|$)/

export function door({ hosts, people, outside }: DoorOptions): MiddlewareHandler {
  const own = (origin: string | undefined, host: string | undefined) =>
    originAllowed(origin, host) || (!!origin && origin === outside.publicUrl?.origin)
  return async (c, next) => {
    const host = c.req.header('host')
    arrivals.set(c.req.raw, {
      address: senderOf(c, outside),
      device: c.req.header('user-agent') ?? '',
      secure: isSecure(outside),
      path: outside.base || '/',
    })
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
    if (socket && !own(origin, host)) return c.text(ELSEWHERE, 403)
    // Programs send no Origin; browsers always do on what changes something.
    if (changes && origin !== undefined && !own(origin, host))
      return c.json<Problem>({ error: ELSEWHERE, where: 'header' }, 403)
    const before = OUTSIDE.test(c.req.path)
    // No form can send it, and no command that somebody put into a command set.
    if (changes && !before && c.req.header(CHANGE_HEADER) === undefined)
      return c.json<Problem>({ error: NO_HEADER, where: 'header' }, 403)
    // A form without an origin comes from no browser of today.
    if (changes && before && origin === undefined) return c.text(ELSEWHERE, 403)
    if (before || (c.req.method === 'GET' && COVER.test(c.req.path))) return next()
    const visitor = people.visitor(getCookie(c, SESSION_COOKIE))
    if (visitor) {
      visitors.set(c.req.raw, visitor)
      return next()
    }
    if (socket || c.req.path.startsWith('/api/'))
      return c.json<Problem>({ error: SIGN_IN, where: 'header' }, 401)
    return c.html(signInPage(outside.base, null), 401)
  }
}

async function typed(c: Context): Promise<{ name: string; password: string }> {
  const body = await c.req.parseBody().catch(() => ({}) as Record<string, unknown>)
  const text = (value: unknown) => (typeof value === 'string' ? value.slice(0, 300) : '')
  return { name: text(body.name), password: text(body.password) }
}

/** What a browser answers for a passkey; the rest is checked where it is verified. */
const Answer = v.looseObject({ id: v.string(), response: v.looseObject({ clientDataJSON: v.string() }) })
/** Of what changes something; the door has seen that it is one of ours. */
export const originOf = (c: Context): string => c.req.header('origin') ?? ''

/** The forms before the door. */
/** @param base the path under which the desk is served */
export function doorForms(people: People, passkeys: () => Passkeys, base: string): Hono {
  const come = (c: Context, cookie: string) => {
    keepIn(c, cookie)
    return c.redirect(`${base}/`, 303)
  }
  return new Hono()
    .get('/enter', (c) =>
      people.visitor(getCookie(c, SESSION_COOKIE))
        ? c.redirect(`${base}/`, 303)
        : c.html(signInPage(base, null)),
    )
    .post('/enter', async (c) => {
      const { name, password } = await typed(c)
      const done = await people.signIn(name, password, fromOf(c))
      if ('cookie' in done) return come(c, done.cookie)
      return c.html(signInPage(base, done.why, name), done.wait ? 429 : 401)
    })
    .post('/enter/passkey/options', async (c) => c.json(await passkeys().beginEntering(originOf(c))))
    .post('/enter/passkey', async (c) => {
      const response = v.safeParse(Answer, await c.req.json().catch(() => null))
      if (!response.success) return c.json<Problem>({ error: 'This is no passkey.', where: 'body' }, 400)
      const done = await passkeys().enter(response.output as never, originOf(c), fromOf(c))
      if ('why' in done) return c.json<Problem>({ error: done.why }, done.wait ? 429 : 401)
      keepIn(c, done.cookie)
      return c.json({ ok: true })
    })
    .get('/join/:token', (c) => {
      const found = people.invited(c.req.param('token'), fromOf(c))
      // Looking at it uses nothing up: messengers look at links before people do.
      if ('why' in found) return c.html(closedPage(found.why), found.wait ? 429 : 404)
      return c.html(joinPage(`${base}${c.req.path}`, found.invitation.name, null))
    })
    .post('/join/:token', async (c) => {
      const { name } = await typed(c)
      const parsed = v.safeParse(PersonName, name)
      const found = people.invited(c.req.param('token'), fromOf(c))
      if ('why' in found) return c.html(closedPage(found.why), found.wait ? 429 : 404)
      if (!parsed.success)
        return c.html(
          joinPage(`${base}${c.req.path}`, found.invitation.name, 'Type a name of at most 40 characters.'),
          400,
        )
      const done = await people.join(c.req.param('token'), parsed.output, fromOf(c))
      return 'cookie' in done ? come(c, done.cookie) : c.html(closedPage(done.why), 404)
    })
    .get('/owner/:token', (c) =>
      people.isOwnerLink(c.req.param('token'))
        ? c.html(ownerPage(`${base}${c.req.path}`, LEAST_PASSWORD, null))
        : c.html(
            closedPage('This link does not open anything. Start the desk with --new-owner for another.'),
            404,
          ),
    )
    .post('/owner/:token', async (c) => {
      const { name, password } = await typed(c)
      const parsed = [v.safeParse(PersonName, name), v.safeParse(Password, password)] as const
      const wrong = parsed.find(({ success }) => !success)?.issues?.[0].message
      if (wrong || !parsed[0].success)
        return c.html(ownerPage(`${base}${c.req.path}`, LEAST_PASSWORD, wrong ?? 'Type a name.', name), 400)
      const done = await people.makeOwner(c.req.param('token'), parsed[0].output, password, fromOf(c))
      if ('cookie' in done) return come(c, done.cookie)
      return c.html(ownerPage(`${base}${c.req.path}`, LEAST_PASSWORD, done.why, name), done.wait ? 429 : 409)
    })
}
