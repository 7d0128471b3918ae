/**
 * VISCA over IP with numbered packets. Each command takes effect once or is reported failed: a lost
 * packet is resent under its number, and the camera acts on a number once only.
 */
import { type Datagram, decodeDatagram, encodeDatagram, RESET_SEQUENCE, readControl } from './ip'
import { decodeReply } from './replies'
import { type SessionOptions, ViscaSession } from './session'
import type { Entry } from './sessionTypes'

export interface FramedOptions extends SessionOptions {
  /** Number that marks this session's reset; give each session another, the start time for one. */
  nonce: number
}

export class FramedSession extends ViscaSession {
  private sequence = 0
  private resetSequence: number

  constructor(options: FramedOptions) {
    super(options, { drives: 2, inquiries: 2 })
    this.resetSequence = options.nonce >>> 0
  }

  receive(bytes: Uint8Array, nowMs: number): void {
    const datagram = decodeDatagram(bytes)
    if (!datagram || (datagram.type !== 'reply' && datagram.type !== 'controlReply')) return
    this.heard(nowMs)
    if (datagram.type === 'controlReply') this.takeControl(datagram, nowMs)
    else {
      const reply = decodeReply(datagram.payload)
      const entry = this.entries.find((e) => e.phase !== 'waiting' && e.sequence === datagram.sequence)
      if (reply && entry) this.settle(entry, reply, nowMs)
    }
    this.pump(nowMs)
  }

  protected wrap(entry: Entry, fresh: boolean): Uint8Array {
    if (fresh) {
      this.sequence = (this.sequence + 1) >>> 0
      entry.sequence = this.sequence
    }
    const type = entry.inquiry ? 'inquiry' : 'command'
    return encodeDatagram({ type, sequence: entry.sequence, payload: entry.payload })
  }

  protected probe(): Uint8Array {
    return encodeDatagram({ type: 'control', sequence: this.resetSequence, payload: RESET_SEQUENCE })
  }

  protected silenced(): void {
    this.resetSequence = (this.resetSequence + 1) >>> 0
  }

  protected abandoned(): void {}

  private takeControl(datagram: Datagram, nowMs: number): void {
    const control = readControl(datagram.payload)
    if (control === 'reset') {
      if (this.state === 'ready' || datagram.sequence !== this.resetSequence) return
      this.sequence = 0
      this.becomeReady(nowMs)
      return
    }
    const entry = this.entries.find((e) => e.phase === 'sent' && e.sequence === datagram.sequence)
    if (!entry) return
    // The camera did not act on it: a newer number overtook it, or it was garbled on the way.
    if (entry.dropped || entry.inquiry) this.remove(entry)
    else this.retry(entry, nowMs, 0)
  }
}
