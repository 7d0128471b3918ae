/** All that a key or a button can do on the Desk, by name. */

export interface ActionInfo {
  label: string
  /** The key that does it unless another was chosen, as KeyboardEvent.key in lower case; '' for none. */
  key: string
  /** Acts for as long as it is held. */
  held?: true
}

export const ACTIONS = {
  driveLeft: { label: 'Drive left', key: 'arrowleft', held: true },
  driveRight: { label: 'Drive right', key: 'arrowright', held: true },
  driveUp: { label: 'Drive up', key: 'arrowup', held: true },
  driveDown: { label: 'Drive down', key: 'arrowdown', held: true },
  zoomIn: { label: 'Zoom in', key: 'pageup', held: true },
  zoomOut: { label: 'Zoom out', key: 'pagedown', held: true },
  focusNear: { label: 'Focus nearer', key: ',', held: true },
  focusFar: { label: 'Focus farther', key: '.', held: true },
  slow: { label: 'Slow while held', key: 'shift', held: true },
  fast: { label: 'Fast while held', key: 'control', held: true },
  nudgeLeft: { label: 'Nudge the picture left', key: 'j' },
  nudgeRight: { label: 'Nudge the picture right', key: 'l' },
  nudgeUp: { label: 'Nudge the picture up', key: 'i' },
  nudgeDown: { label: 'Nudge the picture down', key: 'k' },
  aim: { label: 'Aim', key: 'a' },
  frame: { label: 'Frame', key: 'b' },
  follow: { label: 'Follow hand', key: 'd' },
  focusPoint: { label: 'Focus on a point', key: 'p' },
  store: { label: 'Store', key: 's' },
  storeNumber: { label: 'Store under a number', key: 'm' },
  paceOnce: { label: 'Pace of the next recall', key: 'e' },
  autoFocus: { label: 'Auto focus on or off', key: 'f' },
  focusOnce: { label: 'Focus once', key: 'o' },
  home: { label: 'Home', key: 'h' },
  subject: { label: 'Follow a subject on or off', key: 't' },
  speedUp: { label: 'Overall speed up', key: '+' },
  speedDown: { label: 'Overall speed down', key: '-' },
  cameraNumber: { label: 'Choose a camera by its number', key: 'c' },
  cameraBefore: { label: 'Camera before', key: '[' },
  cameraAfter: { label: 'Camera after', key: ']' },
  findPreset: { label: 'Find a preset', key: '/' },
  pinned: { label: 'Pinned presets', key: 'n' },
  allPictures: { label: 'All pictures', key: 'g' },
  guides: { label: 'Framing guides', key: 'v' },
  preview: { label: 'Put the camera on preview', key: 'w' },
  // Without a key until one is chosen: nobody cuts by a slip.
  cut: { label: 'Cut to the camera', key: '' },
  go: { label: 'Go: start the next cue', key: 'q' },
  cueNext: { label: 'Choose the cue after', key: 'r' },
  cueBack: { label: 'Choose the cue before', key: 'y' },
  cueHold: { label: 'Hold the running order', key: 'u' },
  stopAll: { label: 'Stop all, softly', key: 'z' },
  takeOver: { label: 'Take the camera over', key: 'x' },
  keySheet: { label: 'This sheet of keys', key: '?' },
  // For the buttons of a stick; a keyboard has the digits.
  recall1: { label: 'Recall preset 1', key: '' },
  recall2: { label: 'Recall preset 2', key: '' },
  recall3: { label: 'Recall preset 3', key: '' },
  recall4: { label: 'Recall preset 4', key: '' },
  recall5: { label: 'Recall preset 5', key: '' },
  recall6: { label: 'Recall preset 6', key: '' },
  recall7: { label: 'Recall preset 7', key: '' },
  recall8: { label: 'Recall preset 8', key: '' },
  board1: { label: 'Board button 1', key: '' },
  board2: { label: 'Board button 2', key: '' },
  board3: { label: 'Board button 3', key: '' },
  board4: { label: 'Board button 4', key: '' },
  board5: { label: 'Board button 5', key: '' },
  board6: { label: 'Board button 6', key: '' },
  stop: { label: 'Let go of everything', key: 'escape' },
} as const satisfies Record<string, ActionInfo>

export type ActionName = keyof typeof ACTIONS
export const ACTION_NAMES = Object.keys(ACTIONS) as ActionName[]

export const isHeld = (name: ActionName): boolean => 'held' in ACTIONS[name]

/** Keys that mean something everywhere and cannot be given to an action. */
const FIXED = /^(\d|enter|tab|meta|alt)$/

export const canBind = (key: string): boolean => key !== '' && !FIXED.test(key)

/** @param own keys that were chosen instead of the usual ones; '' for none */
export function keyOf(name: ActionName, own: Partial<Record<ActionName, string>>): string {
  return own[name] ?? ACTIONS[name].key
}

export function actionOf(key: string, own: Partial<Record<ActionName, string>>): ActionName | null {
  return ACTION_NAMES.find((name) => keyOf(name, own) === key) ?? null
}

/** Actions that share a key with another, with that key. */
export function conflicts(own: Partial<Record<ActionName, string>>): Map<ActionName, ActionName[]> {
  const found = new Map<ActionName, ActionName[]>()
  for (const name of ACTION_NAMES) {
    const key = keyOf(name, own)
    const others = ACTION_NAMES.filter((other) => other !== name && key !== '' && keyOf(other, own) === key)
    if (others.length > 0) found.set(name, others)
  }
  return found
}

const KEY_WORDS: Record<string, string> = {
  arrowleft: '←',
  arrowright: '→',
  arrowup: '↑',
  arrowdown: '↓',
  pageup: 'Page up',
  pagedown: 'Page down',
  escape: 'Esc',
  ' ': 'Space',
  control: 'Ctrl',
}

/** A key as it is printed on a keyboard. */
export const keyWord = (key: string): string =>
  KEY_WORDS[key] ?? (key.length === 1 ? key.toUpperCase() : key.charAt(0).toUpperCase() + key.slice(1))
