/** Goes through a camera's own memories and takes each in as a preset, with its pose and its picture. */

import { isUsable } from '../../core/live/messages'
import type { RoundOrder } from '../../core/presets/round'
import type { Camera } from '../cameras/camera'
import { addPreset } from '../store/presets'
import { overwritePreset, type Shot } from '../store/versions'
import { PICTURE_SETTLES_MS, type RoundWork, SILENT, wait } from './roundWork'
import { bare, POSE_TIMEOUT_MS } from './takeShot'

const LOOK_AGAIN_MS = 100
/** A head may take so long to get going. */
const STARTS_WITHIN_MS = 700
const LONGEST_MS = 40_000
/** A camera that does not tell where it stands is given this long beyond its own word. */
const BLIND_MS = 1200

async function settled(camera: Camera, goesOn: () => boolean): Promise<void> {
  const from = Date.now()
  const moves = () => camera.memoryRuns || camera.pose?.moving === true
  while (goesOn() && Date.now() - from < LONGEST_MS) {
    await wait(LOOK_AGAIN_MS)
    if (Date.now() - from > STARTS_WITHIN_MS && !moves()) break
  }
  if (!camera.capabilities.position) await wait(BLIND_MS)
}

/** Null where it did not come to rest. */
async function shotThere({ member }: RoundWork): Promise<Shot | null> {
  const { camera, pictures } = member
  const tells = camera.capabilities.position
  const pose = tells ? await camera.restingPose(POSE_TIMEOUT_MS) : null
  if (tells && !pose) return null
  await wait(PICTURE_SETTLES_MS)
  const jpeg = await pictures.fresh()
  return { pose: pose && bare(pose), light: null, jpeg, takenAt: new Date() }
}

async function keep(work: RoundWork, number: number, shot: Shot): Promise<void> {
  const { db, catalogue, cameraId } = work
  const view = catalogue.current?.view
  if (!view) return
  const known = view.presets.find((p) => p.cameraId === cameraId && p.memory === number)
  if (known) await overwritePreset(db, known.id, shot)
  else {
    const name = `Memory ${number}`
    await addPreset(db, { eventId: view.event.id, cameraId, name, number, memory: number, shot })
  }
  await work.changed()
}

export async function memoriesRound(
  work: RoundWork,
  { from, to }: RoundOrder & { kind: 'memories' },
): Promise<void> {
  const { camera } = work.member
  work.tell({ total: to - from + 1 })
  let [taken, empty] = [0, 0]
  for (let number = from; number <= to && work.goesOn; number++) {
    work.tell({ at: `memory ${number}` })
    const result = await camera.memory('recall', number)
    if (!isUsable(camera.health.state)) return work.end(SILENT)
    // What a camera refuses there is nothing in; whatever else it says is a trouble.
    if (!result.ok && result.refused) empty += 1
    else if (!result.ok) work.trouble(`Memory ${number}: ${result.message}`)
    else {
      await settled(camera, () => work.goesOn)
      const shot = work.goesOn ? await shotThere(work) : null
      if (!work.goesOn) return
      if (!shot) work.trouble(`Memory ${number}: the camera did not come to rest.`)
      else {
        await keep(work, number, shot)
        taken += 1
      }
    }
    work.tell({ through: number - from + 1, taken, empty })
  }
}
