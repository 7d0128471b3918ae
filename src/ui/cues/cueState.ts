/** What this page has open of the cues, and what is being recorded into one. */
import { create } from 'zustand'

export const CUE_TABS = ['Order', 'Tours and moves', 'Board', 'Clock', 'Devices'] as const
export type CueTab = (typeof CUE_TABS)[number]

interface CueState {
  tab: CueTab
  /** The cue that is open; null: the next one. */
  cue: string | null
  /** What is done by hand becomes a step of this cue; `fromMs` is its start, on the page's clock. */
  taking: { cue: string; fromMs: number } | null
}

export const useCueState = create((): CueState => ({ tab: 'Order', cue: null, taking: null }))
export const setCueState = (change: Partial<CueState>): void => useCueState.setState(change)
