/** What a round reads and keeps: the presets of one camera in the open event. */

import type { BumpFound } from '../../core/bump/bump'
import { type HeadLearnt, together } from '../../core/learning/learnt'
import type { Sight } from '../../core/optics/sight'
import type { View } from '../../core/optics/sphere'
import { aimed } from '../../core/presets/pose'
import type { PresetView } from '../../core/presets/preset'
import type { SurveyMap } from '../../core/survey/map'
import { stillSeen } from '../../core/survey/renewed'
import type { Member } from '../fleet'
import type { LookedAgain } from '../jobs/bump'
import type { Jobs } from '../jobs/jobs'
import type { FromPictures, LearnFrom } from '../jobs/learnTurning'
import type { Matched, MatchOrder } from '../jobs/matches'
import type { TakenPicture } from '../jobs/surveys'
import type { Catalogue, Changed } from '../store/catalogue'
import type { Database } from '../store/database'
import { keepHeadLearnt, readHeadLearnt } from '../store/learnt'
import { addPreset, readPicture } from '../store/presets'
import { keepSurvey, readSurveys, surveyOf } from '../store/surveys'
import { overwritePreset, type Shot } from '../store/versions'
import { retake } from './retake'

export interface RoundStore {
  /** Is the event still the open one in which the round began? */
  readonly open: boolean
  /** In their order. */
  presets(): readonly PresetView[]
  /** Takes a preset's picture again. @returns what prevents it, in a sentence; null when it is done */
  renewPicture(preset: PresetView): Promise<string | null>
  /** Keeps what one of the camera's own memories looks at: as a new preset, or over the one of that memory. */
  takeIn(memory: number, shot: Shot): Promise<void>
  /** Reads what pictures tell of the head. */
  fromPictures(order: LearnFrom): Promise<FromPictures>
  matches(order: MatchOrder): Promise<Matched[]>
  /** How far the mount was turned; null where too little is recognised. */
  bumpOf(looked: LookedAgain[]): Promise<BumpFound | null>
  /** Keeps what the camera has learnt of itself, over what is known. */
  keepLearnt(learnt: HeadLearnt): Promise<void>
  learnt(): Promise<HeadLearnt | null>
  /** Pictures of then and how they were taken: the survey's, or the presets' own. */
  formerLooks(sight: Sight): Promise<{ view: View; jpeg: Uint8Array }[]>
  /** Is there a survey of this camera already? */
  surveyed(): Promise<boolean>
  /**
   * Puts the pictures of a survey together and keeps them.
   * @param map null: they renew a part of the one that there is
   * @returns what prevents it, in a sentence
   */
  keepSurvey(pictures: TakenPicture[], map: SurveyMap | null): Promise<string | null>
}

export const NO_SURVEY = 'There is no survey yet of which a part could be renewed. Survey all of it first.'

export interface RoundStoreDeps {
  db: Database
  catalogue: Catalogue
  jobs: Pick<Jobs, 'run'>
  /** Stored data changed. */
  changed(what?: Changed): Promise<void>
}

export function roundStore({ db, catalogue, jobs, changed }: RoundStoreDeps, member: Member): RoundStore {
  const cameraId = member.row.id
  const eventId = catalogue.current?.view.event.id
  const presets = () => (catalogue.current?.view.presets ?? []).filter((p) => p.cameraId === cameraId)
  return {
    get open() {
      return catalogue.current?.view.event.id === eventId
    },
    presets,
    async renewPicture(preset) {
      const hindrance = await retake(db, member, preset)
      if (hindrance === null) await changed({ presets: [preset.id] })
      return hindrance
    },
    async takeIn(memory, shot) {
      const known = presets().find((p) => p.memory === memory)
      const name = `Memory ${memory}`
      if (known) await overwritePreset(db, known.id, shot)
      const added =
        known || !eventId
          ? known
          : await addPreset(db, { eventId, cameraId, name, number: memory, memory, shot })
      if (added) await changed({ presets: [added.id] })
    },
    fromPictures: (order) => jobs.run('learnFromPictures', order),
    matches: (order) => jobs.run('matchPictures', order),
    bumpOf: (looked) => jobs.run('bumpFromPictures', looked),
    async keepLearnt(learnt) {
      await keepHeadLearnt(db, cameraId, together(await readHeadLearnt(db, cameraId), learnt))
    },
    learnt: () => readHeadLearnt(db, cameraId),
    async formerLooks(sight) {
      const survey = eventId ? await surveyOf(db, eventId, cameraId) : null
      if (survey) return survey.shots
      const out: { view: View; jpeg: Uint8Array }[] = []
      for (const { pose, pictureId, surveyed } of presets()) {
        const at = aimed(pose)
        const jpeg = at && pictureId && !surveyed ? await readPicture(db, pictureId) : null
        if (at && jpeg) out.push({ view: sight.view(at), jpeg })
      }
      return out
    },
    async surveyed() {
      const all = eventId ? await readSurveys(db, eventId) : []
      return all.some((one) => one.cameraId === cameraId)
    },
    async keepSurvey(taken, whole) {
      if (!eventId) return 'No event is open.'
      const former = whole ? null : await surveyOf(db, eventId, cameraId)
      const map = whole ?? former?.about.map
      if (!map) return NO_SURVEY
      const pictures = former ? [...taken, ...stillSeen(former.shots, taken)] : taken
      const made = await jobs.run('stitchSurvey', { pictures, map })
      if (!made) return 'The pictures could not be read.'
      const { tiles, levels, seams, shots } = made
      await keepSurvey(db, {
        ...{ eventId, cameraId, takenAt: new Date(), tiles },
        about: { map, levels, seams, pictures: shots.length },
        shots: shots.map(({ of, view, gain }) => {
          const { jpeg, age = 0 } = pictures[of]!
          return { view, gain, age, jpeg }
        }),
      })
      return null
    },
  }
}
