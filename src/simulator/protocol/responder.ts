/**
 * The camera's side of VISCA over IP with numbers: a resent number is answered again and not acted on
 * again; a number older than the newest that was never seen is refused as out of order.
 */
import {
  BAD_MESSAGE,
  type Datagram,
  decodeDatagram,
  encodeDatagram,
  RESET_SEQUENCE,
  readControl,
  SEQUENCE_OUT_OF_ORDER,
} from '../../core/visca/ip'
import { isPacket } from '../../core/visca/packet'
import type { Head } from '../body/head'
import { type Tagged, ViscaDevice } from './device'

/** Numbers whose answers are kept for resends. */
const REMEMBERED = 256

export class ViscaResponder {
  readonly device: ViscaDevice
  private newest: number | null = null
  private lastReset: { sequence: number; from: string } | null = null
  private readonly answered = new Map<number, Uint8Array[]>()

  constructor(head: Head) {
    this.device = new ViscaDevice(head)
  }

  /** Takes one datagram; returns what the camera sends back at once. @param from whose it is */
  receive(bytes: Uint8Array, from = ''): Uint8Array[] {
    const datagram = decodeDatagram(bytes)
    if (!datagram) return []
    if (datagram.type === 'control') return this.control(datagram, from)
    if (datagram.type !== 'command' && datagram.type !== 'inquiry') return []
    const { sequence, payload } = datagram
    const seen = this.answered.get(sequence)
    if (seen) return seen
    if (this.newest !== null && sequence < this.newest) {
      return [this.controlReply(sequence, SEQUENCE_OUT_OF_ORDER)]
    }
    this.newest = sequence
    const replies = isPacket(payload)
      ? this.frame(this.device.receive(payload, sequence))
      : [this.controlReply(sequence, BAD_MESSAGE)]
    this.keep(sequence, replies)
    return replies
  }

  /** Completions that have come due. */
  poll(): Uint8Array[] {
    return this.device.poll().flatMap((tagged) => {
      const [reply] = this.frame([tagged])
      this.answered.get(tagged.tag)?.push(reply!)
      return [reply!]
    })
  }

  /** Power cycled: numbers start again with the next one that comes. */
  reboot(): void {
    this.device.reboot()
    this.newest = null
    this.lastReset = null
    this.answered.clear()
  }

  private frame(replies: readonly Tagged[]): Uint8Array[] {
    return replies.map(({ tag, packet }) => encodeDatagram({ type: 'reply', sequence: tag, payload: packet }))
  }

  private keep(sequence: number, replies: Uint8Array[]): void {
    this.answered.set(sequence, replies)
    if (this.answered.size > REMEMBERED) this.answered.delete(this.answered.keys().next().value!)
  }

  private control(datagram: Datagram, from: string): Uint8Array[] {
    if (readControl(datagram.payload) !== 'reset') return []
    const { sequence } = datagram
    // The same from the same client is a copy on the network: answered, but not acted on again.
    if (this.lastReset?.sequence !== sequence || this.lastReset.from !== from) {
      this.lastReset = { sequence, from }
      this.newest = null
      this.answered.clear()
    }
    return [this.controlReply(sequence, RESET_SEQUENCE)]
  }

  private controlReply(sequence: number, payload: Uint8Array): Uint8Array {
    return encodeDatagram({ type: 'controlReply', sequence, payload })
  }
}
