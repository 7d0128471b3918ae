/**
 * VISCA over IP with numbered packets. Each command takes effect once or is reported failed: a lost
 * packet is resent under its number, and the camera acts on a number once only.
 */
import { ByOrder } from './byOrder'
import { encodeInquiry } from './inquiries'
import { type Datagram, encodeDatagram, RESET_SEQUENCE, readControl, splitDatagrams } from './ip'
import { decodeReply } from './replies'
import { type SessionOptions, ViscaSession } from './session'
import type { Entry } from './sessionTypes'
import { PacketStream } from './stream'

/** How long the answer to a question that was given up may still come, ms. */
const LATE_MS = 300
/** Resets without an answer after which a question is tried all the same. */
const RESETS = 3
/** Replies under numbers that fit nothing, before the first that fits: the numbers say nothing then. */
const MISFITS = 6
/**
 * Refused as out of order so often, with nothing taken for so long, means that the count is lost. A network that
 * reorders packets brings such refusals too, but among others.
 */
const OUT_OF_ORDER = 3
const MOST_NOTHING_TAKEN_MS = 500

export interface FramedOptions extends SessionOptions {
  /** Number that marks this session's reset; give each session another, the start time for one. */
  nonce: number
}

export class FramedSession extends ViscaSession {
  private sequence = 0
  private resetSequence: number
  private fits = 0
  private misfits = 0
  private byOrder: ByOrder | null = null
  private outOfOrder = 0
  private takenAtMs = 0

  constructor(options: FramedOptions) {
    super(options, { drives: 2, inquiries: 2 })
    this.resetSequence = options.nonce >>> 0
  }

  receive(bytes: Uint8Array, nowMs: number): void {
    const datagrams = splitDatagrams(bytes)
    if (datagrams.length > 1) this.book.note('joinedPackets', nowMs)
    for (const datagram of datagrams) {
      if (datagram.type !== 'reply' && datagram.type !== 'controlReply') continue
      this.heard(nowMs)
      if (datagram.type === 'controlReply') this.takeControl(datagram, nowMs)
      else this.takeReplies(datagram, nowMs)
    }
    this.pump(nowMs)
  }

  protected wrap(entry: Entry, fresh: boolean, nowMs: number): Uint8Array {
    this.byOrder?.sent(entry, fresh, nowMs)
    if (fresh) {
      this.sequence = (this.sequence + 1) >>> 0
      entry.sequence = this.sequence
    }
    const type = entry.inquiry ? 'inquiry' : 'command'
    return encodeDatagram({ type, sequence: entry.sequence, payload: entry.payload })
  }

  protected override get knowsWhose(): boolean {
    return this.byOrder === null
  }

  protected probe(): Uint8Array {
    if (this.probes > RESETS && this.probes % 2 === 0) {
      this.sequence = (this.sequence + 1) >>> 0
      const payload = encodeInquiry(this.probes % 4 === 0 ? 'power' : 'version')
      return encodeDatagram({ type: 'inquiry', sequence: this.sequence, payload })
    }
    return this.reset()
  }

  protected silenced(): void {
    this.resetSequence = (this.resetSequence + 1) >>> 0
    this.byOrder?.clear()
  }

  protected abandoned(entry: Entry, nowMs: number): void {
    if (!this.byOrder) return
    if (entry.inquiry) this.givenUp.set(entry.inquiry, nowMs + LATE_MS)
    else this.byOrder.abandoned(nowMs)
  }

  private reset(): Uint8Array {
    return encodeDatagram({ type: 'control', sequence: this.resetSequence, payload: RESET_SEQUENCE })
  }

  private takeReplies({ sequence, payload }: Datagram, nowMs: number): void {
    const packets = new PacketStream().push(payload)
    if (packets.length > 1) this.book.note('joinedPackets', nowMs)
    for (const packet of packets) {
      const reply = decodeReply(packet)
      if (!reply) continue
      if (packet[0] !== 0x90) this.book.note('otherAddress', nowMs)
      if (this.state !== 'ready') {
        this.book.note('resetUnanswered', nowMs)
        this.begin(nowMs)
        continue
      }
      if (this.byOrder) {
        if (!this.answersClear(reply, nowMs)) this.byOrder.take(reply, nowMs)
        continue
      }
      const entry = this.book.entries.find((e) => e.phase !== 'waiting' && e.sequence === sequence)
      // Of what is over, too: on a network that reorders packets it may come after the completion.
      if (reply.kind === 'ack' && !entry) this.acknowledgements += 1
      if (entry) {
        this.fits += 1
        this.outOfOrder = 0
        this.takenAtMs = nowMs
        this.settle(entry, reply, nowMs)
      } else if (!this.answersClear(reply, nowMs) && !this.wasSent(sequence)) this.misfit(nowMs)
    }
  }

  /** Then it is a late answer to what was given up. */
  private wasSent(sequence: number): boolean {
    return sequence > 0 && sequence <= this.sequence
  }

  /** A late answer fits nothing either, so a camera that has ever numbered well is never suspected. */
  private misfit(nowMs: number): void {
    this.misfits += 1
    if (this.fits > 0 || this.misfits < MISFITS) return
    this.book.note('unnumbered', nowMs)
    this.byOrder = new ByOrder(
      this.book,
      (entry, reply, at) => this.settle(entry, reply, at),
      () => this.lossy,
    )
    this.limits = { drives: 1, inquiries: 1 }
  }

  private begin(nowMs: number): void {
    this.misfits = 0
    this.outOfOrder = 0
    this.takenAtMs = nowMs
    this.becomeReady(nowMs)
  }

  private takeControl(datagram: Datagram, nowMs: number): void {
    const control = readControl(datagram.payload)
    if (control === 'reset') {
      if (this.state === 'ready') return
      if (datagram.sequence !== this.resetSequence) this.book.note('resetMisnumbered', nowMs)
      // A question may have been tried meanwhile: the camera would take its number for a copy.
      if (this.probes <= RESETS) this.sequence = 0
      this.begin(nowMs)
      return
    }
    const entry = this.book.entries.find((e) => e.phase === 'sent' && e.sequence === datagram.sequence)
    if (control === 'out-of-order' && this.countIsLost(nowMs)) return
    if (!entry) return
    // The camera did not act on it: a newer number overtook it, or it was garbled on the way.
    if (entry.dropped || entry.inquiry) this.book.remove(entry)
    else this.retry(entry, nowMs, 0)
  }

  /** It has another number in mind than we do. */
  private countIsLost(nowMs: number): boolean {
    this.outOfOrder += 1
    const within = Math.min(MOST_NOTHING_TAKEN_MS, 60 + 3 * (this.stats.roundTripMs ?? MOST_NOTHING_TAKEN_MS))
    const taken = nowMs - this.takenAtMs < within
    if (this.outOfOrder < OUT_OF_ORDER || taken || this.state !== 'ready') return false
    this.outOfOrder = 0
    this.takenAtMs = nowMs
    this.book.note('losesCount', nowMs)
    this.silenced()
    // We count on: a packet that overtakes the reset would be taken for a copy of an old one under a low number.
    this.sendRaw(this.reset())
    for (const e of [...this.book.entries]) {
      if (e.phase !== 'sent') continue
      if (e.dropped || e.inquiry) this.book.remove(e)
      else this.retry(e, nowMs, 0)
    }
    return true
  }
}
