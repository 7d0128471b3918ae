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
import type { Link } from '../server/links/link'
import { FieldFraming, type FramingOddities } from '../simulator/independent/fieldFraming'
import { FieldHead, type HeadTraits } from '../simulator/independent/fieldHead'
import { FieldVisca, type ViscaOddities } from '../simulator/independent/fieldVisca'

export type Over = 'framed' | 'raw' | 'tcp' | 'serial'

export interface Odd {
  visca?: Partial<ViscaOddities>
  framing?: Partial<FramingOddities>
  head?: Partial<HeadTraits>
  /** Serial: its address is set by a switch, and no address set ever returns. */
  fixedAddress?: number
}

const POLL_MS = 10
/** Bytes of a serial line take their time: ten bits each at 9600. */
const MS_PER_BYTE = 10 / 9.6

/** The camera's end of a link. */
class FieldLink implements Link {
  private receive: (bytes: Uint8Array) => void = () => {}
  private opened: () => void = () => {}
  private held: number[] = []
  private lastThereMs = 0
  private lastBackMs = 0

  constructor(
    private readonly over: Over,
    private readonly camera: FieldVisca,
    private readonly framing: FieldFraming,
    private readonly odd: Odd,
    private readonly way: Way,
    private readonly clock: HandClock,
  ) {
    camera.address = over === 'serial' ? (odd.fixedAddress ?? 1) : 1
    const tick = () => {
      const now = clock.now()
      if (over === 'framed') for (const bytes of framing.poll(now)) this.back(bytes)
      else for (const { bytes } of camera.poll(now)) this.back(bytes)
      clock.after(POLL_MS, tick)
    }
    clock.after(POLL_MS, tick)
  }

  onReceive(listener: (bytes: Uint8Array) => void) {
    this.receive = listener
  }
  onTrouble() {}
  onOpen(listener: () => void) {
    this.opened = listener
  }
  renew() {
    if (this.over === 'tcp') this.opened()
  }
  close() {}

  send(bytes: Uint8Array): void {
    const delay = this.delay(bytes.length)
    if (delay === null) return
    const at = this.inOrder('lastThereMs', delay)
    this.clock.after(at, () => this.arrive([...bytes]))
  }

  private get ordered(): boolean {
    return this.over === 'tcp' || this.over === 'serial'
  }

  /** Null if it is lost. */
  private delay(bytes: number): number | null {
    if (this.over === 'serial') return bytes * MS_PER_BYTE
    if (this.over === 'tcp') return this.way.resent()
    return this.way.passes() ? this.way.delayMs : null
  }

  /** A stream never overtakes itself. */
  private inOrder(which: 'lastThereMs' | 'lastBackMs', delay: number): number {
    const now = this.clock.now()
    if (!this.ordered) return delay
    this[which] = Math.max(this[which], now + delay)
    return this[which] - now
  }

  private arrive(bytes: number[]): void {
    const now = this.clock.now()
    if (this.over === 'framed') {
      for (const reply of this.framing.receive(bytes, now)) this.back(reply)
      return
    }
    this.held.push(...bytes)
    for (let end = this.held.indexOf(0xff); end >= 0; end = this.held.indexOf(0xff))
      this.packet(this.held.splice(0, end + 1), now)
  }

  private packet(packet: number[], nowMs: number): void {
    if (this.over === 'serial' && packet[0] === 0x88) {
      if (packet[1] === 0x30 && this.odd.fixedAddress === undefined) this.back([0x88, 0x30, 0x02, 0xff])
      else if (packet[1] === 0x01) {
        this.camera.receive([0x81, 0x01, 0x00, 0x01, 0xff], 0, nowMs)
        this.back(packet)
      }
      return
    }
    if (this.over === 'serial' && (packet[0]! & 0x07) !== this.camera.address) return
    const answers = this.camera.receive(packet, 0, nowMs).map((a) => a.bytes)
    for (const answer of answers) this.back(answer)
  }

  private back(bytes: number[]): void {
    const delay = this.delay(bytes.length)
    if (delay === null) return
    this.clock.after(this.inOrder('lastBackMs', delay), () => this.receive(Uint8Array.from(bytes)))
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
  const link = new FieldLink(over, visca, new FieldFraming(visca, odd.framing), odd, way, clock)
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
  return { clock, random, way, head, visca, body, camera, notices, until, truth, profile }
}

export type FieldRig = ReturnType<typeof fieldRig>
