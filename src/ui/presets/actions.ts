/** What can be done with presets on the Desk; each tells its outcome, and how to undo it. */
import type { Pace } from '../../core/presets/pace'
import type { PresetView } from '../../server/api'
import {
  backToVersion,
  changePreset,
  deletePreset,
  restorePreset,
  storeOver,
  storePreset,
} from '../api/client'
import { fault, note } from '../basics/notes'
import { told } from '../basics/told'
import { did } from '../cues/taking'
import { live, type Order } from '../live/live'
import { ask } from '../tally/asked'
import { boardState } from './boardState'
import { takePaceOnce } from './paces'

export interface NewStore {
  /** Where it is free; null for the next free one. */
  number?: number | null
  /** The camera's own memory that it goes into. */
  memory?: number | null
}

/** @param onName called when the operator wants to name the new preset */
export async function storeNew(
  cameraId: string,
  onName: (id: string) => void,
  wish: NewStore = {},
): Promise<void> {
  const stored = await told(() => storePreset(cameraId, { ...wish, light: boardState().withLight }))
  if (!stored) return
  const { id, number: given } = stored.preset
  note(`Stored as preset ${given}.`, {
    actions: [
      { label: 'Name', act: () => onName(id) },
      { label: 'Undo', act: () => void told(() => deletePreset(id)) },
    ],
  })
  if (stored.warning) fault(stored.warning)
}

export async function overwrite(preset: PresetView): Promise<void> {
  const stored = await told(() => storeOver(preset.id, boardState().withLight))
  if (!stored) return
  const former = stored.formerVersion
  note(`Stored over ${preset.number} ${preset.name}.`, {
    actions:
      former === null
        ? []
        : [{ label: 'Undo', act: () => void told(() => backToVersion(preset.id, former)) }],
  })
  if (stored.warning) fault(stored.warning)
}

export async function rename(preset: PresetView, name: string): Promise<boolean> {
  const trimmed = name.trim()
  if (trimmed === '' || trimmed === preset.name) return true
  return (await told(() => changePreset(preset.id, { name: trimmed }))) !== null
}

export async function remove(preset: PresetView): Promise<void> {
  if (!(await told(() => deletePreset(preset.id)))) return
  note(`Deleted ${preset.number} ${preset.name}.`, {
    actions: [{ label: 'Undo', act: () => void told(() => restorePreset(preset.id)) }],
  })
}

/** Gives an order; what the camera refuses is told. @returns whether it was taken */
export async function order(message: Order, confirmed = false): Promise<boolean> {
  const result = await live().order(message, confirmed)
  if (result.ok) {
    if (result.said) note(result.said)
    return true
  }
  if (result.ask) ask({ text: result.message, act: () => void order(message, true) })
  else fault(result.message)
  return false
}

/** At the pace that was chosen for this once, else at the preset's own. */
export async function recall(preset: string): Promise<boolean> {
  const pace = takePaceOnce()
  const taken = await order({ t: 'recall', preset, pace })
  if (taken) did({ t: 'recall', preset, pace, together: false })
  return taken
}

export const setAutoFocus = (camera: string, auto: boolean) => order({ t: 'focusMode', camera, auto })

export async function setPower(camera: string, on: boolean): Promise<void> {
  if (await order({ t: 'power', camera, on }))
    note(on ? 'Switched on. It may need some seconds.' : 'In standby.')
}

export const goHome = (camera: string, pace: Pace | null) => order({ t: 'home', camera, pace })
