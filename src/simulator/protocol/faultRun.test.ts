/** Whole conversations between our session and the stand-in over a bad network, in virtual time. */
import { headProfile } from '../../core/heads/registry'
import { seeded } from '../../core/seeded'
import type { ViscaCommand } from '../../core/visca/commands'
import { FramedSession } from '../../core/visca/framedSession'
import type { SessionEvent } from '../../core/visca/sessionTypes'
import { Head } from '../body/head'
import { type Faults, FaultyPath, NO_FAULTS } from './faults'
import { ViscaResponder } from './responder'

const BAD: Faults = { ...NO_FAULTS, dropRate: 0.2, duplicateRate: 0.15, delayMs: 2, jitterMs: 298 }

/** Both ends and the network between them; time moves by 4 ms. */
class World {
  nowMs = 0
  readonly session = new FramedSession({ nonce: 77 })
  readonly head = new Head(headProfile('marsh-20x'), { panDeg: 0, tiltDeg: 0, zoom: 0 }, () => 8, 0)
  readonly camera = new ViscaResponder(this.head)
  readonly events: SessionEvent[] = []
  readonly toCamera: FaultyPath
  readonly toUs: FaultyPath
  private flying: { atMs: number; act: () => void }[] = []

  constructor(faults: Faults) {
    this.toCamera = new FaultyPath({ ...faults, seed: faults.seed * 2 })
    this.toUs = new FaultyPath({ ...faults, seed: faults.seed * 2 + 1 })
  }

  private fly(path: FaultyPath, act: () => void): void {
    for (const delay of path.copies()) this.flying.push({ atMs: this.nowMs + delay, act })
  }

  private back(replies: Uint8Array[]): void {
    for (const reply of replies) this.fly(this.toUs, () => this.session.receive(reply, this.nowMs))
  }

  run(ms: number): void {
    for (const end = this.nowMs + ms; this.nowMs < end; this.nowMs += 4) {
      this.head.advance(this.nowMs)
      const landed = this.flying.filter((f) => f.atMs <= this.nowMs)
      this.flying = this.flying.filter((f) => f.atMs > this.nowMs)
      for (const { act } of landed) act()
      this.back(this.camera.poll())
      if (this.session.nextAtMs(this.nowMs) <= this.nowMs) this.session.advance(this.nowMs)
      for (const bytes of this.session.takeDatagrams()) {
        this.fly(this.toCamera, () => this.back(this.camera.receive(bytes)))
      }
      this.events.push(...this.session.takeEvents())
      if (this.nowMs % 100 === 0) this.session.ask('ptPosition', this.nowMs)
    }
  }

  fate(id: number): SessionEvent['type'] | undefined {
    return this.events.find((e) => 'id' in e && e.id === id && e.type !== 'completed' && e.type !== 'sent')
      ?.type
  }

  times(command: ViscaCommand): number {
    return this.camera.device.performed.filter((p) => JSON.stringify(p.command) === JSON.stringify(command))
      .length
  }
}

const store = (slot: number): ViscaCommand => ({ kind: 'memory', action: 'set', slot })
const QUEUED = { lanes: [], urgency: 'queued' } as const

const SEEDS = Array.from({ length: 20 }, (_, i) => i + 1)

test('20 seeds: each command takes effect once, or is reported failed', () => {
  let accepted = 0
  for (const seed of SEEDS) {
    const world = new World({ ...BAD, seed })
    const random = seeded(seed)
    const sent: [number, ViscaCommand][] = []
    world.run(1500)
    for (let slot = 0; slot < 25; slot++) {
      const command = store(slot)
      sent.push([world.session.send(command, QUEUED, world.nowMs), command])
      world.run(random() * 1200)
    }
    world.run(6000)
    for (const [id, command] of sent) {
      const fate = world.fate(id)
      const where = `seed ${seed}, command ${id}: ${fate}, performed ${world.times(command)} times`
      if (fate === 'accepted') accepted += 1
      else if (fate !== 'failed') throw new Error(where)
      if (world.times(command) > 1 || (fate === 'accepted' && world.times(command) !== 1))
        throw new Error(where)
    }
  }
  // The network is bad, not dead: nearly all of them arrive.
  expect(accepted / (25 * SEEDS.length)).toBeGreaterThan(0.9)
})

test.each(Array.from({ length: 25 }, (_, i) => i + 101))(
  'seed %i: after the last stop the head stands still',
  (seed) => {
    const world = new World({ ...BAD, seed })
    const random = seeded(seed)
    world.run(1500)
    const drive = (pan: -1 | 0 | 1, step: number) =>
      world.session.send(
        { kind: 'ptDrive', panStep: step, tiltStep: 1, pan, tilt: 0 },
        { lanes: ['panTilt'], urgency: pan === 0 ? 'stop' : 'drive' },
        world.nowMs,
      )
    for (let i = 0; i < 60; i++) {
      drive(random() < 0.5 ? 1 : -1, 1 + Math.floor(random() * 24))
      world.run(20)
    }
    const stop = drive(0, 1)
    world.run(3000)
    expect(world.fate(stop)).toBe('accepted')
    expect(world.head.moving).toBe(false)
    expect(world.session.stopPending).toBe(false)
  },
)

test('a healthy link: a stick reaches the camera at once, newest first, no faster than its rate', () => {
  const world = new World(NO_FAULTS)
  world.run(100)
  const before = world.camera.device.performed.length
  for (let i = 0; i < 500; i++) {
    const step = 1 + (i % 24)
    const command: ViscaCommand = { kind: 'ptDrive', panStep: step, tiltStep: 1, pan: 1, tilt: 0 }
    world.session.send(command, { lanes: ['panTilt'], urgency: 'drive' }, world.nowMs)
    world.run(4)
  }
  const count = world.camera.device.performed.length - before
  // 2 s at one packet in 20 ms, and a burst of four.
  expect(count).toBeGreaterThanOrEqual(97)
  expect(count).toBeLessThanOrEqual(104)
})

test('buffer full is tried again until there is room; a refusal is told as it is', () => {
  const world = new World(NO_FAULTS)
  world.run(100)
  world.camera.device.bufferFull = true
  const id = world.session.send(store(3), QUEUED, world.nowMs)
  world.run(600)
  expect(world.fate(id)).toBeUndefined()
  world.camera.device.bufferFull = false
  world.run(200)
  expect(world.fate(id)).toBe('accepted')
  world.head.standby()
  const refused = world.session.send(
    { kind: 'zoomTo', position: 100 },
    { lanes: ['zoom'], urgency: 'queued' },
    world.nowMs,
  )
  world.run(100)
  expect(world.events).toContainEqual(
    expect.objectContaining({ type: 'failed', id: refused, reason: 'not-executable' }),
  )
})

test('both sockets busy: a third command waits, a stop takes the place of the move it ends', () => {
  const world = new World(NO_FAULTS)
  world.run(100)
  const far: ViscaCommand = { kind: 'ptAbsolute', panStep: 1, tiltStep: 1, pan: 8000, tilt: 0 }
  world.session.send(far, { lanes: ['panTilt'], urgency: 'queued' }, world.nowMs)
  world.session.send({ kind: 'zoomTo', position: 16000 }, { lanes: ['zoom'], urgency: 'queued' }, world.nowMs)
  world.run(50)
  const third = world.session.send(store(9), QUEUED, world.nowMs)
  world.run(300)
  expect(world.fate(third)).toBeUndefined()
  const stop: ViscaCommand = { kind: 'ptDrive', panStep: 1, tiltStep: 1, pan: 0, tilt: 0 }
  const stopId = world.session.send(stop, { lanes: ['panTilt'], urgency: 'stop' }, world.nowMs)
  world.run(300)
  expect(world.fate(stopId)).toBe('accepted')
  expect(world.head.pan.moving).toBe(false)
  expect(world.fate(third)).toBe('accepted')
})

test('a new recall overtakes an order that waits for room in the camera', () => {
  const world = new World(NO_FAULTS)
  world.run(100)
  const goTo = (pan: number): ViscaCommand => ({ kind: 'ptAbsolute', panStep: 2, tiltStep: 2, pan, tilt: 0 })
  const move = (pan: number) =>
    world.session.send(goTo(pan), { lanes: ['panTilt'], urgency: 'queued' }, world.nowMs)
  move(9000)
  world.session.send({ kind: 'zoomTo', position: 16000 }, { lanes: ['zoom'], urgency: 'queued' }, world.nowMs)
  world.session.send({ kind: 'focusMode', auto: false }, QUEUED, world.nowMs)
  world.run(100)
  const next = move(-9000)
  world.run(20)
  expect(world.fate(next)).toBe('accepted')
})

test('a silent camera: told at once, nothing fires later, the stop goes first when it is back', () => {
  const world = new World(NO_FAULTS)
  world.run(100)
  const pan: ViscaCommand = { kind: 'ptDrive', panStep: 5, tiltStep: 1, pan: 1, tilt: 0 }
  world.session.send(pan, { lanes: ['panTilt'], urgency: 'drive' }, world.nowMs)
  world.run(100)
  const mute = { ...NO_FAULTS, mute: true }
  world.toCamera.set(mute)
  world.run(3000)
  expect(world.session.state).toBe('silent')
  world.session.send({ ...pan, pan: 0 }, { lanes: ['panTilt'], urgency: 'stop' }, world.nowMs)
  const recall = world.session.send(store(5), QUEUED, world.nowMs)
  world.run(1000)
  expect(world.events).toContainEqual(
    expect.objectContaining({ type: 'failed', id: recall, reason: 'silent' }),
  )
  world.toCamera.set(NO_FAULTS)
  world.run(2500)
  expect(world.session.state).toBe('ready')
  expect(world.session.reconnects).toBe(1)
  expect(world.head.moving).toBe(false)
  expect(world.times(store(5))).toBe(0)
})

test('a resend is answered again and not acted on again; an unseen older number is refused', () => {
  const world = new World(NO_FAULTS)
  world.run(100)
  world.session.send(store(1), QUEUED, world.nowMs)
  world.session.advance(world.nowMs)
  const [datagram] = world.session.takeDatagrams().slice(-1)
  const first = world.camera.receive(datagram!)
  expect(world.camera.receive(datagram!)).toEqual(first)
  expect(world.times(store(1))).toBe(1)
  const older = Uint8Array.from(datagram!)
  new DataView(older.buffer).setUint32(4, 0)
  expect([...world.camera.receive(older)[0]!.slice(-2)]).toEqual([0x0f, 0x01])
})

test('a reset by another client counts, also under a number that the first has used', () => {
  const { camera } = new World(NO_FAULTS)
  const reset = Uint8Array.of(0x02, 0, 0, 1, 0, 0, 0, 7, 0x01)
  const command = (sequence: number) => Uint8Array.of(1, 0, 0, 5, 0, 0, 0, sequence, 0x81, 1, 4, 7, 0xff)
  const outOfOrder = (answers: Uint8Array[]) => answers.some((a) => a.at(-2) === 0x0f && a.at(-1) === 0x01)
  camera.receive(reset, 'first')
  camera.receive(command(9), 'first')
  expect(outOfOrder(camera.receive(command(3), 'first'))).toBe(true)
  // The same client's reset again is a copy on the network.
  camera.receive(reset, 'first')
  expect(outOfOrder(camera.receive(command(4), 'first'))).toBe(true)
  camera.receive(reset, 'second')
  expect(outOfOrder(camera.receive(command(1), 'second'))).toBe(false)
})

test('random bytes crash neither end, and the conversation goes on', () => {
  const world = new World(NO_FAULTS)
  const random = seeded(5)
  world.run(100)
  for (let i = 0; i < 20_000; i++) {
    const bytes = Uint8Array.from({ length: Math.floor(random() * 24) }, () => Math.floor(random() * 256))
    // Half of them begin like a true datagram, to get past the first check.
    if (i % 2 && bytes.length > 8) bytes.set([1, i % 4 < 2 ? 0x11 : 0, 0, bytes.length - 8, 0, 0, 0, i % 50])
    world.session.receive(bytes, world.nowMs)
    world.camera.receive(bytes)
  }
  world.session.takeEvents()
  world.run(3000)
  const id = world.session.send(store(1), QUEUED, world.nowMs)
  world.run(3000)
  expect(world.fate(id)).toBe('accepted')
})
