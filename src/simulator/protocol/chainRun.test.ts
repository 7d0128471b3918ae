/** A serial chain under trouble, in virtual time: the bytes take their time, noise and cuts come from a seed. */
import { headProfile } from '../../core/heads/registry'
import { seeded } from '../../core/seeded'
import { ViscaChain } from '../../core/visca/chain'
import type { ViscaCommand } from '../../core/visca/commands'
import type { SessionEvent } from '../../core/visca/sessionTypes'
import { PacketStream } from '../../core/visca/stream'
import { Head } from '../body/head'
import { ChainResponder } from './chain'
import { ViscaDevice } from './device'
import { type Faults, FaultyPath, NO_FAULTS } from './faults'

const BAUD = 9600
const MS_PER_BYTE = 10_000 / BAUD

/** Carries bytes one after the other, as a line does. */
class Wire {
  private freeAtMs = 0
  private flying: { atMs: number; bytes: number[] }[] = []
  cut = false

  constructor(private readonly path: FaultyPath) {}

  put(packet: Uint8Array, nowMs: number): void {
    if (this.cut) return
    const bytes = [...packet].flatMap((byte) => [...this.path.noise(), byte])
    this.freeAtMs = Math.max(nowMs, this.freeAtMs) + bytes.length * MS_PER_BYTE
    this.flying.push({ atMs: this.freeAtMs, bytes })
  }

  take(nowMs: number): Uint8Array {
    const landed = this.flying.filter((f) => f.atMs <= nowMs)
    this.flying = this.flying.filter((f) => f.atMs > nowMs)
    return Uint8Array.from(this.cut ? [] : landed.flatMap((f) => f.bytes))
  }
}

class World {
  nowMs = 0
  readonly chain = new ViscaChain(BAUD)
  readonly heads: Head[]
  readonly devices: ViscaDevice[]
  readonly responder: ChainResponder
  readonly events: (SessionEvent & { address: number })[] = []
  readonly written: { atMs: number; packet: Uint8Array }[] = []
  readonly there: Wire
  readonly back: Wire
  private readonly far = new PacketStream()

  constructor(
    readonly count: number,
    faults: Faults = NO_FAULTS,
  ) {
    const profile = headProfile('sedge-10x')
    this.heads = Array.from(
      { length: count },
      () => new Head(profile, { panDeg: 0, tiltDeg: 0, zoom: 0 }, () => 8, 0),
    )
    this.devices = this.heads.map((head) => new ViscaDevice(head))
    this.responder = new ChainResponder(this.devices)
    this.there = new Wire(new FaultyPath({ ...faults, seed: faults.seed * 2 }))
    this.back = new Wire(new FaultyPath({ ...faults, seed: faults.seed * 2 + 1 }))
    for (let address = 1; address <= count; address++) this.chain.session(address)
  }

  run(ms: number, every: () => void = () => {}): void {
    for (const end = this.nowMs + ms; this.nowMs < end; this.nowMs += 1) {
      const { nowMs } = this
      for (const head of this.heads) head.advance(nowMs)
      every()
      for (const packet of this.far.push(this.there.take(nowMs)))
        for (const reply of this.responder.receive(packet)) this.back.put(reply, nowMs)
      for (const reply of this.responder.poll()) this.back.put(reply, nowMs)
      this.chain.receive(this.back.take(nowMs), nowMs)
      this.chain.advance(nowMs)
      const packet = this.chain.next(nowMs)
      if (packet) {
        this.written.push({ atMs: nowMs, packet })
        this.there.put(packet, nowMs)
      }
      for (let address = 1; address <= this.count; address++) {
        const session = this.chain.session(address)
        this.events.push(...session.takeEvents().map((e) => ({ ...e, address })))
        if (nowMs % 150 === 0) session.ask('ptPosition', nowMs)
      }
    }
  }

  send(address: number, command: ViscaCommand, urgency: 'stop' | 'drive' | 'queued' = 'queued'): number {
    return this.chain.session(address).send(command, { lanes: ['panTilt'], urgency }, this.nowMs)
  }

  drive(address: number, pan: -1 | 0 | 1, step = 9): number {
    const command: ViscaCommand = { kind: 'ptDrive', panStep: step, tiltStep: 1, pan, tilt: 0 }
    return this.send(address, command, pan === 0 ? 'stop' : 'drive')
  }

  fates(address: number, id: number): string[] {
    return this.events.filter((e) => e.address === address && 'id' in e && e.id === id).map((e) => e.type)
  }

  states(address: number): string[] {
    return this.events.flatMap((e) => (e.address === address && e.type === 'state' ? [e.state] : []))
  }
}

const goTo = (pan: number): ViscaCommand => ({ kind: 'ptAbsolute', panStep: 18, tiltStep: 18, pan, tilt: 0 })

test('the cameras get their addresses, and one is driven while the other recalls', () => {
  const world = new World(2)
  world.run(1500)
  expect(world.chain.count).toBe(2)
  const recall = world.send(2, goTo(800))
  world.run(2500, () => world.nowMs % 20 === 0 && world.drive(1, 1, 1 + ((world.nowMs / 20) % 12)))
  expect(world.fates(2, recall)).toEqual(['accepted', 'completed'])
  expect(world.heads[1]!.pan.position).toBeCloseTo(800 / headProfile('sedge-10x').pan.unitsPerDeg, 6)
  expect(world.heads[0]!.pan.position).toBeGreaterThan(5)
  world.drive(1, 0)
  world.run(600)
  expect(world.heads[0]!.moving).toBe(false)
})

test('seven cameras on a full line: each gets its turn, poses stay known, a stop goes out with the next packet', () => {
  const world = new World(7)
  world.run(2500)
  const from = world.written.length
  const waits: number[] = []
  let stopAt: { atMs: number; address: number } | null = null
  const random = seeded(4)
  world.run(12_000, () => {
    const { nowMs } = world
    if (nowMs % 20 === 0)
      for (let a = 1; a <= 7; a++) if (stopAt?.address !== a) world.drive(a, 1, 1 + ((nowMs / 20 + a) % 12))
    if (!stopAt && random() < 0.004) {
      stopAt = { atMs: nowMs, address: 1 + Math.floor(random() * 7) }
      world.drive(stopAt.address, 0)
    }
    const last = world.written[world.written.length - 1]!.packet
    if (stopAt && last[0] === 0x80 + stopAt.address && last[2] === 0x06 && last[6] === 3) {
      waits.push(nowMs - stopAt.atMs)
      stopAt = null
    }
  })
  expect(waits.length).toBeGreaterThan(20)
  expect(Math.max(...waits)).toBeLessThan(25)
  const drives = Array.from(
    { length: 7 },
    (_, i) =>
      world.written.slice(from).filter(({ packet }) => packet[0] === 0x81 + i && packet[3] === 0x01).length,
  )
  expect(Math.min(...drives)).toBeGreaterThan(0.7 * Math.max(...drives))
  for (let a = 1; a <= 7; a++)
    expect(world.events.filter((e) => e.address === a && e.type === 'answer').length).toBeGreaterThan(8)
})

test.each(Array.from({ length: 12 }, (_, i) => i + 1))(
  'noise on the line, seed %i: stops get through, orders are done or reported',
  (seed) => {
    const world = new World(3, { ...NO_FAULTS, garbageRate: 0.02, seed })
    const random = seeded(seed)
    const orders: [number, number][] = []
    world.run(2500)
    for (let i = 0; i < 40; i++) {
      const address = 1 + Math.floor(random() * 3)
      if (i % 5 === 0) orders.push([address, world.send(address, goTo(Math.round(random() * 2000 - 1000)))])
      else world.drive(address, random() < 0.5 ? 1 : -1, 1 + Math.floor(random() * 12))
      world.run(random() * 160)
    }
    for (let a = 1; a <= 3; a++) world.drive(a, 0)
    world.run(5000)
    expect(world.heads.map((head) => head.moving)).toEqual([false, false, false])
    for (const [address, id] of orders)
      expect(
        world.fates(address, id).some((fate) => ['accepted', 'failed', 'superseded'].includes(fate)),
      ).toBe(true)
    expect([1, 2, 3].map((a) => world.chain.session(a).state)).toEqual(['ready', 'ready', 'ready'])
  },
)

test('the cable is out for 10 s in mid-drive: silent, then back, stopped first and read again', () => {
  const world = new World(2)
  world.run(1500)
  world.drive(1, 1, 3)
  world.run(200)
  world.there.cut = true
  world.back.cut = true
  world.drive(1, 0)
  world.run(10_000)
  expect(world.chain.session(1).state).toBe('silent')
  expect(world.heads[0]!.moving).toBe(true)
  // What is asked of a silent camera is refused at once and does not fire later.
  const refused = world.send(2, goTo(900))
  world.run(5)
  expect(world.fates(2, refused)).toEqual(['failed'])
  world.there.cut = false
  world.back.cut = false
  const answersBefore = world.events.filter((e) => e.type === 'answer').length
  world.run(4000)
  expect([1, 2].map((a) => world.chain.session(a).state)).toEqual(['ready', 'ready'])
  expect(world.heads.map((h) => [h.moving, Math.round(h.pan.position)])).toEqual([
    [false, Math.round(world.heads[0]!.pan.position)],
    [false, 0],
  ])
  expect(world.events.filter((e) => e.type === 'answer').length).toBeGreaterThan(answersBefore)
})

test('a camera in the middle reboots: those behind it are gone meanwhile, then all are addressed again', () => {
  const world = new World(3)
  world.run(1500)
  const [, middle] = world.responder.links
  middle!.on = false
  world.run(4000)
  expect(world.chain.session(1).state).toBe('ready')
  expect([2, 3].map((a) => world.chain.session(a).state)).toEqual(['silent', 'silent'])
  middle!.on = true
  for (const packet of world.responder.rebooted(world.devices[1]!)) world.back.put(packet, world.nowMs)
  world.run(4000)
  expect(world.chain.count).toBe(3)
  expect([1, 2, 3].map((a) => world.chain.session(a).state)).toEqual(['ready', 'ready', 'ready'])
  expect(world.states(1).filter((s) => s === 'silent')).toEqual([])
})

test('a camera that acknowledges and never completes holds up neither itself nor its neighbour', () => {
  const world = new World(2)
  world.run(1500)
  world.devices[0]!.neverComplete = true
  const stuck = world.send(1, goTo(700))
  world.run(800)
  const other = world.send(2, goTo(700))
  const next = world.send(1, goTo(-700))
  world.run(4000)
  expect(world.fates(1, stuck)).toContain('accepted')
  expect(world.fates(2, other)).toEqual(['accepted', 'completed'])
  expect(world.fates(1, next)).toEqual(['accepted'])
  expect(world.heads[0]!.pan.position).toBeCloseTo(-700 / headProfile('sedge-10x').pan.unitsPerDeg, 6)
})
