/** What is known of a camera's tally, as a word and a colour; redrawn only when it changes. */
import type { TallyState } from '../../core/tally/sources'
import { useFactValue } from '../live/useFactValue'
import { TONES } from '../theme/tones'

export const useTally = (camera: string): TallyState =>
  useFactValue('tally', camera, (tally) => tally?.state ?? 'off')

/** Red and green are for these alone; what is not known is a fault, told by a word of its own. */
export const TALLY_LOOK = {
  program: { word: 'On air', colour: TONES.air, ink: '#FFFFFF', dashed: false },
  preview: { word: 'Preview', colour: TONES.preview, ink: TONES.ink, dashed: false },
  unknown: { word: 'On air?', colour: TONES.clay, ink: TONES.ink, dashed: true },
} as const

export const lookOf = (state: TallyState) => (state === 'off' ? null : TALLY_LOOK[state])

/** For a screen reader, after the camera's name. */
export const SPOKEN: Record<TallyState, string> = {
  program: ', on air',
  preview: ', on preview',
  unknown: ', not known whether on air',
  off: '',
}
