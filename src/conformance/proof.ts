/** What every camera must be good for, whatever is odd about it: said once, for all links and oddities. */
import { isUsable } from '../core/facts/health'
import { ALL_PARTS, QUICK } from '../core/presets/pace'
import { PUSH_AT_REST } from '../core/stick/speeds'
import type { CameraResult } from '../server/cameras/camera'
import { bare } from '../server/presets/takeShot'
import type { FieldRig } from './fieldRig'

/** A released camera stands within this, ms. */
export const STANDS_WITHIN_MS = 600

export async function connects({ camera, until }: FieldRig, withinMs = 9000): Promise<void> {
  await until(() => isUsable(camera.health.state), withinMs, 'connects')
}

/** Pushes it, lets go, and sees that it has moved the right way and stands in time. */
export async function drivesAndStops(rig: FieldRig, pan: number, tilt: number, forMs: number): Promise<void> {
  const { camera, clock, truth } = rig
  const from = truth()
  for (let ms = 0; ms < forMs; ms += 100) {
    camera.drive({ ...PUSH_AT_REST, pan, tilt })
    await clock.run(100)
  }
  const driven = truth()
  camera.drive(PUSH_AT_REST)
  const [right, up] = [driven.pan - from.pan, driven.tilt - from.tilt]
  if (pan !== 0 && !(right * pan > 0.2)) throw new Error(`pan ${pan}: turned by ${right.toFixed(2)}°`)
  if (tilt !== 0 && !(up * tilt > 0.2)) throw new Error(`tilt ${tilt}: turned by ${up.toFixed(2)}°`)
  // What was under way when it was let go may still arrive; from then on it stands.
  await clock.run(STANDS_WITHIN_MS)
  for (let ms = 0; ms < 800; ms += 50) {
    if (truth().moving) throw new Error(`it moves ${STANDS_WITHIN_MS + ms} ms after it was let go`)
    await clock.run(50)
  }
}

/** Stores where it stands, goes elsewhere, comes back. @returns how far off it then is, degrees */
export async function storesAndRecalls(rig: FieldRig): Promise<number> {
  const { camera, clock, truth, until } = rig
  const resting = camera.restingPose(5000)
  await clock.run(5200)
  const pose = await resting
  if (!pose) throw new Error('it never came to rest')
  const stored = truth()
  await drivesAndStops(rig, -0.7, stored.tilt > 20 ? -0.5 : 0.5, 1500)
  let result: CameraResult | null = null
  const wish = { id: 'p', pose: bare(pose), light: null, pace: QUICK, parts: ALL_PARTS, hold: false }
  void camera.recall(wish).then((told) => {
    result = told
  })
  await clock.run(50)
  await until(() => camera.travel?.state !== 'travelling', 25_000, 'arrives or says that it did not')
  await until(() => result !== null, 15_000, 'says whether it was taken')
  const { ok, message } = { message: '', ...(result as unknown as CameraResult) }
  if (!ok) throw new Error(`the recall was refused: ${message}`)
  await clock.run(600)
  if (camera.travel?.state !== 'arrived')
    throw new Error(`it says ${camera.travel?.state}: ${camera.travel?.reason}`)
  const at = truth()
  return Math.max(Math.abs(at.pan - stored.pan), Math.abs(at.tilt - stored.tilt))
}
