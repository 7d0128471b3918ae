/**
 * Who sits at this page and how they drive, at hand for input that cannot wait; kept on the server. What
 * changes is sent a moment later, so that a slider does not send each of its steps.
 */
import { create } from 'zustand'
import { type Controls, type Feel, feelFor, USUAL_CONTROLS } from '../../core/controls/controls'
import type { PersonView } from '../../server/api'
import { putControls, readPersons } from '../api/client'
import { fault } from '../basics/notes'
import { live } from '../live/live'

const KEPT_AS = 'heron-person'
const SAVE_AFTER_MS = 500

interface State {
  persons: readonly PersonView[]
  person: PersonView | null
  controls: Controls
}

const store = create((): State => ({ persons: [], person: null, controls: USUAL_CONTROLS }))
const set = (next: Partial<State>) => store.setState(next)
let saving: ReturnType<typeof setTimeout> | null = null
let unsaved = false
let loading: Promise<void> | null = null

function keptId(): string | null {
  try {
    return localStorage.getItem(KEPT_AS)
  } catch {
    return null
  }
}

/** Reads everybody from the server; whoever sat here last sits here again. */
export function loadPersons(): Promise<void> {
  loading ??= readPersons()
    .then((persons) => {
      const person =
        persons.find((p) => p.id === (store.getState().person?.id ?? keptId())) ?? persons[0] ?? null
      // What was changed here and not yet sent is newer.
      set({
        persons,
        person,
        controls: unsaved ? store.getState().controls : (person?.controls ?? USUAL_CONTROLS),
      })
      if (person) live().introduce(person.name)
    })
    .catch((error: Error) => fault(error.message))
    .finally(() => {
      loading = null
    })
  return loading
}

export async function choosePerson(id: string): Promise<void> {
  await save()
  try {
    localStorage.setItem(KEPT_AS, id)
  } catch {
    // Without a store the choice lasts as long as the page.
  }
  const person = store.getState().persons.find((p) => p.id === id) ?? null
  if (person) set({ person, controls: person.controls })
  await loadPersons()
}

async function save(): Promise<void> {
  if (saving) clearTimeout(saving)
  saving = null
  const { person, controls } = store.getState()
  if (!unsaved || !person) return
  unsaved = false
  try {
    await putControls(person.id, controls)
    const persons = store.getState().persons.map((p) => (p.id === person.id ? { ...p, controls } : p))
    set({ persons })
  } catch (error) {
    unsaved = true
    fault(`Your controls are not kept yet: ${(error as Error).message}`)
  }
}

export function changeControls(change: (controls: Controls) => Controls): void {
  set({ controls: change(store.getState().controls) })
  unsaved = true
  if (saving) clearTimeout(saving)
  saving = setTimeout(() => void save(), SAVE_AFTER_MS)
}

/** A camera is driven with a feel of its own from now on. */
export function changeFeel(camera: string, change: Partial<Feel>): void {
  changeControls((c) => ({
    ...c,
    byCamera: { ...c.byCamera, [camera]: { ...feelFor(c, camera), ...change } },
  }))
}

export const controlsNow = (): Controls => store.getState().controls

export const useControls = (): Controls => store((state) => state.controls)
export const usePersons = (): State => store()
