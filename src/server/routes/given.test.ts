import { Hono } from 'hono'
import * as v from 'valibot'
import { bodyLimits, limitFor } from '../http/bodyLimits'
import { tellProblem } from '../http/problems'
import { given } from './given'

const Name = v.pipe(v.string(), v.maxLength(5, 'At most five letters.'))
const app = new Hono()
app.onError(tellProblem)
app.use(bodyLimits)
app.patch(
  '/x',
  given('json', v.partial(v.object({ name: Name, deep: v.object({ list: v.array(v.number()) }) })), {
    change: true,
  }),
  (c) => c.json(c.req.valid('json')),
)
const ask = async (body: string) => {
  const answer = await app.request('/x', {
    method: 'PATCH',
    body,
    headers: { 'content-type': 'application/json' },
  })
  return { status: answer.status, body: (await answer.json()) as Record<string, unknown> }
}

beforeAll(() => v.setGlobalConfig({ abortEarly: true }))
afterAll(() => v.deleteGlobalConfig())

test('what is right goes in; what is wrong is answered with a sentence and the place, and without the input', async () => {
  expect(await ask('{"name":"abc"}')).toEqual({ status: 200, body: { name: 'abc' } })
  expect(await ask('{"name":"secret word"}')).toEqual({
    status: 400,
    body: { error: 'At most five letters.', where: 'name' },
  })
  expect(await ask('{"deep":{"list":[1,"secret"]}}')).toEqual({
    status: 400,
    body: { error: 'This value is not right here: number is expected.', where: 'deep.list.1' },
  })
  expect(await ask('{"name":"a\\u0000"}')).toMatchObject({ status: 400, body: { where: 'json' } })
  expect(await ask('{"deep":{"list":[]},"name":"\\u0000"}')).toMatchObject({ status: 400 })
  expect(await ask('{}')).toMatchObject({
    status: 400,
    body: { error: expect.stringMatching(/at least one/) },
  })
  expect(await ask('{"name":')).toMatchObject({
    status: 400,
    body: { error: expect.stringMatching(/not valid JSON/) },
  })
  expect(await ask(`{"name":"${'x'.repeat(70_000)}"}`)).toMatchObject({
    status: 413,
    body: { error: expect.stringMatching(/64 kB/), where: 'body' },
  })
})

test('the longest answer is short, whatever is sent', async () => {
  const list = JSON.stringify({ deep: { list: Array.from({ length: 8000 }, () => 'secret!') } })
  const { status, body } = await ask(list.slice(0, 60_000).replace(/,[^,]*$/, ']}}'))
  expect(status).toBe(400)
  expect(JSON.stringify(body).length).toBeLessThan(200)
  expect(JSON.stringify(body)).not.toContain('secret')
})

test('only the routes that take files take more', () => {
  expect(limitFor('/api/desk')).toBe(64 * 1024)
  expect(limitFor('/access')).toBe(4 * 1024)
  expect(limitFor('/api/presets/1/picture')).toBe(20 * 1024 * 1024)
  expect(limitFor('/api/presets/1/picture/x')).toBe(64 * 1024)
  expect(limitFor('/api/venues/imports/zip')).toBe(200 * 1024 * 1024)
})
