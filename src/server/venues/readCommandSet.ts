/** A command set, or a head profile, out of its JSON. */
import * as v from 'valibot'
import { CommandSet } from '../../core/commands/commandSet'
import { FileRefused } from '../../core/formats/venueFile'
import { type HeadProfile, HeadProfileFile } from '../../core/heads/profile'

/** @throws FileRefused with the place and what is wrong there */
function read<S extends v.GenericSchema>(text: string, schema: S, what: string): v.InferOutput<S> {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    throw new FileRefused(`This is no JSON. ${what}`)
  }
  const parsed = v.safeParse(schema, json)
  if (parsed.success) return parsed.output
  const [issue] = parsed.issues
  const where = v.getDotPath(issue)
  throw new FileRefused(where ? `At ${where}: ${issue.message}` : issue.message)
}

/** @throws FileRefused */
export const readCommandSet = (text: string): CommandSet =>
  read(text, CommandSet, 'A command set is a JSON file; see docs/command-sets.md.')

/** @throws FileRefused */
export function readHeadProfile(text: string): HeadProfile {
  const {
    format: _f,
    version: _v,
    ...profile
  } = read(text, HeadProfileFile, 'A head profile is a JSON file; see docs/head-profiles.md.')
  return profile
}
