/**
 * The door and the routes: who is let in, and what each role may ask for. Which role may what is written out here
 * and not taken from the table that decides.
 */

import { Hono } from 'hono'
import { CHANGE_HEADER, PAGE_HEADER } from '../../core/live/headers'
import { EVERYWHERE, type Grant, type Role } from '../../core/people/rights'
import { DIRECT, type Outside, outsideFrom, withoutBase } from './arrival'
import { door, doorForms, pageKey, SESSION_COOKIE, visitorOf } from './door'
import { Passkeys } from './passkeys'
import { type RouteGuardDeps, routeGuard } from './routeGuard'
import { ROUTE_RIGHTS } from './routeRights'
import { memoryPasskeys, memoryPeople } from './testing/memoryPeople'

const HOSTS = new Set(['127.0.0.1', 'barn.local'])
const OWN_CAMERA = '00000000-0000-4000-8000-00000000000a'
const OTHER_CAMERA = '00000000-0000-4000-8000-00000000000b'
const OWN_PRESET = '00000000-0000-4000-8000-0000000000a1'
const OTHER_PRESET = '00000000-0000-4000-8000-0000000000b1'
const CHANGE = { [CHANGE_HEADER]: '1' }
const OWN = { origin: 'http://127.0.0.1:8420' }

async function setUp({ outside = DIRECT, ...options }: { reachable?: boolean; outside?: Outside } = {}) {
  const world = await memoryPeople(options)
  const { people } = world
  const passkeys = new Passkeys(people, memoryPasskeys(), () => world.clock.ms)
  const lines: Parameters<RouteGuardDeps['log']>[0][] = []
  const guard: RouteGuardDeps = {
    async preset(id) {
      const cameraId = id === OWN_PRESET ? OWN_CAMERA : id === OTHER_PRESET ? OTHER_CAMERA : null
      return cameraId && { id, cameraId, section: '', name: 'Lectern' }
    },
    cameraName: (id) => (id === OWN_CAMERA ? '1 Gallery' : ''),
    log: (line) => lines.push(line),
  }
  const app = new Hono()
  app.use(door({ hosts: () => HOSTS, people, outside }))
  app.route(
    '/',
    doorForms(people, () => passkeys, outside.base),
  )
  app.use('/api/*', routeGuard(guard))
  app.all('*', (c) => c.json({ key: pageKey(c), who: visitorOf(c)?.name() }))
  const ask = async (
    path: string,
    method = 'GET',
    headers: Record<string, string> = {},
    body?: BodyInit,
  ): Promise<Response> =>
    app.request(`http://127.0.0.1:8420${path}`, {
      method,
      headers: { host: '127.0.0.1:8420', ...headers },
      ...(body === undefined ? {} : { body }),
    })
  const form = (path: string, fields: Record<string, string>, headers: Record<string, string> = OWN) =>
    ask(
      path,
      'POST',
      { 'content-type': 'application/x-www-form-urlencoded', ...headers },
      new URLSearchParams(fields),
    )
  const signedIn = async (name: string, grant: Grant) => {
    await people.addAccount(name, 'long enough', grant)
    const came = await people.signIn(name, 'long enough', { address: name, device: '' })
    return { cookie: `${SESSION_COOKIE}=${'cookie' in came ? came.cookie : ''}` }
  }
  return { ...world, ask, form, signedIn, lines }
}

const cookieOf = (answer: Response) => (answer.headers.get('set-cookie') ?? '').split(';')[0]!

test('another name, or another page, is turned away', async () => {
  const { ask } = await setUp({ reachable: false })
  expect((await ask('/', 'GET', { host: 'evil.example' })).status).toBe(421)
  expect((await ask('/', 'GET', { host: 'BARN.local:8420' })).status).toBe(200)
  const bare = await ask('/api/x', 'POST')
  expect([bare.status, await bare.json()]).toEqual([403, expect.objectContaining({ where: 'header' })])
  expect((await ask('/api/x', 'POST', CHANGE)).status).toBe(200)
  expect((await ask('/api/x', 'DELETE', { ...CHANGE, ...OWN })).status).toBe(200)
  for (const origin of ['http://evil.example', 'null', 'http://127.0.0.1:9999'])
    expect((await ask('/api/x', 'PUT', { ...CHANGE, origin })).status).toBe(403)
  expect(await (await ask('/api/x', 'GET', { [PAGE_HEADER]: 'k' })).json()).toMatchObject({ key: 'k' })
})

test('a socket is opened by a page of ours alone: whoever says nothing about its origin is refused too', async () => {
  const { ask } = await setUp({ reachable: false })
  const upgrade = { upgrade: 'websocket', connection: 'upgrade' }
  expect((await ask('/live', 'GET', { ...upgrade, ...OWN })).status).toBe(200)
  expect((await ask('/live', 'GET', { ...upgrade, origin: 'http://127.0.0.1:9999' })).status).toBe(403)
  expect((await ask('/live', 'GET', upgrade)).status).toBe(403)
})

test('a stranger gets nothing: not a page, not a name, not a socket, whatever they ask for', async () => {
  const { ask, owner } = await setUp()
  await owner()
  const upgrade = { upgrade: 'websocket', connection: 'upgrade', ...OWN }
  const strangers: Record<string, string>[] = [
    {},
    { cookie: `${SESSION_COOKIE}=guess` },
    { cookie: 'other=x' },
  ]
  for (const headers of strangers) {
    const page = await ask('/', 'GET', headers)
    const text = await page.text()
    expect([page.status, text.includes('<form'), text.includes('Wren')]).toEqual([401, true, false])
    expect((await ask('/live', 'GET', { ...upgrade, ...headers })).status).toBe(401)
    expect((await ask('/live/pictures', 'GET', { ...upgrade, ...headers })).status).toBe(401)
    for (const route of Object.keys(ROUTE_RIGHTS)) {
      const [method, path] = route.split(' ') as [string, string]
      const asked = path.replace(/\{\w+\}/g, OWN_CAMERA)
      expect([
        route,
        (await ask(`/api${asked}`, method.toUpperCase(), { ...CHANGE, ...headers })).status,
      ]).toEqual([route, 401])
    }
  }
})

test('signing in: right it sets a cookie that no script reads, wrong it says so, too often it waits', async () => {
  const { ask, form, owner } = await setUp()
  await owner()
  const right = await form('/enter', { name: 'Wren', password: 'long enough' })
  expect(right.status).toBe(303)
  expect(right.headers.get('set-cookie')).toMatch(/HttpOnly.*SameSite=Strict/i)
  expect(await (await ask('/api/x', 'GET', { cookie: cookieOf(right) })).json()).toMatchObject({
    who: 'Wren',
  })
  const wrong = await form('/enter', { name: '<b>Wren', password: 'guess' })
  const text = await wrong.text()
  expect([wrong.status, text.includes('do not belong'), text.includes('<b>')]).toEqual([401, true, false])
  expect((await form('/enter', { name: 'Wren', password: 'long enough' }, {})).status).toBe(403)
  const evil = { origin: 'http://evil.example' }
  expect((await form('/enter', { name: 'Wren', password: 'long enough' }, evil)).status).toBe(403)
  for (let i = 0; i < 10; i++) await form('/enter', { name: 'Wren', password: `guess ${i}` })
  expect((await form('/enter', { name: 'Wren', password: 'long enough' })).status).toBe(429)
})

test('an invitation is looked at without being used, asks for a name, and lets in; a guessed one does not', async () => {
  const { ask, form, people, owner } = await setUp()
  await owner()
  const grant: Grant = { role: 'helper', reach: EVERYWHERE, events: {} }
  await people.invite({ name: 'For <tonight>', grant, endsAt: null, uses: 1 })
  const path = people.pathOf(people.all.invitations[0]!)
  for (let i = 0; i < 3; i++) {
    const shown = await ask(path)
    expect([shown.status, (await shown.text()).includes('For &lt;tonight&gt;')]).toEqual([200, true])
  }
  expect((await form(path, { name: '  ' })).status).toBe(400)
  const came = await form(path, { name: 'Robin' })
  expect(came.status).toBe(303)
  expect(await (await ask('/', 'GET', { cookie: cookieOf(came) })).json()).toMatchObject({ who: 'Robin' })
  expect((await form(path, { name: 'Late' })).status).toBe(404)
  expect((await ask('/join/guess')).status).toBe(404)
})

test('the first owner is made by the link alone, with a password that is long enough', async () => {
  const { form, people } = await setUp()
  const token = people.openOwnerLink()
  expect((await form('/owner/guess', { name: 'Wren', password: 'long enough' })).status).toBe(409)
  expect((await form(`/owner/${token}`, { name: 'Wren', password: 'short' })).status).toBe(400)
  expect((await form(`/owner/${token}`, { name: 'Wren', password: 'long enough' })).status).toBe(303)
  expect((await form(`/owner/${token}`, { name: 'Rook', password: 'long enough' })).status).toBe(409)
})

/** Who may use a route at all: o owner, p operator, h helper, v viewer. What is not here is for owners alone. */
const BY_ROLE: readonly [string, RegExp][] = [
  ['ophv', /^get \/(me|desk|health|tally|persons|show|openapi.json|pictures\/\{id\})$/],
  ['ophv', /^\w+ \/me\/passkeys/],
  ['ophv', /^get \/(surveys|room|presets\/grids)/],
  ['op', /^(delete|post|put) \/(surveys|room|presets\/grids)/],
  ['ophv', /^(delete \/me|put \/persons\/\{id\})$/],
  ['ophv', /^get \/(command-sets|head-profiles)\/schema$/],
  ['oph', /^post \/(stop-all|presets\/\{id\}\/recall)$/],
  [
    'oph',
    /^(get \/cameras\/\{id\}\/move|delete \/cameras\/\{id\}\/round|post \/cameras\/\{id\}\/round\/pause)$/,
  ],
  ['op', /^\w+ \/presets(\/\{id\}.*|\/order|\/grid|\/remove|\/copy|\/list|)$/],
  ['op', /^\w+ \/cameras\/\{id\}\/(habits|limits|check|mend-bump|round|recording)$/],
  ['op', /^post \/cameras\/power$/],
  ['op', /^\w+ \/(cues|tours|moves|starts|buttons|looks|desks|devices|match|check)(\/|$)/],
  ['op', /^\w+ \/show(\/|$)/],
  ['op', /^post \/tally\//],
]
const CODES: Record<Role, string> = { owner: 'o', operator: 'p', helper: 'h', viewer: 'v' }

test.each(['owner', 'operator', 'helper', 'viewer'] as const)('as %s: every route', async (role) => {
  const { ask, owner, signedIn } = await setUp()
  await owner()
  const everywhere = await signedIn('everywhere', { role, reach: EVERYWHERE, events: {} })
  const reach = { ...EVERYWHERE, cameras: [OWN_CAMERA] }
  const within = await signedIn('within', { role, reach, events: {} })
  const statusOf = async (route: string, id: string, headers: Record<string, string>) => {
    const [method, path] = route.split(' ') as [string, string]
    const asked = path.replace('{id}', id).replace(/\{\w+\}/g, 'x')
    const cameraId = id === OWN_PRESET ? OWN_CAMERA : id === OTHER_PRESET ? OTHER_CAMERA : id
    const body = { cameraId, ids: [id] }
    const json = { ...CHANGE, 'content-type': 'application/json' }
    const sent = method === 'get' ? undefined : JSON.stringify(body)
    return (await ask(`/api${asked}`, method.toUpperCase(), { ...json, ...headers }, sent)).status
  }
  for (const route of Object.keys(ROUTE_RIGHTS)) {
    const codes = BY_ROLE.find(([, pattern]) => pattern.test(route))?.[0] ?? 'o'
    const may = codes.includes(CODES[role]) ? 200 : 403
    const ofPreset = route.includes('/presets/{id}') || /presets\/(order|copy)/.test(route)
    const ofCamera = route.includes('/cameras/{id}') || route === 'post /presets'
    const [own, other] = ofPreset ? [OWN_PRESET, OTHER_PRESET] : [OWN_CAMERA, OTHER_CAMERA]
    expect([route, await statusOf(route, own, everywhere)]).toEqual([route, may])
    if (role === 'owner' || !(ofPreset || ofCamera)) continue
    // Within what they reach as before; beyond it nothing.
    const anyway = route.startsWith('get /presets/list') ? 403 : may
    const setup = codes === 'o'
    expect([route, await statusOf(route, own, within)]).toEqual([route, setup ? 403 : anyway])
    expect([route, await statusOf(route, other, within)]).toEqual([route, 403])
  }
})

test('presets are copied to a camera that is reached, and to no other', async () => {
  const { ask, owner, signedIn } = await setUp()
  await owner()
  const reach = { ...EVERYWHERE, cameras: [OWN_CAMERA] }
  const within = await signedIn('Robin', { role: 'operator', reach, events: {} })
  const copy = async (cameraId: string | null) => {
    const body = JSON.stringify({ ids: [OWN_PRESET], cameraId })
    const headers = { ...CHANGE, 'content-type': 'application/json', ...within }
    return (await ask('/api/presets/copy', 'POST', headers, body)).status
  }
  expect([await copy(OWN_CAMERA), await copy(null), await copy(OTHER_CAMERA)]).toEqual([200, 200, 403])
})

test('what is done and what is refused is written down, with who and why', async () => {
  const { ask, owner, signedIn, lines } = await setUp()
  await owner()
  const reach = { ...EVERYWHERE, cameras: [OWN_CAMERA] }
  const within = await signedIn('Robin', { role: 'operator', reach, events: {} })
  await ask(`/api/presets/${OWN_PRESET}`, 'DELETE', { ...CHANGE, ...within })
  await ask(`/api/presets/${OTHER_PRESET}`, 'DELETE', { ...CHANGE, ...within })
  expect(lines).toEqual([
    expect.objectContaining({
      person: 'Robin',
      camera: '1 Gallery',
      what: 'Removed a preset: Lectern',
      refused: null,
    }),
    expect.objectContaining({ person: 'Robin', refused: expect.stringMatching(/not one of yours/) }),
  ])
})

test('behind a proxy: its word on the sender counts as far as it is trusted, and the cookie is for a secure connection', async () => {
  const outside = outsideFrom({ PUBLIC_URL: 'https://desk.example', TRUST_PROXY: '1' })
  const { form, people, owner } = await setUp({ outside })
  await owner()
  const through = (sender: string, origin = 'https://desk.example') => ({ origin, 'x-forwarded-for': sender })
  const right = { name: 'Wren', password: 'long enough' }
  const came = await form('/enter', right, through('203.0.113.9'))
  expect([came.status, /Secure/.test(came.headers.get('set-cookie')!)]).toEqual([303, true])
  expect(people.all.sessions.at(-1)!.address).toBe('203.0.113.9')
  expect((await form('/enter', right, through('203.0.113.9', 'https://evil.example'))).status).toBe(403)
  // Whoever guesses cannot hide behind what they write into the header themselves.
  for (let i = 0; i < 10; i++)
    await form('/enter', { name: 'Wren', password: 'guess' }, through(`10.9.9.${i}, 203.0.113.7`))
  expect((await form('/enter', right, through('10.9.9.99, 203.0.113.7'))).status).toBe(429)
  expect((await form('/enter', right, through('203.0.113.9'))).status).toBe(303)
})

test('under a path of a name that others use too: forms, cookie and way back stay below it', async () => {
  const outside = outsideFrom({ PUBLIC_URL: 'https://hall.example/heron/', TRUST_PROXY: '1' })
  expect(outside.base).toBe('/heron')
  const { form, owner } = await setUp({ outside })
  await owner()
  const came = await form(
    '/enter',
    { name: 'Wren', password: 'long enough' },
    { origin: 'https://hall.example' },
  )
  expect(came.headers.get('location')).toBe('/heron/')
  expect(came.headers.get('set-cookie')).toMatch(/Path=\/heron;/)
  const wrong = await form('/enter', { name: 'Wren', password: 'guess' }, { origin: 'https://hall.example' })
  expect(await wrong.text()).toContain('action="/heron/enter"')
  // With it or without: proxies do either.
  expect(
    ['/heron', '/heron/api/me', '/api/me', '/heron?page=2', '/herons'].map((url) =>
      withoutBase(url, '/heron'),
    ),
  ).toEqual(['/', '/api/me', '/api/me', '/?page=2', '/herons'])
})

test('settings that make no sense are said in a sentence', () => {
  expect(outsideFrom({})).toEqual(DIRECT)
  for (const env of [
    { PUBLIC_URL: 'desk.example' },
    { PUBLIC_URL: 'ftp://desk.example' },
    { PUBLIC_URL: 'https://desk.example/he ron' },
    { PUBLIC_URL: 'https://desk.example/heron?x=1' },
    { TRUST_PROXY: 'yes' },
    { TRUST_PROXY: '-1' },
  ])
    expect(() => outsideFrom(env)).toThrow(/(PUBLIC_URL|TRUST_PROXY)=/)
})
