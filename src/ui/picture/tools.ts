/** What a touch on the live picture does. */

export const TOOLS = ['store', 'follow', 'aim', 'frame', 'focusPoint', 'nudge'] as const
export type Tool = (typeof TOOLS)[number]

interface ToolWords {
  label: string
  /** What to do with the picture, in a few words. */
  how: string
}

export const TOOL_WORDS: Record<Tool, ToolWords> = {
  store: { label: 'Drag to store', how: '' },
  follow: { label: 'Follow hand', how: 'Drag the picture' },
  aim: { label: 'Aim', how: 'Touch what is to be in the middle' },
  frame: { label: 'Frame', how: 'Draw a box around it' },
  focusPoint: { label: 'Focus point', how: 'Touch what is to be sharp' },
  nudge: { label: 'Nudge', how: 'Touch the side to which the picture is to move' },
}

/** How long an aim or a frame takes: null is as fast as it can. */
export const PACES: readonly (number | null)[] = [null, 2, 4, 8]
export const paceWords = (seconds: number | null): string => (seconds === null ? 'quick' : `${seconds} s`)
