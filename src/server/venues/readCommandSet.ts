/** A command set out of its JSON. */
import * as v from 'valibot'
import { CommandSet } from '../../core/commands/commandSet'
import { FileRefused } from '../../core/formats/venueFile'

/** @throws FileRefused with the place and what is wrong there */
export function readCommandSet(text: string): CommandSet {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    throw new FileRefused('This is no JSON. A command set is a JSON file; see docs/command-sets.md.')
  }
  const parsed = v.safeParse(CommandSet, json)
  if (parsed.success) return parsed.output
  const [issue] = parsed.issues
  const where = v.getDotPath(issue)
  throw new FileRefused(where ? `At ${where}: ${issue.message}` : issue.message)
}
