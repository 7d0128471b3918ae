/** Which camera the Desk works with, and which others are driven along with it. Kept for this tab. */
import { useSyncExternalStore } from 'react'

export interface Selection {
  /** Null: the first of the list. */
  primary: string | null
  /** Driven along, without the primary. */
  also: readonly string[]
}

const KEPT_AS = 'heron-selection'

function kept(): Selection {
  try {
    const text = sessionStorage.getItem(KEPT_AS)
    const value = text ? (JSON.parse(text) as Selection) : null
    if (value && Array.isArray(value.also)) return value
  } catch {
    // Without a store the selection lasts as long as the page.
  }
  return { primary: null, also: [] }
}

let selection: Selection | null = null
const listeners = new Set<() => void>()

const current = (): Selection => {
  selection ??= kept()
  return selection
}

function set(next: Selection): void {
  selection = next
  try {
    sessionStorage.setItem(KEPT_AS, JSON.stringify(next))
  } catch {
    // As above.
  }
  for (const listener of listeners) listener()
}

/** This camera alone. */
export function selectCamera(id: string): void {
  set({ primary: id, also: [] })
}

/** Takes a camera in with those that are driven, or out of them. */
export function toggleCamera(id: string, primary: string): void {
  const { also } = current()
  if (id === primary) {
    if (also.length > 0) set({ primary: also[0]!, also: also.slice(1) })
    return
  }
  set({ primary, also: also.includes(id) ? also.filter((other) => other !== id) : [...also, id] })
}

export function useSelection(): Selection {
  return useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }, current)
}
