/** Moves a tile to the place of another, and on its camera's board under that one's heading too. */
import { arrayMove } from '@dnd-kit/sortable'
import type { DeskView } from '../../server/api'
import { changePreset, orderPresets } from '../api/client'
import { told } from '../basics/told'

export async function movePreset(
  desk: DeskView,
  board: 'own' | 'pinned',
  id: string,
  overId: string,
): Promise<void> {
  const moved = desk.presets.find((p) => p.id === id)
  const over = desk.presets.find((p) => p.id === overId)
  if (!moved || !over || id === overId) return
  const all =
    board === 'pinned'
      ? desk.presets.filter((p) => p.pinned !== null).sort((a, b) => a.pinned! - b.pinned!)
      : desk.presets.filter((p) => p.cameraId === moved.cameraId)
  const ids = all.map((p) => p.id)
  const order = arrayMove(ids, ids.indexOf(id), ids.indexOf(overId))
  await told(async () => {
    if (board === 'own' && moved.section !== over.section) await changePreset(id, { section: over.section })
    await orderPresets(order, board)
  })
}
