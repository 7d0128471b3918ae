/** What the on-air guard asks before it lets something happen. */
import { create } from 'zustand'

export interface Asked {
  text: string
  act(): void
}

const STAYS_MS = 8000
const useAskedState = create((): { asked: Asked | null } => ({ asked: null }))
let timer: ReturnType<typeof setTimeout> | null = null

export function ask(asked: Asked | null): void {
  if (timer) clearTimeout(timer)
  // An old question must not be answered by a late thumb.
  timer = asked && setTimeout(() => useAskedState.setState({ asked: null }), STAYS_MS)
  useAskedState.setState({ asked })
}

export const useAsked = (): Asked | null => useAskedState((state) => state.asked)
