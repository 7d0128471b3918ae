/** Renews docs/schemas: `npm run schemas`. A test fails where they are out of date. */
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { commandSetSchema, headProfileSchema, venueSchema } from '../src/server/venues/schemas'

const folder = join(__dirname, '../docs/schemas')
writeFileSync(join(folder, 'venue.schema.json'), venueSchema())
writeFileSync(join(folder, 'command-set.schema.json'), commandSetSchema())
writeFileSync(join(folder, 'head-profile.schema.json'), headProfileSchema())
