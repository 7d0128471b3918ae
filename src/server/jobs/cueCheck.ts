/** The check of all cues: some hundred milliseconds of planning for a long evening. */
import { type CheckLive, checkShow, type Finding } from '../../core/cues/check'
import type { CueState } from '../../core/cues/predict'
import { type WorldSource, worldFrom } from '../../core/cues/worldFrom'

export interface CueCheckJob {
  source: WorldSource
  state: CueState
  live: CheckLive
  fadeSeconds: number
}

export const checkCues = ({ source, state, live, fadeSeconds }: CueCheckJob): Finding[] => [
  ...checkShow(worldFrom(source), source.show.cues, state, live, { fadeSeconds }).findings,
]
