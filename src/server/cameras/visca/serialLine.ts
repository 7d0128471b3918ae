/** A serial line with its chain of cameras, shared by their drivers; opened for the first, closed after the last. */

import type { StopOrder } from '../../../core/guardian/stopOrder'
import { ViscaChain } from '../../../core/visca/chain'
import { packetWords } from '../../../core/visca/packetWords'
import type { RawSession } from '../../../core/visca/rawSession'
import type { SessionEvent } from '../../../core/visca/sessionTypes'
import { rawStops, type StopParts } from '../../../core/visca/stopPackets'
import { PacketStream } from '../../../core/visca/stream'
import type { Link } from '../../links/link'
import { openSerial, type SerialSettings } from '../../links/serial'
import type { Clock } from '../clock'
import type { Traffic } from '../report/traffic'
import type { ViscaPort } from './viscaPort'

/** How long before the line is free the next packet is handed to the system, so that it follows without a gap. */
const AHEAD_MS = 1

class Share implements ViscaPort {
  events: (events: readonly SessionEvent[]) => void = () => {}
  trouble: (trouble: string | null) => void = () => {}

  constructor(
    readonly session: RawSession,
    private readonly line: SerialLine,
    private readonly traffic: Traffic | null,
  ) {}

  note(way: 'out' | 'in', packet: Uint8Array): void {
    this.traffic?.note(way, packet, () => packetWords(packet, false))
  }

  stops(parts: StopParts): StopOrder[] {
    return [
      { over: 'serial', ...this.line.settings, packets: rawStops(parts, this.session.address), gapMs: 20 },
    ]
  }

  onEvents(listener: (events: readonly SessionEvent[]) => void): void {
    this.events = listener
  }

  onTrouble(listener: (trouble: string | null) => void): void {
    this.trouble = listener
    this.line.tellTrouble(this)
  }

  settle(): void {
    this.line.settle()
  }

  close(): void {
    this.line.leave(this)
  }
}

export class SerialLine {
  private readonly chain: ViscaChain
  private readonly shares = new Map<number, Share>()
  private lineTrouble: string | null = null
  private counted: number | null = null
  private cancelTimer: () => void = () => {}
  private closed = false
  /** For the reports of the cameras alone. */
  private readonly heard = new PacketStream()

  constructor(
    readonly settings: SerialSettings,
    private readonly link: Link,
    private readonly clock: Clock,
    private readonly onEmpty: () => void = () => {},
  ) {
    this.chain = new ViscaChain(settings.baud)
    link.onReceive((bytes) => {
      for (const packet of this.heard.push(bytes)) this.shares.get((packet[0]! >> 4) - 8)?.note('in', packet)
      this.chain.receive(bytes, clock.now())
      this.settle()
    })
    link.onTrouble((trouble) => {
      this.lineTrouble = trouble
      for (const share of this.shares.values()) this.tellTrouble(share)
    })
    link.onOpen(() => {
      this.chain.reopened()
      this.settle()
    })
    this.settle()
  }

  /** How many cameras the chain counted; null before it did. */
  get count(): number | null {
    return this.chain.count
  }

  /** The session of a camera whose driver has joined. */
  session(address: number): RawSession | null {
    return this.shares.get(address)?.session ?? null
  }

  get empty(): boolean {
    return this.shares.size === 0
  }

  join(address: number, traffic: Traffic | null = null): ViscaPort {
    const share = new Share(this.chain.session(address), this, traffic)
    this.shares.set(address, share)
    this.settle()
    return share
  }

  leave(share: Share): void {
    const { address } = share.session
    if (this.shares.get(address) !== share) return
    this.shares.delete(address)
    this.chain.remove(address)
    if (this.shares.size > 0) return
    this.close()
    this.onEmpty()
  }

  close(): void {
    this.closed = true
    this.cancelTimer()
    this.link.close()
  }

  tellTrouble(share: Share): void {
    share.trouble(this.lineTrouble ?? this.missing(share.session.address))
  }

  settle(): void {
    if (this.closed) return
    const { chain, clock } = this
    chain.advance(clock.now())
    // Handling events may bring new orders, which come back in here.
    for (const share of [...this.shares.values()]) {
      const events = share.session.takeEvents()
      if (events.length > 0) share.events(events)
    }
    if (chain.count !== this.counted) {
      this.counted = chain.count
      for (const share of this.shares.values()) this.tellTrouble(share)
    }
    const now = clock.now()
    const bytes = chain.next(now + AHEAD_MS)
    if (bytes) {
      this.shares.get(bytes[0]! & 0x07)?.note('out', bytes)
      this.link.send(bytes)
    }
    this.cancelTimer()
    const next = chain.nextAtMs(now)
    if (Number.isFinite(next)) {
      // What could go now has gone.
      this.cancelTimer = clock.after(Math.max(1, Math.ceil(next - AHEAD_MS - now)), () => this.settle())
    }
  }

  private missing(address: number): string | null {
    const { count } = this
    if (count === null || address <= count) return null
    const counted = count === 0 ? 'no camera' : count === 1 ? '1 camera' : `${count} cameras`
    return `The chain on this line has ${counted}, so there is none with address ${address}. Check the cable that leads on from the camera before it.`
  }
}

/** The open lines, by port. */
export class SerialLines {
  private readonly lines = new Map<string, { line: SerialLine; settings: string }>()

  constructor(
    private readonly clock: Clock,
    private readonly open: (settings: SerialSettings) => Link = openSerial,
  ) {}

  join(settings: SerialSettings, address: number, traffic: Traffic | null = null): ViscaPort {
    return this.line(settings).join(address, traffic)
  }

  /** The line of a port; an open one with other settings is taken as it is, since a line has one speed. */
  line(settings: SerialSettings): SerialLine {
    const known = this.lines.get(settings.path)
    if (known) return known.line
    const line = new SerialLine(settings, this.open(settings), this.clock, () => {
      if (this.lines.get(settings.path)?.line === line) this.lines.delete(settings.path)
    })
    this.lines.set(settings.path, { line, settings: `${settings.baud} ${settings.format}` })
    return line
  }

  /** Closes a line that was opened only to count. */
  closeIfEmpty(path: string): void {
    const known = this.lines.get(path)
    if (!known?.line.empty) return
    known.line.close()
    this.lines.delete(path)
  }

  /** The settings with which a port is open; null if it is not. */
  settingsOf(path: string): string | null {
    return this.lines.get(path)?.settings ?? null
  }
}
