/** A camera measures its own head and lens, step by step; what is learnt is kept after each step. */
import { type HeadLearnt, LEARN_STEPS, type LearnStep } from '../../core/learning/learnt'
import { CannotLearn, Learner } from './learner'
import { learnLens, learnZoom } from './learnOptics'
import { type Known, knownFrom, learnDriveSteps, learnEnds, learnRest, learnZoomSteps } from './learnSteps'
import type { RoundWork } from './roundWork'

/** How long each step takes about, s. */
const SECONDS: Record<LearnStep, number> = { ends: 50, lens: 45, zoom: 75, drives: 150, rest: 25 }
const WORDS: Record<LearnStep, string> = {
  ends: 'looking for its ends',
  lens: 'looking round for its angles',
  zoom: 'looking through its zoom',
  drives: 'timing its drive steps',
  rest: 'coming to rest at one place again and again',
}
const UNCOUNTED =
  'This camera does not report where its head and zoom stand as they count themselves, so there is nothing to measure.'

export async function learnRound(work: RoundWork, wanted: readonly LearnStep[]): Promise<void> {
  const { camera } = work.member
  const { profile } = camera
  if (!camera.pose?.encoder || camera.pose.zoom === null) return work.end(UNCOUNTED)
  const steps = LEARN_STEPS.filter((step) => wanted.includes(step))
  const total = steps.reduce((sum, step) => sum + SECONDS[step], 0)
  work.tell({ total })
  const learner = new Learner(work, profile)
  const start = learner.here
  const before = await work.store.learnt()
  const known: Known = knownFrom(profile, work.member, before?.profile === profile.id ? before : null)
  let [through, taken] = [0, 0]
  for (const step of steps) {
    if (!work.goesOn) return
    work.tell({ at: WORDS[step] })
    try {
      const found = await carryOut(step, learner, known, work)
      if (typeof found === 'string') work.trouble(found)
      else {
        taken += 1
        const learnt: HeadLearnt = {
          at: new Date(work.clock.wall()).toISOString(),
          profile: profile.id,
          pan: {},
          tilt: {},
          ...found,
        }
        await work.store.keepLearnt(learnt)
      }
      await learner.goTo(start)
    } catch (error) {
      if (!(error instanceof CannotLearn)) throw error
      // A hand, the guard or silence: nothing further would go better.
      return work.end(error.message)
    }
    through += SECONDS[step]
    work.tell({ through, taken })
  }
}

function carryOut(
  step: LearnStep,
  learner: Learner,
  known: Known,
  work: RoundWork,
): Promise<Partial<HeadLearnt> | string> {
  switch (step) {
    case 'ends':
      return learnEnds(learner, known)
    case 'lens':
      return learnLens(learner, known, work)
    case 'zoom':
      return learnZoom(learner, known, work)
    case 'drives':
      return learnDriveSteps(learner, known).then(async (found) => ({
        ...found,
        ...(await learnZoomSteps(learner, known)),
      }))
    case 'rest':
      return learnRest(learner, known, work)
  }
}
