import { withoutParams } from './log'

test('a failed query is logged without what it was to store', () => {
  const error = Object.assign(
    new Error('Failed query: insert into "person" values ($1)\nparams: $argon2id$secret,\nWren'),
    {
      params: ['$argon2id$secret', 'Wren'],
    },
  )
  const logged = JSON.stringify(withoutParams(error))
  expect(logged).toContain('insert into')
  expect(logged).toContain('log.test')
  expect(logged).not.toMatch(/argon2id|Wren/)
  expect(withoutParams('text')).toBe('text')
})
