/** Which framing guides are drawn over the picture. Kept in this browser. */
import { useSyncExternalStore } from 'react'

export const GUIDES = ['thirds', 'centre', 'safe', 'upright'] as const
export type Guide = (typeof GUIDES)[number]
export const GUIDE_WORDS: Record<Guide, string> = {
  thirds: 'Thirds',
  centre: 'Centre',
  safe: 'Safe area',
  upright: '9:16',
}

const KEPT_AS = 'heron-guides'
let shown: readonly Guide[] | null = null
/** What was shown when all were last put away. */
let last: readonly Guide[] = ['thirds']
const listeners = new Set<() => void>()

function current(): readonly Guide[] {
  if (shown) return shown
  try {
    const kept = JSON.parse(localStorage.getItem(KEPT_AS) ?? '[]') as unknown
    shown = GUIDES.filter((g) => Array.isArray(kept) && kept.includes(g))
  } catch {
    shown = []
  }
  return shown
}

function set(next: readonly Guide[]): void {
  if (next.length > 0) last = next
  shown = next
  try {
    localStorage.setItem(KEPT_AS, JSON.stringify(next))
  } catch {
    // Without a store they last as long as the page.
  }
  for (const listener of listeners) listener()
}

export const toggleGuide = (guide: Guide): void =>
  set(current().includes(guide) ? current().filter((g) => g !== guide) : [...current(), guide])

/** All away, or those of before back. */
export const toggleGuides = (): void => set(current().length > 0 ? [] : last)

export const useGuides = (): readonly Guide[] =>
  useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }, current)
