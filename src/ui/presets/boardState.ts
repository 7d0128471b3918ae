/** How the boards are looked at: tiles across, folded sections. Kept in this browser. */
import { create } from 'zustand'
import { persist } from 'zustand/middleware'

export interface BoardState {
  /** 2 to 6. */
  across: number
  /** Folded sections, as "camera section". */
  folded: readonly string[]
  /** Stores keep exposure and white balance too. */
  withLight: boolean
  /** The program picture stands below the cameras of a wide Desk. */
  program: boolean
}

export const useBoardState = create<BoardState>()(
  persist((): BoardState => ({ across: 3, folded: [], withLight: false, program: true }), {
    name: 'heron-board',
  }),
)

export const boardState = useBoardState.getState

export function setWithLight(withLight: boolean): void {
  useBoardState.setState({ withLight })
}

export function setProgram(program: boolean): void {
  useBoardState.setState({ program })
}

export function setAcross(across: number): void {
  useBoardState.setState({ across: Math.min(6, Math.max(2, across)) })
}

export function toggleFold(section: string): void {
  useBoardState.setState(({ folded }) => ({
    folded: folded.includes(section) ? folded.filter((name) => name !== section) : [...folded, section],
  }))
}
