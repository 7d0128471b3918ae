/** What a store keeps, and what it says where it cannot. */
import type { CameraOrder } from '../../core/orders/orders'
import type { CameraResult, RestingPose } from '../cameras/camera'
import type { Member } from '../fleet'
import { NoShot, takeShot } from './takeShot'

const POSE: RestingPose = {
  ...{ panDeg: 3, tiltDeg: -4, zoom: 500, focusAuto: true, focus: 900, encoder: null },
  ...{ hfovDeg: 40, power: true, moving: false, held: false, late: false, atMs: 1, focused: true },
}
const PICTURE = Uint8Array.of(0xff, 0xd8)
const LIGHT = { exposureMode: 'auto' }

interface Change {
  state?: string
  pose?: RestingPose | null
  position?: boolean
  memory?: { ok: boolean; message?: string }
  light?: object | null
  picture?: Uint8Array | null
}

function member(change: Change = {}) {
  const { state = 'ready', pose = POSE, position = true, memory = { ok: true }, light = LIGHT } = change
  const told: string[] = []
  const camera = {
    health: { state },
    capabilities: { position: { panTilt: position, zoom: position } },
    restingPose: async () => pose,
    light: async () => light,
  }
  const picture = change.picture === undefined ? PICTURE : change.picture
  const perform = async (order: CameraOrder): Promise<CameraResult> => {
    if (order.t === 'memory') told.push(`${order.action} ${order.number}`)
    return memory as CameraResult
  }
  const row = { id: 'c' }
  const made = { row, camera, pictures: { fresh: async () => picture } } as unknown as Member
  return { told, perform, member: made }
}

const ALONE = { light: false, memory: null }
const shot = (change: Change, wish = {}) => {
  const made = member(change)
  return takeShot(made.member, { ...ALONE, ...wish }, made.perform)
}

test('pose and picture; exposure and a memory of the camera where they are asked for', async () => {
  expect(await shot({})).toMatchObject({
    pose: { panDeg: 3, tiltDeg: -4, zoom: 500, focusAuto: true, focus: 900, encoder: null },
    light: null,
    jpeg: PICTURE,
    warning: null,
  })
  const all = member()
  const taken = await takeShot(all.member, { light: true, memory: 7 }, all.perform)
  expect([taken.light, taken.warning, all.told]).toEqual([LIGHT, null, ['set 7']])
})

test('what is missing is warned of, and the rest is kept', async () => {
  const blurred = await shot({ pose: { ...POSE, focused: false }, picture: null })
  expect(blurred.warning).toMatch(/still searching.*without a picture/)
  expect(blurred.pose).not.toBeNull()
  const refused = { memory: { ok: false, message: 'Full.' }, light: null }
  const taken = await shot(refused, { light: true, memory: 9 })
  expect(taken.warning).toMatch(/memory 9: Full\..*exposure/)
  expect(taken.pose).not.toBeNull()
})

test('a camera that does not report its position is kept by its memory, or not at all', async () => {
  const blind = { position: false }
  expect(await shot(blind, { memory: 3 })).toMatchObject({ pose: null, jpeg: PICTURE, warning: null })
  await expect(shot(blind)).rejects.toThrow(/Give the number/)
  // Without a pose a refused memory would leave it kept nowhere.
  const refused = { ...blind, memory: { ok: false, message: 'Full.' } }
  await expect(shot(refused, { memory: 3 })).rejects.toThrow('Full.')
})

test('where there is nothing to keep it says what to do', async () => {
  await expect(takeShot(null, ALONE, member().perform)).rejects.toThrow(/switched off/)
  await expect(shot({ state: 'standby' })).rejects.toThrow(/Switch it on/)
  await expect(shot({ pose: null })).rejects.toThrow(/still moving/)
  await expect(shot({ pose: null, state: 'silent' })).rejects.toThrow(/does not answer/)
  await expect(shot({ pose: null })).rejects.toBeInstanceOf(NoShot)
})
