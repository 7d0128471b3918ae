/** Which framing guides are drawn over the picture. Kept in this browser. */
import { create } from 'zustand'
import { persist } from 'zustand/middleware'

export const GUIDES = ['thirds', 'centre', 'safe', 'upright'] as const
export type Guide = (typeof GUIDES)[number]
export const GUIDE_WORDS: Record<Guide, string> = {
  thirds: 'Thirds',
  centre: 'Centre',
  safe: 'Safe area',
  upright: '9:16',
}

interface GuideState {
  shown: readonly Guide[]
  /** What was shown when all were last put away. */
  last: readonly Guide[]
}

const useGuideState = create<GuideState>()(
  persist((): GuideState => ({ shown: [], last: ['thirds'] }), { name: 'heron-guides' }),
)

const set = (shown: readonly Guide[]) =>
  useGuideState.setState(({ last }) => ({ shown, last: shown.length > 0 ? shown : last }))

export function toggleGuide(guide: Guide): void {
  const { shown } = useGuideState.getState()
  set(shown.includes(guide) ? shown.filter((g) => g !== guide) : [...shown, guide])
}

/** All away, or those of before back. */
export function toggleGuides(): void {
  const { shown, last } = useGuideState.getState()
  set(shown.length > 0 ? [] : last)
}

export const useGuides = (): readonly Guide[] => useGuideState((state) => state.shown)
