/** The head profiles that come with the application, by id. */
import * as v from 'valibot'
import common12 from './common-12x.json'
import common20 from './common-20x.json'
import common30 from './common-30x.json'
import marsh12 from './marsh-12x.json'
import marsh20 from './marsh-20x.json'
import mere18 from './mere-18x.json'
import { HeadProfile } from './profile'
import sedge10 from './sedge-10x.json'
import staithe30 from './staithe-30x.json'
import type { Version } from './version'

const files = [common12, common20, common30, marsh12, marsh20, sedge10, mere18, staithe30]
const profiles = new Map(files.map((data) => [data.id, v.parse(HeadProfile, data)]))

/** For a camera about which nothing else is known. */
export const DEFAULT_HEAD = 'common-20x'

/** All of them, in the order in which they are offered. */
export const HEAD_PROFILES: readonly HeadProfile[] = [...profiles.values()]

/** @throws RangeError if no profile that comes with the application has this id */
export function headProfile(id: string): HeadProfile {
  const profile = profiles.get(id)
  if (!profile) throw new RangeError(`no head profile called "${id}"`)
  return profile
}

/** The profile of the head that answers this version; one of the venue before one that comes with the application. */
export const profileAnswering = (version: Version, own: readonly HeadProfile[]): HeadProfile | null =>
  [...own, ...profiles.values()].find(
    ({ answers }) => answers?.maker === version.maker && answers.model === version.model,
  ) ?? null

/** Does it come with the application? */
export const isBuiltIn = (id: string): boolean => profiles.has(id)

/** The profile of this id, among those of the venue and those that come with the application; else the usual one. */
export const profileOf = (id: string, own: readonly HeadProfile[]): HeadProfile =>
  own.find((profile) => profile.id === id) ?? profiles.get(id) ?? headProfile(DEFAULT_HEAD)
