/** The API on a real database: numbers, versions, undo, bad input. */
import type { Stored } from '../src/server/api'
import { apiOf } from './application'
import { type Running, startApplication, still } from './harness'

let running: Running
let cameraId: string

beforeAll(async () => {
  running = await startApplication()
  cameraId = (await desk()).cameras[0]!.id
  await still(running)
}, 60_000)
afterAll(() => running?.stop(), 20_000)

const { ask, desk, presetsOf } = apiOf(() => running)
const store = async (name?: string) =>
  (await (await ask('/presets', 'POST', { cameraId, name })).json()) as Stored
/** Of the gallery's camera alone. */
const mine = () => presetsOf('Gallery')
const preset = async (id: string) => (await mine()).find((p) => p.id === id)

test('many stores at once get numbers of their own', async () => {
  const all = await Promise.all(Array.from({ length: 8 }, () => store()))
  const numbers = all.map((s) => s.preset.number)
  expect(new Set(numbers).size).toBe(8)
  expect(Math.min(...numbers)).toBe(12)
  expect(all.every((s) => s.preset.pictureId && s.warning === null)).toBe(true)
})

test('a freed number is used again, and a restored preset then takes another', async () => {
  const third = (await mine()).find((p) => p.number === 3)!
  expect((await ask(`/presets/${third.id}`, 'DELETE')).status).toBe(200)
  expect((await ask(`/presets/${third.id}`, 'DELETE')).status).toBe(404)
  expect((await store('In its place')).preset.number).toBe(3)
  expect((await ask(`/presets/${third.id}/restore`, 'POST')).status).toBe(200)
  expect(await preset(third.id)).toMatchObject({ name: 'Curlews', number: 20 })
})

test('storing over keeps the former version, and going back brings pose and picture', async () => {
  const before = (await mine())[0]!
  const over = (await (await ask(`/presets/${before.id}/shot`, 'PUT')).json()) as Stored
  expect(over.formerVersion).toBe(before.version)
  expect(over.preset.pose!.panDeg).not.toBe(before.pose.panDeg)
  expect((await ask(`/presets/${before.id}/version`, 'PUT', { version: before.version })).status).toBe(200)
  expect(await preset(before.id)).toEqual(before)
  expect((await ask(`/presets/${before.id}/version`, 'PUT', { version: 99 })).status).toBe(404)
})

test('bad input is refused, and nothing is changed', async () => {
  const before = await desk()
  const id = before.presets[0]!.id
  for (const [path, method, body] of [
    ['/presets', 'POST', {}],
    ['/presets', 'POST', { cameraId, name: '   ' }],
    [`/presets/${id}`, 'PATCH', { name: 'x'.repeat(61) }],
    [`/presets/${id}`, 'PATCH', { name: 7 }],
    ['/presets/not-an-id', 'DELETE', undefined],
    ['/presets/%00', 'DELETE', undefined],
  ] as const) {
    expect((await ask(path, method, body)).status).toBe(400)
  }
  const absent = '00000000-0000-4000-8000-000000000000'
  expect((await ask(`/presets/${absent}`, 'PATCH', { name: 'x' })).status).toBe(404)
  expect((await ask(`/presets/${absent}/recall`, 'POST')).status).toBe(409)
  expect((await ask('/presets', 'POST', { cameraId: absent })).status).toBe(409)
  expect((await ask(`/pictures/${absent}`)).status).toBe(404)
  expect((await ask('/nothing')).status).toBe(404)
  expect((await ask(`/presets/${id}`, 'DELETE', undefined, { origin: 'http://evil.example' })).status).toBe(
    403,
  )
  expect(await desk()).toEqual(before)
})

test('a recall through the API moves the camera; a silent camera refuses a store in words', async () => {
  const target = (await mine()).find((p) => p.name === 'Scoreboard')!
  expect((await ask(`/presets/${target.id}/recall`, 'POST')).status).toBe(200)
  expect(Math.abs((await still(running)).panDeg - target.pose.panDeg)).toBeLessThan(0.1)
  await running.faults({ mute: true })
  const refused = await ask('/presets', 'POST', { cameraId })
  expect(refused.status).toBe(409)
  expect(((await refused.json()) as { error: string }).error).toMatch(/camera/)
  await running.faults({})
})

test('the API describes itself', async () => {
  const api = (await (await ask('/openapi.json')).json()) as {
    paths: Record<string, Record<string, unknown>>
  }
  const routes = Object.entries(api.paths).flatMap(([path, methods]) =>
    Object.keys(methods).map((m) => `${m} ${path}`),
  )
  expect(routes.sort()).toEqual([
    'delete /buttons/{id}',
    'delete /cameras/{id}',
    'delete /cameras/{id}/learnt',
    'delete /cameras/{id}/mend-bump',
    'delete /cameras/{id}/recording',
    'delete /cameras/{id}/round',
    'delete /command-sets/{id}',
    'delete /cues/{id}',
    'delete /demo',
    'delete /desks/{id}',
    'delete /devices/{id}',
    'delete /events/{id}',
    'delete /find/{id}',
    'delete /head-profiles/{id}',
    'delete /looks/{id}',
    'delete /me',
    'delete /me/passkeys/{id}',
    'delete /moves/{id}',
    'delete /people/accounts/{id}',
    'delete /people/invitations/{id}',
    'delete /people/sessions/{id}',
    'delete /persons/{id}',
    'delete /presets/{id}',
    'delete /remote-settings/keys/{id}',
    'delete /room/picture',
    'delete /starts/{id}',
    'delete /surveys/{id}',
    'delete /tours/{id}',
    'delete /venues/imports/{id}',
    'delete /venues/{id}',
    'get /buttons',
    'get /buttons/{id}/before',
    'get /cameras/{id}/learnt',
    'get /cameras/{id}/move',
    'get /cameras/{id}/report',
    'get /cameras/{id}/report/file',
    'get /check',
    'get /command-sets/{id}/file',
    'get /cues',
    'get /cues/{id}/before',
    'get /demo',
    'get /desk',
    'get /desks',
    'get /desks/{id}/before',
    'get /devices',
    'get /find/ways',
    'get /find/{id}',
    'get /head-profiles/{id}/file',
    'get /health',
    'get /journal',
    'get /journal/csv',
    'get /looks',
    'get /looks/csv',
    'get /looks/former',
    'get /looks/{id}/before',
    'get /me',
    'get /me/passkeys',
    'get /moves',
    'get /moves/{id}/before',
    'get /people',
    'get /persons',
    'get /pictures/{id}',
    'get /presets/grids',
    'get /presets/{id}/versions',
    'get /remote-settings',
    'get /room',
    'get /room/picture',
    'get /show',
    'get /starts',
    'get /starts/{id}/before',
    'get /surveys',
    'get /surveys/{id}/picture.png',
    'get /surveys/{id}/projection.json',
    'get /surveys/{id}/tiles/{level}/{column}/{row}',
    'get /tally',
    'get /tours',
    'get /tours/{id}/before',
    'get /venues/backups',
    'get /venues/{id}/file',
    'patch /cameras/{id}/habits',
    'patch /events/{id}',
    'patch /people/accounts/{id}',
    'patch /presets/{id}',
    'patch /venues/{id}',
    'post /buttons/order',
    'post /cameras',
    'post /cameras/number-by-address',
    'post /cameras/order',
    'post /cameras/power',
    'post /cameras/try',
    'post /cameras/{id}/check',
    'post /cameras/{id}/learnt/use',
    'post /cameras/{id}/limits',
    'post /cameras/{id}/mend-bump',
    'post /cameras/{id}/mend-head',
    'post /cameras/{id}/recording',
    'post /cameras/{id}/restore',
    'post /cameras/{id}/round',
    'post /cameras/{id}/round/pause',
    'post /command-sets',
    'post /cues/order',
    'post /cues/{id}/go',
    'post /cues/{id}/stop',
    'post /demo',
    'post /desks/order',
    'post /devices/try',
    'post /devices/{id}/messages/{message}',
    'post /events',
    'post /events/{id}/open',
    'post /find',
    'post /head-profiles',
    'post /looks/order',
    'post /looks/undo/{id}',
    'post /looks/{id}/compare',
    'post /looks/{id}/recall',
    'post /match',
    'post /me/passkeys',
    'post /me/passkeys/options',
    'post /moves/order',
    'post /moves/{id}/play',
    'post /moves/{id}/stop',
    'post /people/accounts',
    'post /people/invitations',
    'post /people/invitations/{id}/end',
    'post /persons',
    'post /presets',
    'post /presets/copy',
    'post /presets/grid',
    'post /presets/list',
    'post /presets/order',
    'post /presets/remove',
    'post /presets/{id}/recall',
    'post /presets/{id}/restore',
    'post /presets/{id}/retake',
    'post /remote-settings/keys',
    'post /remote/{path}',
    'post /show/go',
    'post /show/hold',
    'post /show/next',
    'post /show/seen',
    'post /starts/order',
    'post /stop-all',
    'post /surveys/{id}/presets',
    'post /tally/switcher/{action}',
    'post /tally/{number}',
    'post /tours/order',
    'post /tours/{id}/go',
    'post /tours/{id}/go-on',
    'post /tours/{id}/stop',
    'post /venues',
    'post /venues/backups',
    'post /venues/backups/look',
    'post /venues/imports/csv',
    'post /venues/imports/zip',
    'post /venues/imports/{id}',
    'post /venues/{id}/open',
    'put /buttons/{id}',
    'put /cameras/{id}',
    'put /cameras/{id}/recording',
    'put /cues/{id}',
    'put /desks/{id}',
    'put /devices/{id}',
    'put /journal/days',
    'put /looks/{id}',
    'put /moves/{id}',
    'put /persons/{id}',
    'put /presets/grids/{id}',
    'put /presets/{id}/light',
    'put /presets/{id}/memory',
    'put /presets/{id}/picture',
    'put /presets/{id}/shot',
    'put /presets/{id}/version',
    'put /remote-settings/osc',
    'put /room',
    'put /room/picture',
    'put /starts/{id}',
    'put /surveys/{id}/presets/{preset}',
    'put /tally/settings',
    'put /tours/{id}',
  ])
})
