/** The JSON Schemas of the open files, made from the definitions that check them. */
import { toJsonSchema } from '@valibot/to-json-schema'
import { CommandSet } from '../../core/commands/commandSet'
import { VenueShape } from '../../core/formats/venueFile'
import { HeadProfileFile } from '../../core/heads/profile'

const text = (schema: Parameters<typeof toJsonSchema>[0], title: string) => {
  // Checks between values cannot be said in a schema; the program makes them as well.
  const json = toJsonSchema(schema, { errorMode: 'ignore', typeMode: 'input' })
  return `${JSON.stringify({ title, ...json }, null, 2)}\n`
}

export const venueSchema = (): string => text(VenueShape, 'Steady Heron venue file: venue.json')
export const commandSetSchema = (): string => text(CommandSet, 'Steady Heron command set')
export const headProfileSchema = (): string => text(HeadProfileFile, 'Steady Heron head profile')
