/** The threads on which jobs run: one for pictures, one for files, so that neither waits for the other. */
import { join } from 'node:path'
import { Piscina } from 'piscina'
import { FileRefused } from '../../core/formats/venueFile'
import type { JobName, Jobs } from './jobs'

interface Limits {
  pool: 'pictures' | 'files' | 'surveys'
  timeMs: number
}

const PICTURE: Limits = { pool: 'pictures', timeMs: 4000 }
const TEXT: Limits = { pool: 'files', timeMs: 10_000 }
const SURVEY: Limits = { pool: 'surveys', timeMs: 240_000 }
const VENUE: Limits = { pool: 'files', timeMs: 180_000 }

const LIMITS: Record<JobName, Limits> = {
  presetPicture: PICTURE,
  cutPicture: PICTURE,
  halfPicture: PICTURE,
  measurePatches: PICTURE,
  stitchSurvey: SURVEY,
  redrawSurvey: SURVEY,
  surveyPng: { pool: 'surveys', timeMs: 60_000 },
  surveyView: { pool: 'surveys', timeMs: 20_000 },
  learnFromPictures: SURVEY,
  bumpFromPictures: SURVEY,
  matchPictures: SURVEY,
  shiftBetween: PICTURE,
  planPicture: PICTURE,
  roomOf: { pool: 'files', timeMs: 30_000 },
  presetListFile: TEXT,
  takePresetList: VENUE,
  readCommandSet: TEXT,
  readHeadProfile: TEXT,
  checkCues: TEXT,
  lookAtVenue: VENUE,
  applyVenue: VENUE,
  exportVenueFile: VENUE,
}

const MEMORY_MB = { pictures: 128, files: 1024, surveys: 1024 }
const MOST_WAITING = 64

const TOO_LONG = 'This takes far too long to read, so it was not opened.'
const TOO_LARGE = 'This needs far too much memory, so it was not opened.'
const BUSY = 'Too much is being read at once. Try again in a moment.'

export function createJobs(file = join(__dirname, 'jobs.cjs')): Jobs {
  const pool = (name: Limits['pool']) =>
    new Piscina({
      filename: file,
      // There from the start: starting a thread blocks the loop for a moment.
      minThreads: 1,
      maxThreads: 1,
      maxQueue: MOST_WAITING,
      resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB[name] },
    })
  const pools = { pictures: pool('pictures'), files: pool('files'), surveys: pool('surveys') }
  return {
    async run(name, arg, given) {
      const { pool: where, timeMs } = LIMITS[name]
      const over = new AbortController()
      const timer = setTimeout(() => over.abort(), timeMs)
      try {
        const answer = await pools[where].run(
          { name, arg },
          { signal: over.signal, transferList: given ? [given] : [] },
        )
        if ('refused' in answer) throw new FileRefused(answer.refused)
        return answer.value
      } catch (error) {
        if (over.signal.aborted) throw new FileRefused(TOO_LONG)
        const { code, message } = error as NodeJS.ErrnoException
        if (code === 'ERR_WORKER_OUT_OF_MEMORY') throw new FileRefused(TOO_LARGE)
        if (/queue is at limit/i.test(message)) throw new FileRefused(BUSY)
        throw error
      } finally {
        clearTimeout(timer)
      }
    },
    async close() {
      await Promise.all(Object.values(pools).map((p) => p.destroy()))
    },
  }
}
