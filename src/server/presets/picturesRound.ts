/** Goes through a camera's presets and renews the picture of each. */

import { isUsable } from '../../core/facts/health'
import { QUICK } from '../../core/presets/pace'
import type { PresetView } from '../../core/presets/preset'
import { PICTURE_SETTLES_MS, type RoundWork, SILENT, wait } from './roundWork'

const LOOK_AGAIN_MS = 80
/** @returns why it did not arrive; null when it has */
async function arrival(
  { member, clock }: RoundWork,
  id: string,
  goesOn: () => boolean,
): Promise<string | null> {
  for (;;) {
    const { travel } = member.camera
    if (!goesOn() || travel?.presetId !== id || travel.state === 'interrupted') return 'it was interrupted'
    if (travel.state === 'arrived') return null
    if (travel.state === 'failed') return travel.reason ?? 'it did not arrive'
    await wait(clock, LOOK_AGAIN_MS)
  }
}

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
  const trouble = await arrival(work, preset.id, () => work.goesOn)
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
