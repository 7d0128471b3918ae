/** The driver against a camera that answers from memory, with a clock moved by hand. */
import { headProfile } from '../../core/heads/registry'
import { ALL_PARTS, QUICK } from '../../core/presets/pace'
import type { LivePose, PresetPose } from '../../core/presets/pose'
import { decodeCommand, type ViscaCommand } from '../../core/visca/commands'
import { FramedSession } from '../../core/visca/framedSession'
import { type Answer, decodeInquiry, encodeAnswer } from '../../core/visca/inquiries'
import { decodeDatagram, encodeDatagram, RESET_SEQUENCE } from '../../core/visca/ip'
import { encodeReply } from '../../core/visca/replies'
import type { Link } from '../links/link'
import { STICKS_AT_REST } from './camera'
import { HandClock } from './handClock'
import { OneCamera } from './oneCamera'
import { ViscaBody } from './visca/viscaBody'
import { OwnPort } from './visca/viscaPort'

/** Answers at once; its pose is what the test says. */
class ScriptedCamera implements Link {
  commands: ViscaCommand[] = []
  pan = 0
  tilt = 0
  zoom = 0
  power = true
  mute = false
  onCommand: (c: ViscaCommand) => void = () => {}
  private receive: (bytes: Uint8Array) => void = () => {}

  onReceive(listener: (bytes: Uint8Array) => void) {
    this.receive = listener
  }
  onTrouble() {}
  onOpen() {}
  renew() {}
  close() {}

  send(bytes: Uint8Array) {
    if (this.mute) return
    const { type, sequence, payload } = decodeDatagram(bytes)!
    const reply = (body: Uint8Array) =>
      this.receive(encodeDatagram({ type: 'reply', sequence, payload: body }))
    if (type === 'control') {
      this.receive(encodeDatagram({ type: 'controlReply', sequence, payload: RESET_SEQUENCE }))
    } else if (type === 'inquiry') reply(encodeAnswer(this.answer(decodeInquiry(payload)!)))
    else {
      const command = decodeCommand(payload)!
      this.commands.push(command)
      this.onCommand(command)
      reply(encodeReply({ kind: 'ack', socket: 1 }))
    }
  }

  private answer(kind: string): Answer {
    if (kind === 'ptPosition') return { kind, pan: this.pan, tilt: this.tilt }
    if (kind === 'zoomPosition') return { kind, position: this.zoom }
    if (kind === 'power') return { kind, on: this.power }
    if (kind === 'focusMode') return { kind, auto: true }
    return { kind: 'focusPosition', position: 0x2000 }
  }
}

function setUp() {
  const clock = new HandClock()
  const wire = new ScriptedCamera()
  const seen = { poses: [] as (LivePose | null)[], notices: [] as string[] }
  const profile = headProfile('marsh-20x')
  const port = new OwnPort(new FramedSession({ nonce: 5 }), wire, clock)
  const options = {
    profile,
    address: '10.0.0.9:52381',
    parts: { head: true, lens: true },
    slowMs: 250,
    holdMs: 20,
  }
  const body = new ViscaBody(options, port, clock)
  const camera = new OneCamera(
    profile,
    { head: body, lens: body },
    {
      pose: (pose) => seen.poses.push(pose),
      health: () => {},
      travel: () => {},
      notice: (text) => seen.notices.push(text),
    },
    clock,
  )
  return { clock, wire, camera, seen }
}

const preset: PresetPose = { panDeg: 20, tiltDeg: -10, zoom: 8000, focusAuto: true, focus: null }
const QUICKLY = { pace: QUICK, parts: ALL_PARTS }
const right = { ...STICKS_AT_REST, pan: 1 }

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
  camera.drive(STICKS_AT_REST)
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
  camera.drive(STICKS_AT_REST)
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
  const going = camera.recall('p', preset, QUICKLY)
  expect(camera.travel).toMatchObject({ state: 'travelling', presetId: 'p' })
  Object.assign(wire, { pan: 800, zoom: 4000 })
  await clock.run(200)
  expect(camera.travel!.leftMs).toBeLessThan(camera.travel!.totalMs)
  expect(await going).toEqual({ ok: true })
  Object.assign(wire, { pan: 1600, tilt: -800, zoom: 8000 })
  await clock.run(500)
  expect(camera.travel).toMatchObject({ state: 'arrived' })
  expect(wire.commands.map((c) => c.kind)).toEqual(['ptAbsolute', 'zoomTo'])
})

test('a head that stops short is told as not reached; a stick interrupts', async () => {
  const { clock, wire, camera } = setUp()
  await clock.run(500)
  void camera.recall('p', preset, QUICKLY)
  wire.pan = 700
  await clock.run(3000)
  expect(camera.travel).toMatchObject({ state: 'failed', reason: expect.stringContaining('short') })
  void camera.recall('p', preset, QUICKLY)
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
  expect(await camera.recall('p', preset, QUICKLY)).toMatchObject({ ok: false })
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
  camera.drive(STICKS_AT_REST)
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
  camera.drive(STICKS_AT_REST)
  void camera.recall('p', preset, QUICKLY)
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
  camera.drive(STICKS_AT_REST)
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
  expect(await camera.recall('p', preset, QUICKLY)).toEqual({
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
