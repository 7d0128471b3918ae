/**
 * The cameras of the demo, each over its own link and protocol, with the real drivers and in virtual time: the stand-ins'
 * bodies and what they answer, without their sockets.
 */
import { readFileSync } from 'node:fs'
import * as v from 'valibot'
import { CommandSet } from '../core/commands/commandSet'
import { isUsable } from '../core/facts/health'
import { positionFormat } from '../core/heads/profile'
import { headProfile } from '../core/heads/registry'
import { ALL_PARTS } from '../core/presets/pace'
import { seeded } from '../core/seeded'
import { FramedSession } from '../core/visca/framedSession'
import { RawSession } from '../core/visca/rawSession'
import type { StopParts } from '../core/visca/stopPackets'
import { PacketStream } from '../core/visca/stream'
import type { Body } from '../server/cameras/body'
import { CommandBody } from '../server/cameras/commands/commandBody'
import { openWire } from '../server/cameras/commands/wire'
import { DeviceFault } from '../server/cameras/deviceFault'
import { OneCamera } from '../server/cameras/oneCamera'
import { OnvifClient } from '../server/cameras/onvif/client'
import { OnvifBody } from '../server/cameras/onvif/onvifBody'
import { HandClock } from '../server/cameras/testing/handClock'
import { Way } from '../server/cameras/testing/way'
import { SerialLine } from '../server/cameras/visca/serialLine'
import { ViscaBody } from '../server/cameras/visca/viscaBody'
import { OwnPort, type ViscaPort } from '../server/cameras/visca/viscaPort'
import type { Requests } from '../server/links/http'
import { barnSpecs, ONVIF_LOGIN } from '../simulator/barnCameras'
import { Head } from '../simulator/body/head'
import { OnvifActions } from '../simulator/onvif/actions'
import { OnvifAnswers } from '../simulator/onvif/onvifAnswers'
import { ChainResponder } from '../simulator/protocol/chain'
import { ViscaDevice } from '../simulator/protocol/device'
import { LensAnswers } from '../simulator/protocol/lensAnswers'
import { ViscaResponder } from '../simulator/protocol/responder'
import { raw } from '../simulator/protocol/wireProtocol'
import { type FollowRig, poseOf } from './follow'
import { type Asked, HELD_UP, type Move, movesOf } from './followMoves'
import { type FarEnd, type Over, WayLink } from './wayLink'

/** How often a stand-in looks whether anything has come due, ms. */
const POLL_MS = 8
const NET = '127.0.84'
const WHOLE: StopParts = { head: true, lens: true }
const SET = v.parse(CommandSet, JSON.parse(readFileSync('demo/wharf-lens.json', 'utf8')))
const TIMEOUT_MS = 1500

const specOf = (id: string) => barnSpecs(NET).find((spec) => spec.id === id)!
type Spec = ReturnType<typeof specOf>

interface World {
  clock: HandClock
  way: Way
  /** Over a connection, or in requests, what is lost is late instead. */
  connection: Way
}

const headOf = (spec: Spec, { clock }: World) =>
  new Head(headProfile(spec.profile), spec.start, () => 8, clock.now(), spec.cast)

const bytesOf = (all: readonly Uint8Array[]) => all.map((bytes) => [...bytes])

/** Numbered or single packets in datagrams. */
const datagrams = (
  head: Head,
  { receive, poll }: { receive(bytes: Uint8Array): Uint8Array[]; poll(): Uint8Array[] },
): FarEnd => ({
  take(bytes, nowMs) {
    head.advance(nowMs)
    return bytesOf(receive(Uint8Array.from(bytes)))
  },
  poll(nowMs) {
    head.advance(nowMs)
    return bytesOf(poll())
  },
})

/** Packets in a stream. */
function stream(
  heads: readonly Head[],
  { receive, poll }: { receive(packet: Uint8Array): Uint8Array[]; poll(): Uint8Array[] },
  lost: () => boolean = () => false,
): FarEnd {
  const packets = new PacketStream()
  const out = (all: readonly Uint8Array[]) => bytesOf(all.filter(() => !lost()))
  return {
    take(bytes, nowMs) {
      for (const head of heads) head.advance(nowMs)
      return packets.push(Uint8Array.from(bytes)).flatMap((packet) => out(receive(packet)))
    },
    poll(nowMs) {
      for (const head of heads) head.advance(nowMs)
      return out(poll())
    },
  }
}

/** @param answer status and text */
const requests =
  (
    { clock, connection }: World,
    answerMs: number,
    answer: (url: URL, body: string) => [number, string],
  ): Requests =>
  (order) =>
    new Promise((resolve, reject) => {
      const late = () => reject(new DeviceFault('network', 'No answer.', 'ETIMEDOUT'))
      const forget = clock.after(order.timeoutMs ?? TIMEOUT_MS, late)
      clock.after((connection.resent() ?? TIMEOUT_MS) + answerMs, () => {
        const [status, text] = answer(order.url, order.body ?? '')
        clock.after(connection.resent() ?? TIMEOUT_MS, () => {
          forget()
          resolve({ status, headers: {}, body: Buffer.from(text) })
        })
      })
    })

function viscaBody(spec: Spec, port: ViscaPort, { clock }: World, parts = WHOLE): ViscaBody {
  const profile = headProfile(spec.profile)
  return new ViscaBody({ profile, address: 'x', parts, slowMs: 700, holdMs: 20 }, port, clock)
}

const sessionOf = (spec: Spec) => {
  const profile = headProfile(spec.profile)
  return { gapMs: profile.gapMs, positions: positionFormat(profile) }
}

function ownPort(over: Over, end: FarEnd, spec: Spec, { clock, way, connection }: World): ViscaPort {
  const link = new WayLink(over, end, over === 'tcp' ? connection : way, clock, POLL_MS)
  const session =
    over === 'framed'
      ? new FramedSession({ ...sessionOf(spec), nonce: 7 })
      : new RawSession({ ...sessionOf(spec), connected: over === 'tcp' })
  return new OwnPort(session, link, clock)
}

interface Made {
  head: Head
  parts: { head: Body; lens: Body }
  /** The other camera of its line. */
  beside?: OneCamera
}

const whole = (head: Head, body: Body): Made => ({ head, parts: { head: body, lens: body } })
const EVENTS = { fact: () => {}, notice: () => {} }

/** Both cameras of the line; while one is measured the other moves as well. */
function onTheChain(id: string, world: World): Made {
  const specs = ['lectern', 'trio'].map(specOf)
  const heads = specs.map((spec) => headOf(spec, world))
  const devices = heads.map((head) => new ViscaDevice(head))
  const chain = new ChainResponder(devices)
  const end = stream(
    heads,
    { receive: (packet) => chain.receive(packet), poll: () => chain.poll() },
    () => !world.way.passes(),
  )
  const link = new WayLink('serial', end, world.way, world.clock, POLL_MS)
  const line = new SerialLine({ path: 'x', baud: 9600, format: '8N1' }, link, world.clock)
  const bodies = specs.map((spec, i) => viscaBody(spec, line.join(i + 1), world))
  const mine = id === 'lectern' ? 0 : 1
  const other = bodies[1 - mine]!
  const beside = new OneCamera(
    headProfile(specs[1 - mine]!.profile),
    { head: other, lens: other },
    EVENTS,
    world.clock,
  )
  return { ...whole(heads[mine]!, bodies[mine]!), beside }
}

function overVisca(over: Over, spec: Spec, world: World): Made {
  const head = headOf(spec, world)
  const device = new ViscaDevice(head)
  const responder = new ViscaResponder(head)
  const end =
    over === 'framed'
      ? datagrams(head, { receive: (bytes) => responder.receive(bytes, 'us'), poll: () => responder.poll() })
      : stream([head], {
          receive: (packet) => device.receive(packet, 0).map((r) => r.packet),
          poll: () => device.poll().map((r) => r.packet),
        })
  return whole(head, viscaBody(spec, ownPort(over, end, spec, world), world))
}

function overOnvif(spec: Spec, world: World): Made {
  const head = headOf(spec, world)
  const { clock } = world
  const options = { host: spec.host, port: 80, name: spec.id, ...ONVIF_LOGIN, streamUrl: '', snapshotUrl: '' }
  const answers = new OnvifAnswers(options, head, new OnvifActions(head, clock), clock)
  const send = requests(world, spec.answerMs, (url, body) => answers.answer(url.pathname, body))
  const client = new OnvifClient({ host: spec.host, port: 80, ...ONVIF_LOGIN }, clock.wall, send)
  return whole(head, new OnvifBody(headProfile(spec.profile), 'x', client, clock))
}

/** The head takes single packets, the lens plain requests. */
function asRig(spec: Spec, world: World): Made {
  const head = headOf(spec, world)
  const { clock } = world
  const device = raw(head, { lens: false })
  const end = datagrams(head, {
    receive: (bytes) => device.receive(bytes, 'us'),
    poll: () => device.poll(),
  })
  const turns = viscaBody(spec, ownPort('raw', end, spec, world), world, { head: true, lens: false })
  const answers = new LensAnswers(head)
  const send = requests(world, spec.answerMs, (url) => answers.answer(url, clock.now()))
  const address = { host: spec.host, port: 80, user: '', password: '' }
  const lens = new CommandBody(
    SET,
    headProfile(spec.profile),
    { head: false, lens: true },
    address,
    openWire(SET, address, send),
    clock,
  )
  return { head, parts: { head: turns, lens } }
}

const MAKE = {
  gallery: (world: World) => overVisca('framed', specOf('gallery'), world),
  'stage-left': (world: World) => overVisca('tcp', specOf('stage-left'), world),
  lectern: (world: World) => onTheChain('lectern', world),
  trio: (world: World) => onTheChain('trio', world),
  benches: (world: World) => overOnvif(specOf('benches'), world),
  scoreboard: (world: World) => asRig(specOf('scoreboard'), world),
}
export type BarnHead = keyof typeof MAKE
export const BARN_HEADS = Object.keys(MAKE) as BarnHead[]

/** @param loss 0..1 of the packets, each way; over a connection that many come late, but no more than `HELD_UP` */
export async function barnMoves(
  id: BarnHead,
  asked: Asked & { loss: number; plain: boolean },
): Promise<Move[]> {
  const random = seeded(asked.seed + 1)
  const clock = new HandClock()
  const world = { clock, way: new Way(random), connection: new Way(random) }
  const { head, parts, beside } = MAKE[id](world)
  const shipped = headProfile(specOf(id).profile)
  const profile = asked.plain ? { ...shipped, moves: 'absolute' as const } : shipped
  const camera = new OneCamera(profile, parts, EVENTS, clock)
  const { wide, tele } = head.lens
  const rig: FollowRig = {
    ...{ camera, clock, profile },
    stepDeg: 1 / Math.min(profile.pan.unitsPerDeg, profile.tilt.unitsPerDeg),
    truth() {
      head.advance(clock.now())
      const zoom = (head.zoom.position - wide) / (tele - wide)
      return { pan: head.pan.position, tilt: head.tilt.position, zoom }
    },
  }
  for (let ms = 0; !isUsable(camera.health.state); ms += 100) {
    if (ms > 10_000) throw new Error(`${id} does not connect`)
    await clock.run(100)
  }
  await clock.run(3000)
  world.way.loss = asked.loss
  world.connection.loss = Math.min(asked.loss, HELD_UP)
  return movesOf(rig, asked, (seconds) => {
    const pose = poseOf(rig, {
      pan: 40 * (random() - 0.5),
      tilt: 20 * (random() - 0.5),
      zoom: 0.7 * random(),
    })
    const pace = { kind: 'timed', seconds } as const
    void beside?.recall({ id: 'b', pose, light: null, pace, parts: ALL_PARTS, hold: false })
  })
}
