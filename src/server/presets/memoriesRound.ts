/** Goes through a camera's own memories and takes each in as a preset, with its pose and its picture. */

import { isBlind } from '../../core/facts/capabilities'
import { isUsable } from '../../core/facts/health'
import type { RoundOrder } from '../../core/presets/round'
import type { Shot } from '../store/versions'
import { PICTURE_SETTLES_MS, type RoundWork, SILENT, wait } from './roundWork'
import { bare, POSE_TIMEOUT_MS } from './takeShot'

const LOOK_AGAIN_MS = 100
/** A head may take this long to get going. */
const STARTS_WITHIN_MS = 700
const LONGEST_MS = 40_000
/** A camera that does not report its position is given this long beyond its own word. */
const BLIND_MS = 1200

async function settled({ member, clock }: RoundWork, goesOn: () => boolean): Promise<void> {
  const { camera } = member
  const from = clock.now()
  const moves = () => camera.memoryRuns || camera.pose?.moving === true
  while (goesOn() && clock.now() - from < LONGEST_MS) {
    await wait(clock, LOOK_AGAIN_MS)
    if (clock.now() - from > STARTS_WITHIN_MS && !moves()) break
  }
  if (isBlind(camera.capabilities)) await wait(clock, BLIND_MS)
}

/** Null if it did not come to rest. */
async function shotThere({ member, clock }: RoundWork): Promise<Shot | null> {
  const { camera, pictures } = member
  const tells = !isBlind(camera.capabilities)
  const pose = tells ? await camera.restingPose(POSE_TIMEOUT_MS) : null
  if (tells && !pose) return null
  await wait(clock, PICTURE_SETTLES_MS)
  const jpeg = (await pictures.fresh()) ?? (await pictures.fresh())
  return { pose: pose && bare(pose), light: null, jpeg, takenAt: new Date(clock.wall()) }
}

export async function memoriesRound(
  work: RoundWork,
  { from, to }: RoundOrder & { kind: 'memories' },
): Promise<void> {
  const { camera, row } = work.member
  work.tell({ total: to - from + 1 })
  let [taken, empty] = [0, 0]
  for (let number = from; number <= to && work.goesOn; number++) {
    work.tell({ at: `memory ${number}` })
    const result = await work.perform({ t: 'memory', camera: row.id, action: 'recall', number })
    if (!isUsable(camera.health.state)) return work.end(SILENT)
    // A refused memory is empty; any other answer is a fault.
    if (!result.ok && result.refused) empty += 1
    else if (!result.ok) work.trouble(`Memory ${number}: ${result.message}`)
    else {
      await settled(work, () => work.goesOn)
      const shot = work.goesOn ? await shotThere(work) : null
      if (!work.goesOn) return
      if (!shot) work.trouble(`Memory ${number}: the camera did not come to rest.`)
      else {
        await work.store.takeIn(number, shot)
        taken += 1
        if (!shot.jpeg) work.trouble(`Memory ${number} is taken in without a picture: the camera sent none.`)
      }
    }
    work.tell({ through: number - from + 1, taken, empty })
  }
}
