/** Carries out what the gate has let through: what needs stored data is taken apart here, the rest is the camera's. */
import type { CameraOrder, OrderNamed } from '../../core/orders/orders'
import { ALL_PARTS, QUICK } from '../../core/presets/pace'
import type { PresetView } from '../../core/presets/preset'
import type { RoundOrder } from '../../core/presets/round'
import type { CameraResult } from '../cameras/camera'
import type { Member } from '../fleet'

export interface Desk {
  memberOf(camera: string): Member | null
  preset(id: string): PresetView | null
  /** @returns why it cannot begin; null when it has */
  startRound(camera: string, order: RoundOrder): string | null
}

const NOTHING_KNOWN = 'This preset has a name and nothing else. Store it again.'
const GONE: CameraResult = { ok: false, message: 'This camera is switched off in the desk, or gone.' }

function recall(
  { row, camera }: Member,
  preset: PresetView | null,
  { pace, whole }: OrderNamed<'recall'>,
): CameraResult | Promise<CameraResult> {
  if (!preset) return { ok: false, message: 'This preset no longer exists.' }
  const { id, pose, light, memory } = preset
  if (!pose) return memory === null ? { ok: false, message: NOTHING_KNOWN } : camera.recallMemory(id, memory)
  return camera.recall({
    ...{ id, pose, light },
    pace: pace ?? preset.pace ?? row.pace ?? QUICK,
    parts: whole ? ALL_PARTS : preset.parts,
    hold: whole ? false : row.holdPicture,
  })
}

export const carryOut =
  (desk: Desk) =>
  async (order: CameraOrder, id: string): Promise<CameraResult> => {
    const member = desk.memberOf(id)
    if (!member) return GONE
    switch (order.t) {
      case 'recall':
        return recall(member, desk.preset(order.preset), order)
      case 'goToPose': {
        const parts = { ...ALL_PARTS, light: false }
        return member.camera.recall({
          id: '',
          pose: order.pose,
          light: null,
          pace: QUICK,
          parts,
          hold: false,
        })
      }
      case 'startRound': {
        const problem = desk.startRound(id, order.round)
        return problem ? { ok: false, message: problem } : { ok: true }
      }
      default:
        return member.camera.perform(order)
    }
  }
