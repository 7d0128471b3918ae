/** Carries out what the gate has let through: what needs stored data is taken apart here, the rest is the camera's. */
import { replayOf } from '../../core/cues/recorded'
import type { RecordedMove } from '../../core/cues/show'
import { createLens } from '../../core/optics/lens'
import type { CameraOrder, OrderNamed } from '../../core/orders/orders'
import { ALL_PARTS, QUICK } from '../../core/presets/pace'
import type { PresetView } from '../../core/presets/preset'
import type { RoundOrder } from '../../core/presets/round'
import type { CameraResult } from '../cameras/camera'
import type { Member } from '../fleet'

export interface Desk {
  memberOf(camera: string): Member | null
  preset(id: string): PresetView | null
  move(id: string): RecordedMove | null
  /** Recalls a look at one camera, beside the move. */
  look(id: string, camera: string): void
  /** @returns why it cannot begin; null when it has */
  startRound(camera: string, order: RoundOrder): string | null
}

const NOTHING_KNOWN = 'This preset has a name and nothing else. Store it again.'
const GONE: CameraResult = { ok: false, message: 'This camera is switched off in the desk, or gone.' }

function recall(
  { row, camera }: Member,
  preset: PresetView | null,
  { pace, whole, atLeastSeconds }: OrderNamed<'recall'>,
): CameraResult | Promise<CameraResult> {
  if (!preset) return { ok: false, message: 'This preset no longer exists.' }
  const { id, pose, light, memory } = preset
  if (!pose) return memory === null ? { ok: false, message: NOTHING_KNOWN } : camera.recallMemory(id, memory)
  return camera.recall({
    ...{ id, pose, light },
    pace: pace ?? preset.pace ?? row.pace ?? QUICK,
    atLeastSeconds,
    parts: whole ? ALL_PARTS : preset.parts,
    hold: whole ? false : row.holdPicture,
  })
}

/** The camera stands where it begins: whoever plays it has seen to that. */
function replay(
  { row, camera }: Member,
  move: RecordedMove | null,
  { percent, backwards, atLeastSeconds }: OrderNamed<'replay'>,
): CameraResult | Promise<CameraResult> {
  if (!move) return { ok: false, message: 'This recorded move no longer exists.' }
  if (move.camera !== row.id) return { ok: false, message: 'This move was recorded with another camera.' }
  const end = move.points.at(-1)!
  const slowest = atLeastSeconds === null ? 400 : (100 * end.s) / atLeastSeconds
  const to = backwards ? move.points[0]! : end
  const { panDeg, tiltDeg, zoom } = to
  return camera.recall({
    ...{ id: '', light: null, pace: QUICK, hold: false },
    pose: { panDeg, tiltDeg, zoom, focusAuto: null, focus: null, encoder: null },
    parts: { ...ALL_PARTS, focus: false, light: false },
    along: replayOf(move.points, createLens(camera.profile.lens), {
      percent: Math.min(percent, slowest),
      backwards,
    }),
  })
}

export const carryOut =
  (desk: Desk) =>
  async (order: CameraOrder, id: string): Promise<CameraResult> => {
    const member = desk.memberOf(id)
    if (!member) return GONE
    switch (order.t) {
      case 'recall': {
        const preset = desk.preset(order.preset)
        const result = await recall(member, preset, order)
        // Going round for pictures or a check, a camera is to look as it does.
        if (result.ok && preset?.look && !order.whole) desk.look(preset.look, id)
        return result
      }
      case 'goToPose': {
        const parts = { ...ALL_PARTS, light: false }
        return member.camera.recall({
          id: '',
          pose: order.pose,
          light: null,
          pace: order.pace ?? QUICK,
          atLeastSeconds: order.atLeastSeconds,
          parts,
          hold: false,
        })
      }
      case 'replay':
        return replay(member, desk.move(order.move), order)
      case 'startRound': {
        const problem = desk.startRound(id, order.round)
        return problem ? { ok: false, message: problem } : { ok: true }
      }
      default:
        return member.camera.perform(order)
    }
  }
