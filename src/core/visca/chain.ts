/**
 * Up to seven cameras on one serial line, as a state machine without I/O. It gives the cameras their
 * addresses, and shares the line: one packet at a time is written, and when the line is free again the
 * most urgent of all that wait is chosen. So a stop never waits for more than one packet.
 */
import { TERMINATOR } from './packet'
import { RawSession } from './rawSession'
import type { Rank } from './sessionTypes'
import { RANKS } from './sessionTypes'
import { PacketStream } from './stream'

export const MOST_ON_CHAIN = 7
const BROADCAST = 0x88
const ADDRESS_SET = Uint8Array.of(BROADCAST, 0x30, 0x01, TERMINATOR)
const CLEAR_ALL = Uint8Array.of(BROADCAST, 0x01, 0x00, 0x01, TERMINATOR)
/** A chain that does not answer is addressed again after this, ms. */
const ADDRESS_AGAIN_MS = 1000
/** Address sets without any return after which the cameras are asked under the addresses that they may have. */
const TRIES_BEFORE_FIXED = 3
/** How often addresses are given out again where cameras answer under the ones that they have, ms. */
const FIXED_AGAIN_MS = 60_000
/** Nothing heard from any camera for this long: they may have been power cycled and lost their addresses. */
const ADDRESS_AFTER_SILENCE_MS = 2500
/** How often a line that is being addressed is looked at for a stop, ms. */
const STOP_LOOK_MS = 20
/** One packet in this many is a question, if one waits, so that poses stay known on a busy line. */
const QUESTION_EVERY = 8

export class ViscaChain {
  /** How many cameras the chain counted; null before it was addressed. */
  count: number | null = null
  /** No address set ever returns: the cameras' addresses are set by a switch, and used as they are. */
  fixed = false
  private addressTries = 0
  private everCounted = false
  private readonly sessions = new Map<number, RawSession>()
  private readonly stream = new PacketStream()
  private readonly msPerByte: number
  private freeAtMs = Number.NEGATIVE_INFINITY
  private addressSentMs = Number.NEGATIVE_INFINITY
  private heardMs = Number.NEGATIVE_INFINITY
  private clearPending = false
  private turn = 0
  private packetsSinceQuestion = 0

  /** @param baud bits per second; a byte takes ten of them */
  constructor(baud: number) {
    this.msPerByte = 10_000 / baud
  }

  /** The session of the camera with this address, 1-7. */
  session(address: number): RawSession {
    const known = this.sessions.get(address)
    if (known) return known
    const session = new RawSession({ address, pulled: true, driveIntervalMs: 20 })
    this.sessions.set(address, session)
    return session
  }

  /** A camera was removed from the list. */
  remove(address: number): void {
    this.sessions.delete(address)
  }

  /** The line was reopened: addresses may be gone. */
  reopened(): void {
    this.stream.clear()
    this.count = null
    this.addressTries = 0
    this.addressSentMs = Number.NEGATIVE_INFINITY
    this.freeAtMs = Number.NEGATIVE_INFINITY
    for (const session of this.sessions.values()) session.reconnected()
  }

  receive(bytes: Uint8Array, nowMs: number): void {
    for (const packet of this.stream.push(bytes)) {
      this.heardMs = nowMs
      if (packet[0] === BROADCAST) this.takeBroadcast(packet)
      // The chain has changed: a camera was added or power cycled.
      else if (packet.length === 3 && packet[1] === 0x38) this.addressAgain(nowMs)
      else this.toSession(packet, nowMs)
    }
  }

  /** The next packet to write; null while the line is busy or nothing waits. */
  next(nowMs: number): Uint8Array | null {
    if (nowMs < this.freeAtMs) return null
    const bytes = this.choose(nowMs)
    if (bytes) this.freeAtMs = nowMs + bytes.length * this.msPerByte
    return bytes
  }

  advance(nowMs: number): void {
    const silent = nowMs - Math.max(this.heardMs, this.addressSentMs) > ADDRESS_AFTER_SILENCE_MS
    if (this.count !== null && silent) this.addressAgain(nowMs)
    for (const session of this.sessions.values()) session.advance(nowMs)
  }

  /** When there is something to do again, ms. */
  nextAtMs(nowMs: number): number {
    if (this.count === null && !this.fixed) {
      const stop = [...this.sessions.values()].some((session) => session.stopPending)
      const next = this.addressSentMs + this.addressEveryMs
      return Math.max(this.freeAtMs, stop ? Math.min(next, nowMs + STOP_LOOK_MS) : next)
    }
    let next = this.fixed
      ? this.addressSentMs + this.addressEveryMs
      : Math.max(this.heardMs, this.addressSentMs) + ADDRESS_AFTER_SILENCE_MS + 1
    if (this.clearPending) next = nowMs
    for (const session of this.sessions.values()) next = Math.min(next, session.nextAtMs(nowMs))
    return Math.max(next, this.freeAtMs)
  }

  private get addressEveryMs(): number {
    const answered = this.fixed && [...this.sessions.values()].some(({ state }) => state === 'ready')
    return answered ? FIXED_AGAIN_MS : ADDRESS_AGAIN_MS
  }

  private toSession(packet: Uint8Array, nowMs: number): void {
    const session = this.sessions.get((packet[0]! >> 4) - 8)
    session?.receivePacket(packet, nowMs)
    if (this.fixed && session?.state === 'ready') session.note('fixedAddresses', nowMs)
  }

  private addressAgain(nowMs: number): void {
    this.count = null
    this.addressTries = 0
    this.addressSentMs = Math.min(this.addressSentMs, nowMs - this.addressEveryMs)
  }

  private takeBroadcast(packet: Uint8Array): void {
    if (packet.length !== 4 || packet[1] !== 0x30) return
    const count = packet[2]! - 1
    if (count < 0 || count > MOST_ON_CHAIN || this.count !== null) return
    this.count = count
    this.fixed = false
    this.everCounted = true
    this.clearPending = true
  }

  private choose(nowMs: number): Uint8Array | null {
    const stop = this.pull('stop', nowMs)
    if (stop) return stop
    if (this.count === null) {
      if (nowMs >= this.addressSentMs + this.addressEveryMs) {
        this.fixed ||= !this.everCounted && this.addressTries++ >= TRIES_BEFORE_FIXED
        this.addressSentMs = nowMs
        return ADDRESS_SET
      }
      if (!this.fixed) return null
    }
    if (this.clearPending) {
      this.clearPending = false
      return CLEAR_ALL
    }
    const question = this.packetsSinceQuestion >= QUESTION_EVERY ? this.pull('inquiry', nowMs) : null
    if (question) return question
    for (const rank of RANKS) {
      const bytes = this.pull(rank, nowMs)
      if (bytes) return bytes
    }
    return null
  }

  /** From the cameras in turn, so that none is left out. */
  private pull(rank: Rank, nowMs: number): Uint8Array | null {
    const all = [...this.sessions.values()]
    for (let i = 0; i < all.length; i++) {
      const at = (this.turn + i) % all.length
      const bytes = all[at]!.pull(rank, nowMs)
      if (!bytes) continue
      this.turn = at + 1
      this.packetsSinceQuestion = rank === 'inquiry' ? 0 : this.packetsSinceQuestion + 1
      return bytes
    }
    return null
  }
}

/** The two packets that a stand-in or a finder needs to know. */
export const chainWords = { ADDRESS_SET, CLEAR_ALL, BROADCAST }
