/** Changes what an event is run by, so that each change can be undone. */
import { create } from 'zustand'
import type { Cue, CueView, Part, PartData, PartKind, Step, StepDoes } from '../../core/cues/show'
import { SHOW_PARTS } from '../../core/cues/show'
import { deletePart, putPart } from '../api/client'
import { note } from '../basics/notes'
import { told } from '../basics/told'

interface Undo {
  what: string
  act(): Promise<unknown>
}
const MOST_UNDO = 100
const useUndoState = create((): { undo: readonly Undo[] } => ({ undo: [] }))
const push = (one: Undo) => useUndoState.setState(({ undo }) => ({ undo: [...undo, one].slice(-MOST_UNDO) }))

/** What the newest change was, in words; null: nothing is to be undone. */
export const useUndo = (): string | null => useUndoState(({ undo }) => undo.at(-1)?.what ?? null)

export async function undoEdit(): Promise<void> {
  const last = useUndoState.getState().undo.at(-1)
  if (!last) return
  useUndoState.setState(({ undo }) => ({ undo: undo.slice(0, -1) }))
  await told(last.act)
}

export const newId = (): string => crypto.randomUUID()
/** Short, and unlike those that are there. */
export function newStepId(steps: readonly Step[]): string {
  const used = new Set(steps.map(({ id }) => id))
  for (let n = steps.length + 1; ; n++) if (!used.has(`s${n}`)) return `s${n}`
}

export function dataOf<K extends PartKind>(part: Part<K>): PartData<K> {
  const { id: _, order: __, version: ___, ...data } = part as Part<PartKind>
  return data as PartData<K>
}

const nameOf = (kind: PartKind, data: object): string => {
  const name = 'name' in data ? String(data.name) : 'label' in data ? String(data.label) : ''
  return name === '' ? SHOW_PARTS[kind].what : `“${name}”`
}

/** @returns whether it was kept */
export async function change<K extends PartKind>(
  kind: K,
  part: Part<K>,
  data: PartData<K>,
): Promise<boolean> {
  const kept = await told(() => putPart(kind, part.id, data, part.version))
  if (!kept) return false
  push({
    what: `change of ${nameOf(kind, data)}`,
    act: () => putPart(kind, part.id, dataOf(part), null, part.order),
  })
  return true
}

/** @returns its id; null if it was not kept */
export async function add<K extends PartKind>(
  kind: K,
  data: PartData<K>,
  order?: number,
): Promise<string | null> {
  const id = newId()
  if (!(await told(() => putPart(kind, id, data, null, order)))) return null
  push({ what: `new ${nameOf(kind, data)}`, act: () => deletePart(kind, id) })
  return id
}

export async function remove<K extends PartKind>(kind: K, part: Part<K>): Promise<boolean> {
  if (!(await told(() => deletePart(kind, part.id)))) return false
  const back = () => putPart(kind, part.id, dataOf(part), null, part.order)
  push({ what: `removal of ${nameOf(kind, part)}`, act: back })
  note(`Removed ${nameOf(kind, part)}.`, {
    actions: [{ label: 'Undo', act: () => void told(back) }],
  })
  return true
}

export const changeCue = (cue: CueView, data: Partial<Cue>): Promise<boolean> =>
  change('cue', cue, { ...dataOf<'cue'>(cue), ...data })

export const changeStep = (cue: CueView, id: string, changed: (step: Step) => Step): Promise<boolean> =>
  changeCue(cue, { steps: cue.steps.map((step) => (step.id === id ? changed(step) : step)) })

export const addStep = (cue: CueView, seconds: number, does: StepDoes): Promise<boolean> =>
  changeCue(cue, {
    steps: [...cue.steps, { id: newStepId(cue.steps), start: { kind: 'at', seconds }, does }],
  })

/** Those that waited for it start when they would have, had it taken no time. */
export function withoutStep(cue: CueView, id: string): Step[] {
  const gone = cue.steps.find((step) => step.id === id)
  return cue.steps
    .filter((step) => step.id !== id)
    .map((step) =>
      gone && step.start.kind === 'after' && step.start.step === id
        ? { ...step, start: { ...gone.start, seconds: gone.start.seconds + step.start.seconds } }
        : step,
    )
}
