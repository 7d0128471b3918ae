/** The real driver and an independent camera at the two ends of a bad way, in virtual time. */
import { type HeadProfile, opened, positionFormat } from '../core/heads/profile'
import { headProfile } from '../core/heads/registry'
import { seeded } from '../core/seeded'
import { FramedSession } from '../core/visca/framedSession'
import { RawSession } from '../core/visca/rawSession'
import { OneCamera } from '../server/cameras/oneCamera'
import { HandClock } from '../server/cameras/testing/handClock'
import { Way } from '../server/cameras/testing/way'
import { SerialLine } from '../server/cameras/visca/serialLine'
import { ViscaBody } from '../server/cameras/visca/viscaBody'
import { OwnPort, type ViscaPort } from '../server/cameras/visca/viscaPort'
import { FieldFraming, type FramingOddities } from '../simulator/independent/fieldFraming'
import { FieldHead, type HeadTraits } from '../simulator/independent/fieldHead'
import { FieldVisca, type ViscaOddities } from '../simulator/independent/fieldVisca'
import { type FarEnd, type Over, WayLink } from './wayLink'

export interface Odd {
  visca?: Partial<ViscaOddities>
  framing?: Partial<FramingOddities>
  head?: Partial<HeadTraits>
  /** Serial: its address is set by a switch, and no address set ever returns. */
  fixedAddress?: number
}

const POLL_MS = 10

/** The independent camera at the far end: packets alone, or with numbers. */
class FieldEnd implements FarEnd {
  private held: number[] = []

  constructor(
    private readonly over: Over,
    private readonly camera: FieldVisca,
    private readonly framing: FieldFraming,
    private readonly odd: Odd,
  ) {
    camera.address = over === 'serial' ? (odd.fixedAddress ?? 1) : 1
  }

  poll(nowMs: number): number[][] {
    return this.over === 'framed' ? this.framing.poll(nowMs) : this.camera.poll(nowMs).map((a) => a.bytes)
  }

  take(bytes: number[], nowMs: number): number[][] {
    if (this.over === 'framed') return this.framing.receive(bytes, nowMs)
    const answers: number[][] = []
    this.held.push(...bytes)
    for (let end = this.held.indexOf(0xff); end >= 0; end = this.held.indexOf(0xff))
      answers.push(...this.packet(this.held.splice(0, end + 1), nowMs))
    return answers
  }

  private packet(packet: number[], nowMs: number): number[][] {
    if (this.over === 'serial' && packet[0] === 0x88) {
      if (packet[1] === 0x30 && this.odd.fixedAddress === undefined) return [[0x88, 0x30, 0x02, 0xff]]
      if (packet[1] !== 0x01) return []
      this.camera.receive([0x81, 0x01, 0x00, 0x01, 0xff], 0, nowMs)
      return [packet]
    }
    if (this.over === 'serial' && (packet[0]! & 0x07) !== this.camera.address) return []
    return this.camera.receive(packet, 0, nowMs).map((a) => a.bytes)
  }
}

export interface RigOptions {
  over: Over
  odd?: Odd
  seed?: number
  profile?: HeadProfile
  confirmed?: boolean
}

export function fieldRig({ over, odd = {}, seed = 1, confirmed = false, ...options }: RigOptions) {
  const clock = new HandClock()
  const random = seeded(seed)
  const way = new Way(random)
  const head = new FieldHead(odd.head ?? {}, clock.now())
  const visca = new FieldVisca(head, odd.visca)
  const end = new FieldEnd(over, visca, new FieldFraming(visca, odd.framing), odd)
  const link = new WayLink(over, end, way, clock, POLL_MS)
  const given = options.profile ?? headProfile('common-20x')
  const profile = confirmed ? given : opened(given)
  const session = { gapMs: profile.gapMs, positions: positionFormat(profile) }
  const port = (): ViscaPort => {
    if (over === 'serial') {
      const line = new SerialLine({ path: 'x', baud: 9600, format: '8N1' }, link, clock)
      return line.join(odd.fixedAddress ?? 1)
    }
    const own =
      over === 'framed'
        ? new FramedSession({ ...session, nonce: seed })
        : new RawSession({ ...session, connected: over === 'tcp' })
    return new OwnPort(own, link, clock)
  }
  const body = new ViscaBody(
    { profile, address: 'x', parts: { head: true, lens: true }, slowMs: 700, holdMs: 20 },
    port(),
    clock,
  )
  const notices: string[] = []
  const events = { fact: () => {}, notice: (text: string) => notices.push(text) }
  const camera = new OneCamera(profile, { head: body, lens: body }, events, clock, !confirmed)
  /** Runs until it is so. @returns ms that it took */
  const until = async (what: () => boolean, withinMs: number, name = 'it') => {
    const from = clock.now()
    while (!what()) {
      if (clock.now() - from > withinMs) throw new Error(`${name}: not within ${withinMs} ms`)
      await clock.run(10)
    }
    return clock.now() - from
  }
  const truth = () => head.read(clock.now())
  const { panSteps, tiltSteps } = head.traits
  const stepDeg = 1 / Math.min(Math.abs(panSteps), Math.abs(tiltSteps))
  return { clock, random, way, head, visca, body, camera, notices, until, truth, profile, stepDeg }
}

export type FieldRig = ReturnType<typeof fieldRig>
