import { mkdtemp, readFile, stat, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Hono } from 'hono'
import { AccessCode } from './accessCode'
import { door } from './door'
import { hostAllowed, originAllowed, ownHosts } from './origin'

const HOSTS = new Set(['desk.local', '127.0.0.1'])

async function setUp() {
  const folder = await mkdtemp(join(tmpdir(), 'heron-'))
  const access = await AccessCode.open(folder)
  const app = new Hono().use(door({ hosts: () => HOSTS, access }))
  app.all('*', (c) => c.text('in'))
  const ask = (path: string, init: RequestInit & { headers?: Record<string, string> } = {}) =>
    app.request(`http://127.0.0.1:8420${path}`, {
      ...init,
      headers: { host: '127.0.0.1:8420', ...init.headers },
    })
  const give = (code: string) =>
    ask('/access', {
      method: 'POST',
      body: new URLSearchParams({ code }),
      headers: { 'content-type': 'application/x-www-form-urlencoded', origin: 'http://127.0.0.1:8420' },
    })
  return { folder, access, ask, give }
}

test('without the code nothing opens; with it all does, and the code outlives a restart', async () => {
  const { folder, access, ask, give } = await setUp()
  expect((await ask('/')).status).toBe(401)
  expect(await (await ask('/')).text()).toContain('access code')
  expect((await ask('/api/desk')).status).toBe(401)
  expect((await ask('/', { headers: { cookie: 'heron_access=guess' } })).status).toBe(401)
  expect((await give('WRONG')).status).toBe(401)
  const opened = await give(` ${access.code.slice(0, 4)} ${access.code.slice(4).toLowerCase()}`)
  expect(opened.status).toBe(303)
  const cookie = opened.headers.get('set-cookie')!
  expect(cookie).toMatch(/HttpOnly/)
  expect(cookie).toMatch(/SameSite=Strict/)
  expect((await ask('/', { headers: { cookie: cookie.split(';')[0]! } })).status).toBe(200)
  expect((await AccessCode.open(folder)).code).toBe(access.code)
  expect((await stat(join(folder, 'access.json'))).mode & 0o077).toBe(0)
  expect(await readFile(join(folder, 'access.json'), 'utf8')).toContain(access.code)
})

test('guessing is slowed down, for the address that guesses and for nobody else', async () => {
  const { access, give } = await setUp()
  for (let i = 0; i < 10; i++) await give('AAAAAAAA')
  expect((await give(access.code)).status).toBe(429)
  for (let i = 0; i < 10; i++) expect(access.redeem('AAAAAAAA', '10.0.0.8', 1000 + i)).toBe('wrong')
  expect(access.redeem(access.code, '10.0.0.8', 2000)).toBe('wait')
  expect(access.redeem(access.code, '10.0.0.9', 2000)).toEqual({ cookie: expect.any(String) })
  expect(access.redeem(access.code, '10.0.0.8', 62_000)).toEqual({ cookie: expect.any(String) })
})

test('a damaged access file is said, and not replaced', async () => {
  const { folder } = await setUp()
  const file = join(folder, 'access.json')
  for (const damaged of ['', '{"code":', '{"code":7}', 'null']) {
    await writeFile(file, damaged)
    await expect(AccessCode.open(folder)).rejects.toThrow(/access.json is damaged/)
    expect(await readFile(file, 'utf8')).toBe(damaged)
  }
})

test('another name, or another page, is turned away', async () => {
  const app = new Hono().use(door({ hosts: () => HOSTS, access: null }))
  app.all('*', (c) => c.text('in'))
  const ask = (headers: Record<string, string>, method = 'POST') =>
    app.request('http://x/', { method, headers })
  expect((await ask({ host: 'evil.example' })).status).toBe(421)
  expect((await ask({ host: 'desk.local:1', origin: 'http://evil.example' })).status).toBe(403)
  expect((await ask({ host: 'desk.local:1', origin: 'http://desk.local:2' })).status).toBe(403)
  const change = { 'x-steady-heron': '1' }
  expect((await ask({ host: 'desk.local:1', origin: 'http://desk.local:1', ...change })).status).toBe(200)
  expect((await ask({ host: 'desk.local:1', ...change })).status).toBe(200)
  // What a form, or a command that somebody has written into a command set, could send as well.
  expect((await ask({ host: 'desk.local:1' })).status).toBe(403)
  expect((await ask({ host: 'desk.local:1' }, 'GET')).status).toBe(200)
})

test('hosts and origins', () => {
  expect(ownHosts(false)).toEqual(new Set(['127.0.0.1', 'localhost', '[::1]']))
  expect(hostAllowed('LOCALHOST:8420', ownHosts(false))).toBe(true)
  expect(hostAllowed('[::1]:8420', ownHosts(false))).toBe(true)
  expect(hostAllowed(undefined, HOSTS)).toBe(false)
  expect(originAllowed(undefined, 'a:1')).toBe(false)
  expect(originAllowed('null', 'a:1')).toBe(false)
  expect(originAllowed('http://a:1', 'a:1')).toBe(true)
})
