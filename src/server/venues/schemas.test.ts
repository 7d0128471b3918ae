import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { commandSetSchema, headProfileSchema, venueSchema } from './schemas'

test('the published schemas are those that are made from the definitions (else: npm run schemas)', () => {
  const published = (name: string) => readFileSync(join(__dirname, '../../../docs/schemas', name), 'utf8')
  expect(JSON.parse(published('venue.schema.json'))).toEqual(JSON.parse(venueSchema()))
  expect(JSON.parse(published('command-set.schema.json'))).toEqual(JSON.parse(commandSetSchema()))
  expect(JSON.parse(published('head-profile.schema.json'))).toEqual(JSON.parse(headProfileSchema()))
})
