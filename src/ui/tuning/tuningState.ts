/** What the Picture place shows, and how several cameras are turned together. Kept in this browser. */
import { create } from 'zustand'
import { persist } from 'zustand/middleware'
import type { Along } from '../../core/picture/along'
import type { Mark, Scope } from '../../core/picture/scopes'

export const TABS = ['Exposure', 'White', 'Detail', 'Image', 'Looks'] as const
export type Tab = (typeof TABS)[number]

interface TuningState {
  tab: Tab
  scopes: readonly [Scope, Scope]
  mark: Mark | null
  along: Along
  /** By camera: the settings that stand on the Desk. */
  pinned: Readonly<Record<string, readonly string[]>>
}

export const useTuning = create<TuningState>()(
  persist(
    (): TuningState => ({
      tab: 'Exposure',
      scopes: ['waveform', 'vectorscope'],
      mark: null,
      along: 'same',
      pinned: {},
    }),
    { name: 'heron-picture' },
  ),
)

export const setTuning = (change: Partial<TuningState>): void => {
  useTuning.setState(change)
}

/** Unless others were chosen, the two that are used most. */
const USUAL: readonly string[] = ['iris', 'gain']
const MOST = 4

export const pinnedOf = (state: TuningState, camera: string): readonly string[] =>
  state.pinned[camera] ?? USUAL

export function togglePin(camera: string, key: string): void {
  useTuning.setState((state) => {
    const now = pinnedOf(state, camera)
    const next = now.includes(key) ? now.filter((k) => k !== key) : [...now, key].slice(-MOST)
    return { pinned: { ...state.pinned, [camera]: next } }
  })
}
