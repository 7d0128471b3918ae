/** Short notes to the operator, with what can be done about them. Newest first; each goes by itself. */
import { create } from 'zustand'

export interface Note {
  id: number
  text: string
  tone: 'plain' | 'fault'
  actions: { label: string; act(): void }[]
}

const STAYS_MS = { plain: 8000, fault: 9000 }
const MOST = 3

let nextId = 1
const useNoteState = create((): { notes: readonly Note[] } => ({ notes: [] }))

export const dismiss = (id: number): void =>
  useNoteState.setState(({ notes }) => ({ notes: notes.filter((n) => n.id !== id) }))

export function note(text: string, options: { tone?: Note['tone']; actions?: Note['actions'] } = {}): void {
  const fresh: Note = { id: nextId++, text, tone: options.tone ?? 'plain', actions: options.actions ?? [] }
  // The same words again only renew the note.
  useNoteState.setState(({ notes }) => ({
    notes: [fresh, ...notes.filter((n) => n.text !== text)].slice(0, MOST),
  }))
  setTimeout(() => dismiss(fresh.id), STAYS_MS[fresh.tone])
}

export const fault = (text: string) => note(text, { tone: 'fault' })

export const useNotes = (): readonly Note[] => useNoteState((state) => state.notes)
