/** Short notes to the operator, with what can be done about them. Newest first; each goes by itself. */
import { useSyncExternalStore } from 'react'

export interface Note {
  id: number
  text: string
  tone: 'plain' | 'fault'
  actions: { label: string; act(): void }[]
}

const STAYS_MS = { plain: 8000, fault: 9000 }
const MOST = 3

let notes: readonly Note[] = []
let nextId = 1
const listeners = new Set<() => void>()

function set(next: readonly Note[]): void {
  notes = next
  for (const listener of listeners) listener()
}

export function dismiss(id: number): void {
  set(notes.filter((n) => n.id !== id))
}

export function note(text: string, options: { tone?: Note['tone']; actions?: Note['actions'] } = {}): void {
  const fresh: Note = { id: nextId++, text, tone: options.tone ?? 'plain', actions: options.actions ?? [] }
  // The same words again only renew the note.
  set([fresh, ...notes.filter((n) => n.text !== text)].slice(0, MOST))
  setTimeout(() => dismiss(fresh.id), STAYS_MS[fresh.tone])
}

export const fault = (text: string) => note(text, { tone: 'fault' })

export function useNotes(): readonly Note[] {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => notes,
  )
}
