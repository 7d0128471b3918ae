/**
 * VISCA without numbers: raw UDP, TCP and serial. What an answer belongs to follows from the order in
 * which things were sent. One inquiry is out at a time; a command that is sent twice acts twice, which
 * is harmless for drives, stops and absolute moves.
 */
import { ByOrder } from './byOrder'
import { decodeAnswer, encodeInquiry, type InquiryKind } from './inquiries'
import { decodeReply, type Reply } from './replies'
import { type SessionOptions, ViscaSession } from './session'
import type { Entry } from './sessionTypes'
import { PacketStream } from './stream'

/** How long the answer to a question that was given up may still come, ms. */
const LATE_MS = 300
/** What a camera is asked until it answers. Not all know the first. */
const PROBES: readonly InquiryKind[] = ['power', 'power', 'ptPosition', 'power', 'version', 'zoomPosition']

export class RawSession extends ViscaSession {
  private readonly stream = new PacketStream()
  private readonly order = new ByOrder(
    this.book,
    (entry, reply, nowMs) => this.settle(entry, reply, nowMs),
    () => this.lossy,
  )
  /** On a line that is shared the address tells whose answer it is. */
  private readonly shared: boolean

  constructor(options: SessionOptions) {
    super(options, { drives: 1, inquiries: 1 })
    this.shared = options.address !== undefined
  }

  receive(bytes: Uint8Array, nowMs: number): void {
    for (const packet of this.stream.push(bytes)) this.receivePacket(packet, nowMs)
  }

  protected override get knowsWhose(): boolean {
    return false
  }

  /** Takes one whole packet; on a chain its owner sorts them out. */
  receivePacket(packet: Uint8Array, nowMs: number): void {
    const reply = decodeReply(packet)
    if (!reply) return
    if (packet[0] !== (0x80 | (this.address << 4))) {
      if (this.shared) return
      this.book.note('otherAddress', nowMs)
    }
    this.heard(nowMs)
    if (this.state !== 'ready') this.awake(reply, nowMs)
    else if (!this.answersClear(reply, nowMs)) this.order.take(reply, nowMs)
    this.pump(nowMs)
  }

  /** A new connection: nothing of the former one will come. */
  reconnected(): void {
    this.stream.clear()
    this.order.clear()
  }

  protected wrap(entry: Entry, fresh: boolean, nowMs: number): Uint8Array {
    this.order.sent(entry, fresh, nowMs)
    return entry.payload
  }

  protected probe(): Uint8Array {
    return encodeInquiry(PROBES[(this.probes - 1) % PROBES.length]!, this.address)
  }

  protected silenced(): void {
    this.reconnected()
  }

  protected abandoned(entry: Entry, nowMs: number): void {
    if (entry.inquiry) this.givenUp.set(entry.inquiry, nowMs + LATE_MS)
    else this.order.abandoned(nowMs)
  }

  private awake(reply: Reply, nowMs: number): void {
    const answers = reply.kind === 'answer' && PROBES.some((kind) => decodeAnswer(kind, reply.packet))
    // One that does not know the question is there too.
    const refuses = reply.kind === 'error' && (reply.error === 'syntax' || reply.error === 'not-executable')
    if (answers || refuses) this.becomeReady(nowMs)
  }
}
