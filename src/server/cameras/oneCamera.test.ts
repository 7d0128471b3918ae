/** The driver against a camera that answers from memory, with a clock moved by hand. */

import { UPRIGHT } from '../../core/cameras/connection'
import type { Light } from '../../core/cameras/light'
import { headProfile } from '../../core/heads/registry'
import { ALL_PARTS } from '../../core/presets/pace'
import type { LivePose } from '../../core/presets/pose'
import { NO_LIMITS, PUSH_AT_REST } from '../../core/stick/speeds'
import type { ViscaCommand } from '../../core/visca/commands'
import type { RestingPose } from './camera'
import { preset, right, setUp, to } from './testing/scripted'

test('it reads the pose, drives on change only, and stops', async () => {
  const { clock, wire, camera } = setUp()
  wire.pan = 800
  await clock.run(500)
  expect(camera.health.state).toBe('ready')
  expect(camera.pose).toMatchObject({ panDeg: 10, moving: false, hfovDeg: expect.closeTo(60, 1) })
  for (let i = 0; i < 10; i++) {
    camera.drive(right)
    await clock.run(100)
  }
  const before = wire.commands.length
  camera.drive(PUSH_AT_REST)
  // At once, not at the next tick.
  expect(wire.commands.slice(before)).toEqual([expect.objectContaining({ kind: 'ptDrive', pan: 0, tilt: 0 })])
  await clock.run(500)
  expect(wire.commands.length).toBe(before + 1)
  const steps = wire.commands
    .slice(0, before)
    .map((c) => (c.kind === 'ptDrive' && c.pan === 1 ? c.panStep : 0))
  // It rises, then the two steps about the wanted speed take turns; never twice the same.
  expect(steps[0]).toBeLessThan(steps[20]!)
  expect(new Set(steps.slice(20)).size).toBe(2)
  expect(steps.every((step, i) => step !== steps[i - 1])).toBe(true)
  expect(before).toBeLessThanOrEqual(52)
})

test('zoomed in, the same stick drives slower', async () => {
  const { clock, wire, camera } = setUp()
  await clock.run(500)
  camera.drive(right)
  camera.drive(PUSH_AT_REST)
  wire.zoom = 16384
  await clock.run(600)
  camera.drive(right)
  await clock.run(50)
  const steps = wire.commands
    .filter((c) => c.kind === 'ptDrive' && c.pan !== 0)
    .map((c) => (c as { panStep: number }).panStep)
  expect(steps[0]! - steps[1]!).toBeGreaterThan(8)
})

test('a recall travels, arrives, and tells how far it is', async () => {
  const { clock, wire, camera } = setUp()
  await clock.run(500)
  const going = camera.recall(to(preset))
  expect(camera.travel).toMatchObject({ state: 'travelling', presetId: 'p' })
  Object.assign(wire, { pan: 800, zoom: 4000 })
  await clock.run(200)
  expect(camera.travel!.leftMs).toBeLessThan(camera.travel!.totalMs)
  expect(await going).toEqual({ ok: true })
  await clock.run(300)
  Object.assign(wire, { pan: 1600, tilt: -800, zoom: 8000 })
  await clock.run(500)
  expect(camera.travel).toMatchObject({ state: 'arrived' })
  expect(wire.commands.map((c) => c.kind)).toEqual(['ptAbsolute', 'zoomTo'])
})

test('come on air at the end of a quick move, it is left to end by itself; in the middle, taken over', async () => {
  const far = { ...preset, panDeg: 60 }
  const eased = async (panDeg: number) => {
    const { clock, wire, camera } = setUp()
    await clock.run(500)
    void camera.recall(to(far))
    Object.assign(wire, { pan: 400, zoom: 4000, tilt: -400 })
    await clock.run(300)
    Object.assign(wire, { pan: panDeg * 80, zoom: 7900, tilt: -790 })
    await clock.run(200)
    const before = wire.commands.length
    camera.ease(8)
    await clock.run(300)
    return { eased: camera.travel!.eased, sent: wire.commands.length - before }
  }
  expect(await eased(59)).toEqual({ eased: false, sent: 0 })
  const middle = await eased(10)
  expect(middle.eased).toBe(true)
  expect(middle.sent).toBeGreaterThan(0)
})

test('a head that stops short is told as not reached; a stick interrupts', async () => {
  const { clock, wire, camera } = setUp()
  await clock.run(500)
  void camera.recall(to(preset))
  wire.pan = 700
  await clock.run(3000)
  expect(camera.travel).toMatchObject({ state: 'failed', reason: expect.stringContaining('short') })
  void camera.recall(to(preset))
  camera.drive(right)
  expect(camera.travel).toMatchObject({ state: 'interrupted' })
})

test('silent: no pose is claimed, a recall is refused at once and does not fire later', async () => {
  const { clock, wire, camera, seen } = setUp()
  await clock.run(500)
  wire.mute = true
  await clock.run(4000)
  expect(camera.health).toMatchObject({ state: 'silent', advice: expect.stringContaining('cable') })
  expect(seen.poses.at(-1)).toBeNull()
  expect(await camera.recall(to(preset))).toMatchObject({ ok: false })
  wire.mute = false
  wire.pan = 400
  await clock.run(2000)
  expect(camera.health.state).toBe('ready')
  expect(camera.pose?.panDeg).toBe(5)
  expect(wire.commands).toEqual([])
})

test('silence in mid-drive: the stop is what arrives when it is back', async () => {
  const { clock, wire, camera } = setUp()
  await clock.run(500)
  camera.drive(right)
  await clock.run(50)
  wire.mute = true
  camera.drive(PUSH_AT_REST)
  await clock.run(5000)
  wire.mute = false
  await clock.run(2000)
  expect(wire.commands.at(-1)).toMatchObject({ kind: 'ptDrive', pan: 0, tilt: 0 })
})

test('a recall that takes the place of an unanswered stop does not lose the stop', async () => {
  const { clock, wire, camera } = setUp()
  await clock.run(500)
  camera.drive(right)
  await clock.run(50)
  wire.mute = true
  camera.drive(PUSH_AT_REST)
  void camera.recall(to(preset))
  await clock.run(5000)
  expect(camera.travel).toMatchObject({ state: 'failed' })
  wire.mute = false
  await clock.run(2000)
  expect(wire.commands.map((c) => c.kind)).not.toContain('ptAbsolute')
  expect(wire.commands.filter((c) => c.kind === 'ptDrive').at(-1)).toMatchObject({ pan: 0, tilt: 0 })
})

test('a head that still moves after its stop is told again', async () => {
  const { clock, wire, camera } = setUp()
  await clock.run(500)
  camera.drive(right)
  await clock.run(100)
  camera.drive(PUSH_AT_REST)
  const count = wire.commands.length
  for (let i = 0; i < 20; i++) {
    wire.pan += 40
    await clock.run(100)
    if (wire.commands.length > count) break
  }
  expect(wire.commands.slice(count)).toContainEqual(
    expect.objectContaining({ kind: 'ptDrive', pan: 0, tilt: 0 }),
  )
})

test('standby is told, and refuses a recall in words', async () => {
  const { clock, wire, camera } = setUp()
  wire.power = false
  await clock.run(2500)
  expect(camera.health.state).toBe('standby')
  expect(await camera.recall(to(preset))).toEqual({
    ok: false,
    message: expect.stringContaining('standby'),
  })
})

test('a resting pose waits for the head, and gives up while it moves', async () => {
  const { clock, wire, camera } = setUp()
  await clock.run(500)
  let pose: LivePose | null | undefined
  void camera.restingPose(1000).then((p) => (pose = p))
  for (let i = 0; i < 30; i++) {
    wire.pan += 10
    await clock.run(50)
  }
  expect(pose).toBeNull()
  void camera.restingPose(1000).then((p) => (pose = p))
  await clock.run(600)
  expect(pose?.panDeg).toBeCloseTo(wire.pan / 80, 6)
})

test('a resting pose waits until the automatics have found their focus', async () => {
  const { clock, wire, camera } = setUp()
  await clock.run(500)
  let pose: RestingPose | null | undefined
  void camera.restingPose(2500).then((p) => (pose = p))
  for (let i = 0; i < 12; i++) {
    wire.focus += 200
    await clock.run(50)
  }
  expect(pose).toBeUndefined()
  await clock.run(400)
  expect(pose).toMatchObject({ focus: wire.focus, focused: true })
  // One that never finds it does not keep a store for ever.
  void camera.restingPose(800).then((p) => (pose = p))
  for (let i = 0; i < 20; i++) {
    wire.focus += 200
    await clock.run(50)
  }
  expect(pose).toMatchObject({ focused: false })
})

describe('a picture that is held', () => {
  const frozen = (wire: { commands: ViscaCommand[] }) =>
    wire.commands.flatMap((c) => (c.kind === 'freeze' ? [c.on] : []))

  test('before the head moves, until it has arrived', async () => {
    const { clock, wire, camera } = setUp()
    await clock.run(500)
    void camera.recall(to(preset, { hold: true }))
    await clock.run(200)
    expect(wire.commands.map((c) => c.kind)).toEqual(['freeze', 'ptAbsolute', 'zoomTo'])
    expect(camera.pose?.held).toBe(true)
    await clock.run(300)
    Object.assign(wire, { pan: 1600, tilt: -800, zoom: 8000 })
    await clock.run(1000)
    expect(frozen(wire)).toEqual([true, false])
    expect(camera.pose?.held).toBe(false)
  })

  test('a hand lets it run; an order that got lost is sent again', async () => {
    const { clock, wire, camera } = setUp()
    await clock.run(500)
    void camera.recall(to(preset, { hold: true }))
    await clock.run(100)
    wire.deaf = (c) => c.kind === 'freeze'
    camera.drive(right)
    await clock.run(6000)
    expect(camera.pose?.held).toBe(true)
    wire.deaf = () => false
    await clock.run(4000)
    expect(frozen(wire)).toEqual([true, false])
    expect(camera.pose?.held).toBe(false)
  })

  test('a server that starts again lets run what an earlier one may have held', async () => {
    const { clock, wire, camera } = setUp()
    camera.configure({
      mount: { upsideDown: false, mirrored: false },
      limits: NO_LIMITS,
      hold: true,
      leash: false,
    })
    await clock.run(3000)
    expect(frozen(wire)).toEqual([false])
    expect(camera.pose?.held).toBe(false)
  })
})

test('exposure and white balance are read, and set again in an order that the camera takes', async () => {
  const { clock, wire, camera } = setUp()
  await clock.run(500)
  let light: Light | null = null
  void camera.light().then((read) => (light = read))
  await clock.run(300)
  expect(light).toEqual({
    exposure: { mode: 'manual', shutter: 7, iris: 11, gain: 2, bright: null },
    whiteBalance: { mode: 'manual', red: 90, blue: 91 },
  })
  void camera.recall(to(preset, { light, parts: { ...ALL_PARTS, focus: false } }))
  await clock.run(500)
  const set = wire.commands.flatMap((c) => (c.kind === 'set' ? [[c.setting, c.value]] : []))
  expect(set).toEqual([
    ['exposureMode', 3],
    ['shutter', 7],
    ['iris', 11],
    ['gain', 2],
    ['whiteBalance', 5],
    ['redGain', 90],
    ['blueGain', 91],
  ])
  wire.commands.length = 0
  void camera.recall(to(preset, { light, parts: { ...ALL_PARTS, light: false } }))
  await clock.run(500)
  expect(wire.commands.some((c) => c.kind === 'set')).toBe(false)
})

test("a recall of the camera's own memory claims no arrival, and a hand ends the claim that it was sent", async () => {
  const { clock, wire, camera } = setUp()
  await clock.run(500)
  void camera.recallMemory('p', 7)
  await clock.run(100)
  expect(wire.commands).toEqual([{ kind: 'memory', action: 'recall', slot: 6 }])
  expect(camera.travel).toMatchObject({ presetId: 'p', state: 'sent' })
  camera.drive(right)
  expect(camera.travel).toBeNull()
})

test('a camera that may still run from before this server is stopped on every lane before it is told anything else', async () => {
  const { clock, wire } = setUp(true)
  await clock.run(300)
  expect(wire.commands.slice(0, 3)).toEqual([
    { kind: 'ptDrive', panStep: 1, tiltStep: 1, pan: 0, tilt: 0 },
    { kind: 'zoomDrive', direction: 0, step: 0 },
    { kind: 'focusDrive', direction: 0, step: 0 },
  ])
  const fresh = setUp()
  await fresh.clock.run(300)
  expect(fresh.wire.commands).toEqual([])
})

test('a link that comes back while it moved: stopped, and said; one that comes back at rest is not', async () => {
  const { clock, wire, camera, seen } = setUp()
  await clock.run(500)
  camera.drive({ ...PUSH_AT_REST, pan: 1 })
  await clock.run(200)
  wire.mute = true
  await clock.run(400)
  camera.drive(PUSH_AT_REST)
  await clock.run(5000)
  expect(seen.notices).toEqual([])
  wire.commands = []
  wire.mute = false
  await clock.run(600)
  expect(wire.commands[0]).toMatchObject({ kind: 'ptDrive', pan: 0, tilt: 0 })
  expect(seen.notices).toEqual([expect.stringMatching(/link to this camera is back.*stopped/)])
  wire.mute = true
  await clock.run(5000)
  wire.mute = false
  await clock.run(2000)
  expect(seen.notices).toHaveLength(1)
})

test('on a leash a stick is short absolute moves a little ahead, renewed while it is held, and stopped as always', async () => {
  const { clock, wire, camera } = setUp()
  camera.configure({ mount: UPRIGHT, limits: NO_LIMITS, hold: false, leash: true })
  await clock.run(500)
  wire.commands = []
  camera.drive({ ...PUSH_AT_REST, pan: 0.5 })
  await clock.run(1000)
  const moves = wire.commands.filter((c) => c.kind === 'ptAbsolute')
  expect(wire.commands.some((c) => c.kind === 'ptDrive')).toBe(false)
  expect(moves.length).toBeGreaterThan(4)
  expect(moves.length).toBeLessThan(12)
  // It stands in the script: so no point is further than the leash from there.
  const { unitsPerDeg, speedsDegPerSec } = headProfile('marsh-20x').pan
  for (const move of moves)
    expect(Math.abs(move.pan)).toBeLessThanOrEqual(speedsDegPerSec.at(-1)! * 0.8 * 1.6 * unitsPerDeg)
  camera.drive(PUSH_AT_REST)
  await clock.run(200)
  expect(wire.commands.at(-1)).toMatchObject({ kind: 'ptDrive', pan: 0, tilt: 0 })
})
