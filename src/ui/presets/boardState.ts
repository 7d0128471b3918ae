/** How the boards are looked at: tiles across, folded sections. Kept in this browser. */
import { useSyncExternalStore } from 'react'

export interface BoardState {
  /** 2 to 6. */
  across: number
  /** Folded sections, as "camera section". */
  folded: readonly string[]
  /** Stores keep exposure and white balance too. */
  withLight: boolean
}

const KEPT_AS = 'heron-board'
const USUAL: BoardState = { across: 3, folded: [], withLight: false }
let state: BoardState | null = null
const listeners = new Set<() => void>()

function current(): BoardState {
  if (state) return state
  try {
    const kept = JSON.parse(localStorage.getItem(KEPT_AS) ?? '{}') as Partial<BoardState>
    const across = Number(kept.across)
    state = {
      across: across >= 2 && across <= 6 ? Math.round(across) : USUAL.across,
      folded: Array.isArray(kept.folded) ? kept.folded.map(String) : [],
      withLight: kept.withLight === true,
    }
  } catch {
    state = USUAL
  }
  return state
}

function set(next: BoardState): void {
  state = next
  try {
    localStorage.setItem(KEPT_AS, JSON.stringify(next))
  } catch {
    // Without a store it lasts as long as the page.
  }
  for (const listener of listeners) listener()
}

export const boardState = current

export const setWithLight = (withLight: boolean): void => set({ ...current(), withLight })

export const setAcross = (across: number): void =>
  set({ ...current(), across: Math.min(6, Math.max(2, across)) })

export function toggleFold(section: string): void {
  const { folded } = current()
  set({
    ...current(),
    folded: folded.includes(section) ? folded.filter((name) => name !== section) : [...folded, section],
  })
}

export const useBoardState = (): BoardState =>
  useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }, current)
