/** Goes through a camera's presets and renews the picture of each. */

import { isUsable } from '../../core/facts/health'
import { QUICK } from '../../core/presets/pace'
import type { PresetView } from '../../core/presets/preset'
import { arrival, PICTURE_SETTLES_MS, type RoundWork, SILENT, wait } from './roundWork'

async function renew(work: RoundWork, preset: PresetView): Promise<string | null> {
  if (!preset.pose) return 'it is in a memory of the camera alone'
  const result = await work.perform({
    t: 'recall',
    preset: preset.id,
    pace: QUICK,
    atLeastSeconds: null,
    whole: true,
  })
  if (!result.ok) return result.message
  const trouble = await arrival(work, preset.id)
  if (trouble) return trouble
  await wait(work.clock, PICTURE_SETTLES_MS)
  return work.store.renewPicture(preset)
}

export async function picturesRound(work: RoundWork): Promise<void> {
  const presets = work.store.presets()
  work.tell({ total: presets.length })
  let taken = 0
  for (const [i, preset] of presets.entries()) {
    if (!work.goesOn) return
    work.tell({ at: `${preset.number} ${preset.name}` })
    const trouble = await renew(work, preset)
    if (!isUsable(work.member.camera.health.state)) work.end(SILENT)
    // One that was taken before the round was stopped counts all the same.
    if (trouble && !work.goesOn) return
    if (trouble) work.trouble(`${preset.number} ${preset.name}: ${trouble}`)
    else taken += 1
    work.tell({ through: i + 1, taken })
  }
}
