/** Says that everything of a camera was mended, and offers to take it back. */
import type { CameraView } from '../../server/api'
import { undoBump } from '../api/client'
import { note } from '../basics/notes'
import { told } from '../basics/told'

export function noteMended({ id, name }: CameraView, presets: number): void {
  note(`Mended ${presets} presets of ${name}, with its limits, its survey and its points of the room.`, {
    actions: [{ label: 'Undo', act: () => void told(() => undoBump(id)) }],
  })
}
