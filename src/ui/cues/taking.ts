/** "Record what I do": recalls and cuts that are made by hand become steps of a cue. */

import { mutate } from 'swr'
import type { StepDoes } from '../../core/cues/show'
import type { DeskView } from '../../server/api'
import { readDesk } from '../api/client'
import { fault, note } from '../basics/notes'
import { setCueState, useCueState } from './cueState'
import { addStep } from './edit'

export function startTaking(cue: string): void {
  setCueState({ taking: { cue, fromMs: performance.now() } })
}

export function endTaking(): void {
  setCueState({ taking: null })
}

/** One after the other, so that none is lost where two come at once. */
let writing: Promise<void> = Promise.resolve()

/** Something was done by hand on this page. */
export function did(does: StepDoes): void {
  const { taking } = useCueState.getState()
  if (!taking) return
  const seconds = Math.round((performance.now() - taking.fromMs) / 100) / 10
  const keep = async () => {
    const desk = (await mutate('desk', readDesk())) as DeskView | undefined
    const cue = desk?.show.cues.find(({ id }) => id === taking.cue)
    if (!cue) return endTaking()
    if (await addStep(cue, seconds, does)) note(`Step at ${seconds.toFixed(1)} s of “${cue.name}”.`)
    await mutate('desk')
  }
  writing = writing
    .then(keep)
    .catch(() => fault('What you just did did not become a step: the server does not answer.'))
}
