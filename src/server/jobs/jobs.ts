/** Work that would block the loop, and the dead-man with it, is done on threads of its own. */

import { readCommandSet, readHeadProfile } from '../venues/readCommandSet'
import { bumpFromPictures } from './bump'
import { checkCues } from './cueCheck'
import { learnFromPictures } from './learnTurning'
import { matchPictures } from './matches'
import { measurePatches } from './patches'
import { cutPicture, halfPicture, planPicture, presetPicture, shiftBetween } from './pictures'
import { presetListFile, takePresetList } from './presetLists'
import { roomOf } from './room'
import { redrawSurvey, stitchSurvey, surveyPng, surveyView } from './surveys'
import { applyVenue, exportVenueFile, lookAtVenue } from './venueFiles'

/** By name; each takes one argument and returns what can be copied between threads. */
export const JOBS = {
  presetPicture,
  cutPicture,
  halfPicture,
  shiftBetween,
  presetListFile,
  takePresetList,
  readCommandSet,
  readHeadProfile,
  checkCues,
  measurePatches,
  stitchSurvey,
  redrawSurvey,
  surveyPng,
  surveyView,
  learnFromPictures,
  bumpFromPictures,
  matchPictures,
  planPicture,
  roomOf,
  lookAtVenue,
  applyVenue,
  exportVenueFile,
}

export type JobName = keyof typeof JOBS
export type JobArg<K extends JobName> = Parameters<(typeof JOBS)[K]>[0]
export type JobResult<K extends JobName> = Awaited<ReturnType<(typeof JOBS)[K]>>

/** What runs them. */
export interface Jobs {
  /**
   * @param given is handed over instead of copied: it is empty here afterwards
   * @throws FileRefused if the file is, and where it takes too long or too much memory
   */
  run<K extends JobName>(name: K, arg: JobArg<K>, given?: ArrayBuffer): Promise<JobResult<K>>
  close(): Promise<void>
}
