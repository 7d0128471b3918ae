/**
 * VISCA without numbers: raw UDP, TCP and serial. What an answer belongs to follows from the order in
 * which things were sent. One inquiry is out at a time; a command that is sent twice acts twice, which
 * is harmless for drives, stops and absolute moves.
 */
import { decodeAnswer, encodeInquiry } from './inquiries'
import { decodeReply, type Reply } from './replies'
import { type SessionOptions, ViscaSession } from './session'
import type { Entry } from './sessionTypes'
import { PacketStream } from './stream'

/** How long an answer that was given up may still arrive, ms. */
const LATE_MS = 600
/** After a lost answer no question for this long: its late answer would be taken for the next one's. */
const QUIET_MS = 250

export class RawSession extends ViscaSession {
  private readonly stream = new PacketStream()
  /** When copies were sent, or commands given up, whose acknowledgements may still come. */
  private strays: number[] = []

  constructor(options: SessionOptions) {
    super(options, { drives: 1, inquiries: 1 })
  }

  receive(bytes: Uint8Array, nowMs: number): void {
    for (const packet of this.stream.push(bytes)) this.receivePacket(packet, nowMs)
  }

  /** Takes one whole packet; on a chain its owner sorts them out. */
  receivePacket(packet: Uint8Array, nowMs: number): void {
    const reply = decodeReply(packet)
    if (!reply || packet[0] !== (0x80 | (this.address << 4))) return
    this.heard(nowMs)
    if (this.state !== 'ready') this.awake(reply, nowMs)
    else this.take(reply, nowMs)
    this.pump(nowMs)
  }

  /** A new connection: nothing of the former one will come. */
  reconnected(): void {
    this.stream.clear()
    this.strays = []
  }

  protected wrap(entry: Entry, fresh: boolean, nowMs: number): Uint8Array {
    this.strays = this.strays.filter((atMs) => nowMs - atMs < LATE_MS)
    if (entry.urgency === 'stop' && fresh) entry.debt = this.strays.length
    if (entry.tries > 1 && !entry.inquiry) this.strays.push(nowMs)
    return entry.payload
  }

  protected probe(): Uint8Array {
    return encodeInquiry('power', this.address)
  }

  protected silenced(): void {
    this.reconnected()
  }

  protected abandoned(entry: Entry, nowMs: number): void {
    if (entry.inquiry) this.inquiriesFromMs = nowMs + QUIET_MS
    else this.strays.push(nowMs)
  }

  private awake(reply: Reply, nowMs: number): void {
    if (reply.kind !== 'answer' || !decodeAnswer('power', reply.packet)) return
    this.becomeReady(nowMs)
  }

  private oldestSent(test: (e: Entry) => boolean): Entry | undefined {
    let oldest: Entry | undefined
    for (const e of this.entries) {
      if (e.phase === 'sent' && test(e) && (!oldest || e.sentMs < oldest.sentMs)) oldest = e
    }
    return oldest
  }

  private take(reply: Reply, nowMs: number): void {
    switch (reply.kind) {
      case 'answer': {
        const asked = this.oldestSent((e) => !!e.inquiry)
        // One that does not fit is the late answer to an older question.
        if (asked && decodeAnswer(asked.inquiry!, reply.packet)) this.settle(asked, reply, nowMs)
        return
      }
      case 'ack': {
        const command = this.oldestSent((e) => !e.inquiry)
        if (!command) return
        if (command.debt > 0) {
          command.debt -= 1
          return
        }
        // A socket that is given out again has ended what ran in it.
        for (const e of this.inSocket(reply.socket)) this.settle(e, { ...reply, kind: 'completed' }, nowMs)
        this.settle(command, reply, nowMs)
        return
      }
      case 'completed':
        for (const e of this.inSocket(reply.socket)) this.settle(e, reply, nowMs)
        return
      case 'error':
        this.takeRefusal(reply, nowMs)
    }
  }

  private inSocket(socket: number): Entry[] {
    return this.entries.filter((e) => e.phase === 'running' && e.socket === socket)
  }

  private takeRefusal(reply: Reply & { kind: 'error' }, nowMs: number): void {
    const { error, socket } = reply
    const target =
      error === 'cancelled' || error === 'no-socket'
        ? this.inSocket(socket)[0]
        : this.oldestSent((e) => !e.inquiry || error === 'syntax' || error === 'not-executable')
    if (target) this.settle(target, reply, nowMs)
  }
}
