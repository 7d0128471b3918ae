/** Work that would hold the loop, and the dead-man with it: it is done on threads of its own. */
import { camerasFromCsv } from '../../core/formats/cameraCsv'
import { presetsFromText } from '../../core/formats/presetList'
import { readCommandSet } from '../venues/readCommandSet'
import { cutPicture, presetPicture } from './pictures'
import { presetListFile } from './presetLists'
import { applyVenue, exportVenueFile, lookAtVenue } from './venueFiles'

/** By name; each takes one argument and returns what can be copied between threads. */
export const JOBS = {
  presetPicture,
  cutPicture,
  camerasFromCsv,
  presetsFromText,
  presetListFile,
  readCommandSet,
  lookAtVenue,
  applyVenue,
  exportVenueFile,
}

export type JobName = keyof typeof JOBS
export type JobArg<K extends JobName> = Parameters<(typeof JOBS)[K]>[0]
export type JobResult<K extends JobName> = Awaited<ReturnType<(typeof JOBS)[K]>>

/** What runs them. */
export interface Jobs {
  /** @throws FileRefused where the file is, and where it takes too long or too much memory */
  run<K extends JobName>(name: K, arg: JobArg<K>): Promise<JobResult<K>>
  close(): Promise<void>
}

/** In this thread, for tests. */
export const DIRECT_JOBS: Jobs = {
  run: async (name, arg) => (JOBS[name] as (a: typeof arg) => never)(arg),
  close: async () => {},
}
