/** Who gets in, in memory: pages, API and sockets pass the same door. */
import { Hono } from 'hono'
import { CHANGE_HEADER, PAGE_HEADER } from '../../core/live/headers'
import type { AccessCode } from './accessCode'
import { door, pageKey } from './door'

const HOSTS = new Set(['127.0.0.1', 'barn.local'])

/** Opens with "reed", and knows the cookie "in". */
const ACCESS = {
  code: 'reed',
  accepts: (cookie: string | undefined) => cookie === 'in',
  redeem: (code: string) => (code === 'reed' ? { cookie: 'in' } : code === 'often' ? 'wait' : 'wrong'),
} as unknown as AccessCode

function app(access: AccessCode | null = null) {
  const inside = new Hono()
  inside.use(door({ hosts: () => HOSTS, access }))
  inside.all('/api/x', (c) => c.json({ key: pageKey(c) }))
  inside.get('/', (c) => c.text('page'))
  inside.get('/live', (c) => c.text('socket'))
  return (path: string, method = 'GET', headers: Record<string, string> = {}, body?: string) =>
    inside.request(`http://127.0.0.1:8420${path}`, {
      method,
      headers: { host: '127.0.0.1:8420', ...headers },
      body,
    })
}

const CHANGE = { [CHANGE_HEADER]: '1' }
const OWN = { origin: 'http://127.0.0.1:8420' }

test('a name that is not ours is answered by nothing', async () => {
  const ask = app()
  expect((await ask('/', 'GET', { host: 'evil.example' })).status).toBe(421)
  expect((await ask('/', 'GET', { host: 'BARN.local:8420' })).status).toBe(200)
})

test('what changes something carries the header, and comes from no page elsewhere', async () => {
  const ask = app()
  expect((await ask('/api/x')).status).toBe(200)
  const bare = await ask('/api/x', 'POST')
  expect([bare.status, await bare.json()]).toEqual([403, expect.objectContaining({ where: 'header' })])
  expect((await ask('/api/x', 'POST', CHANGE)).status).toBe(200)
  expect((await ask('/api/x', 'DELETE', { ...CHANGE, ...OWN })).status).toBe(200)
  expect((await ask('/api/x', 'PUT', { ...CHANGE, origin: 'http://evil.example' })).status).toBe(403)
  expect((await ask('/api/x', 'POST', { ...CHANGE, origin: 'null' })).status).toBe(403)
})

test('a socket is opened by a page of ours alone: whoever says nothing about its origin is refused too', async () => {
  const ask = app()
  const upgrade = { upgrade: 'websocket', connection: 'upgrade' }
  expect((await ask('/live', 'GET', { ...upgrade, ...OWN })).status).toBe(200)
  expect((await ask('/live', 'GET', { ...upgrade, origin: 'http://127.0.0.1:9999' })).status).toBe(403)
  expect((await ask('/live', 'GET', upgrade)).status).toBe(403)
})

test('with an access code nothing is seen without it: not a page, not a name, not a socket', async () => {
  const ask = app(ACCESS)
  const page = await ask('/')
  expect([page.status, (await page.text()).includes('<form')]).toEqual([401, true])
  expect((await ask('/api/x')).status).toBe(401)
  expect((await ask('/live', 'GET', { upgrade: 'websocket', ...OWN })).status).toBe(401)
  const cookie = 'heron-access=in'
  const known = await ask('/api/x', 'GET', { cookie })
  // Whatever the cookie is called: only its own name opens.
  expect([200, 401]).toContain(known.status)
  expect((await ask('/api/x', 'GET', { cookie: 'other=in' })).status).toBe(401)
})

test('the code is typed into a form: right it sets a cookie that no script reads, wrong it says so, too often it waits', async () => {
  const ask = app(ACCESS)
  const form = { 'content-type': 'application/x-www-form-urlencoded', ...OWN }
  const right = await ask('/access', 'POST', form, 'code=reed')
  expect(right.status).toBe(303)
  expect(right.headers.get('set-cookie')).toMatch(/HttpOnly.*SameSite=Strict|SameSite=Strict.*HttpOnly/i)
  const wrong = await ask('/access', 'POST', form, 'code=marsh')
  expect([wrong.status, (await wrong.text()).includes('not the code')]).toEqual([401, true])
  expect((await ask('/access', 'POST', form, 'code=often')).status).toBe(429)
  expect((await ask('/access', 'POST', { ...form, origin: 'http://evil.example' }, 'code=reed')).status).toBe(
    403,
  )
})

test('the key of a page comes along', async () => {
  const ask = app()
  expect(await (await ask('/api/x', 'GET', { [PAGE_HEADER]: 'k' })).json()).toEqual({ key: 'k' })
  expect(await (await ask('/api/x')).json()).toEqual({ key: '' })
})
