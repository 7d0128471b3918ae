/** Which camera the Desk works with, and which others are driven along with it. Kept for this tab. */
import { create } from 'zustand'
import { createJSONStorage, persist } from 'zustand/middleware'

export interface Selection {
  /** Null: the first of the list. */
  primary: string | null
  /** Driven along, without the primary. */
  also: readonly string[]
}

export const useSelection = create<Selection>()(
  persist((): Selection => ({ primary: null, also: [] }), {
    name: 'heron-selection',
    storage: createJSONStorage(() => sessionStorage),
  }),
)

/** This camera alone. */
export function selectCamera(id: string): void {
  useSelection.setState({ primary: id, also: [] })
}

/** Takes a camera in with those that are driven, or out of them. */
export function toggleCamera(id: string, primary: string): void {
  const { also } = useSelection.getState()
  if (id === primary) {
    if (also.length > 0) useSelection.setState({ primary: also[0]!, also: also.slice(1) })
    return
  }
  const others = also.includes(id) ? also.filter((other) => other !== id) : [...also, id]
  useSelection.setState({ primary, also: others })
}
