/**
 * What went over the wire to a camera and back: the newest packets, and what came in the minute before it last
 * failed. Kept in memory alone; nothing in it is a password.
 */
import type { Clock } from '../clock'

/** Packets that are kept. */
const KEPT = 500
const BEFORE_FAILURE_MS = 60_000
const FAILURES_KEPT = 3

export interface Packet {
  /** Ms since 1970. */
  atMs: number
  way: 'out' | 'in'
  /** As hex bytes, or as text where the protocol is text. */
  raw: string
  words: string
}

/** Decoded only when somebody looks: a thousand of these are made in a second. */
interface Kept {
  atMs: number
  way: Packet['way']
  bytes: Uint8Array | string | (() => string)
  words: (() => string) | string
}

export interface Failure {
  atMs: number
  why: string
  packets: Packet[]
}

const hex = (bytes: Uint8Array) => [...bytes].map((b) => b.toString(16).padStart(2, '0')).join(' ')

const shown = ({ atMs, way, bytes, words }: Kept): Packet => ({
  atMs,
  way,
  raw: typeof bytes === 'string' ? bytes : typeof bytes === 'function' ? bytes() : hex(bytes),
  words: typeof words === 'string' ? words : words(),
})

export class Traffic {
  private ring: Kept[] = []
  private next = 0
  private kept: { atMs: number; why: string; packets: Kept[] }[] = []

  constructor(private readonly clock: Clock) {}

  /** @param words what it says, or how to find out */
  note(way: Packet['way'], bytes: Kept['bytes'], words: Kept['words']): void {
    const packet = { atMs: this.clock.wall(), way, bytes, words }
    if (this.ring.length < KEPT) this.ring.push(packet)
    else this.ring[this.next] = packet
    this.next = (this.next + 1) % KEPT
  }

  /** It fell silent, or refuses: what led to it is kept. */
  failed(why: string): void {
    const atMs = this.clock.wall()
    const packets = this.inOrder().filter((p) => atMs - p.atMs < BEFORE_FAILURE_MS)
    this.kept = [...this.kept, { atMs, why, packets }].slice(-FAILURES_KEPT)
  }

  /** Oldest first. */
  get packets(): Packet[] {
    return this.inOrder().map(shown)
  }

  get failures(): Failure[] {
    return this.kept.map(({ atMs, why, packets }) => ({ atMs, why, packets: packets.map(shown) }))
  }

  private inOrder(): Kept[] {
    return this.ring.length < KEPT
      ? this.ring
      : [...this.ring.slice(this.next), ...this.ring.slice(0, this.next)]
  }
}
