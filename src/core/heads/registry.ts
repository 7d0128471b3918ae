/** The head profiles that come with the application, by id. */
import * as v from 'valibot'
import marsh20 from './marsh-20x.json'
import { HeadProfile } from './profile'

const profiles = new Map([marsh20].map((data) => [data.id, v.parse(HeadProfile, data)]))

/** @throws RangeError where no profile has this id */
export function headProfile(id: string): HeadProfile {
  const profile = profiles.get(id)
  if (!profile) throw new RangeError(`no head profile called "${id}"`)
  return profile
}
