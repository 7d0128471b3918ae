/**
 * The camera's side of VISCA over IP, without I/O: datagrams and the time in, datagrams out. Two
 * sockets; a resent number is answered again and not acted on again; a number older than the newest
 * that was never seen is refused as out of order.
 */
import { decodeCommand, type ViscaCommand } from '../../core/visca/commands'
import { decodeInquiry, encodeAnswer } from '../../core/visca/inquiries'
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
import { encodeReply, type ReplyError } from '../../core/visca/replies'
import type { Head } from '../body/head'
import { answerTo, type Group, groupsOf, halt, perform } from './actions'

/** Numbers whose answers are kept for resends. */
const REMEMBERED = 256

interface Running {
  socket: number
  sequence: number
  groups: readonly Group[]
  done: () => boolean
}

export class ViscaResponder {
  /** A fault: every command is answered with "buffer full". */
  bufferFull = false
  /** Counts each command that took effect, for tests of "exactly once". */
  readonly performed: { sequence: number; command: ViscaCommand }[] = []

  private running: Running[] = []
  private newest: number | null = null
  private lastReset: number | null = null
  private readonly answered = new Map<number, Uint8Array[]>()

  constructor(private readonly head: Head) {}

  /** Takes one datagram; returns what the camera sends back at once. */
  receive(bytes: Uint8Array): Uint8Array[] {
    const datagram = decodeDatagram(bytes)
    if (!datagram) return []
    if (datagram.type === 'control') return this.control(datagram)
    if (datagram.type !== 'command' && datagram.type !== 'inquiry') return []
    const seen = this.answered.get(datagram.sequence)
    if (seen) return seen
    if (this.newest !== null && datagram.sequence < this.newest) {
      return [this.controlReply(datagram.sequence, SEQUENCE_OUT_OF_ORDER)]
    }
    this.newest = datagram.sequence
    const replies = isPacket(datagram.payload)
      ? this.act(datagram)
      : [this.controlReply(datagram.sequence, BAD_MESSAGE)]
    this.keep(datagram.sequence, replies)
    return replies
  }

  /** Completions that have come due. */
  poll(): Uint8Array[] {
    const out: Uint8Array[] = []
    this.running = this.running.filter((r) => {
      if (!r.done()) return true
      const reply = this.reply(r.sequence, encodeReply({ kind: 'completed', socket: r.socket }))
      this.answered.get(r.sequence)?.push(reply)
      out.push(reply)
      return false
    })
    return out
  }

  private keep(sequence: number, replies: Uint8Array[]): void {
    this.answered.set(sequence, replies)
    if (this.answered.size > REMEMBERED) this.answered.delete(this.answered.keys().next().value!)
  }

  private control(datagram: Datagram): Uint8Array[] {
    if (readControl(datagram.payload) !== 'reset') return []
    // A reset that was seen before is a copy on the network: answered, but not acted on again.
    if (this.lastReset !== datagram.sequence) {
      this.lastReset = datagram.sequence
      this.newest = null
      this.answered.clear()
    }
    return [this.controlReply(datagram.sequence, RESET_SEQUENCE)]
  }

  private controlReply(sequence: number, payload: Uint8Array): Uint8Array {
    return encodeDatagram({ type: 'controlReply', sequence, payload })
  }

  private reply(sequence: number, payload: Uint8Array): Uint8Array {
    return encodeDatagram({ type: 'reply', sequence, payload })
  }

  private error(sequence: number, error: ReplyError, socket = 0): Uint8Array[] {
    return [this.reply(sequence, encodeReply({ kind: 'error', socket, error }))]
  }

  private act({ type, sequence, payload }: Datagram): Uint8Array[] {
    if (type === 'inquiry') {
      const inquiry = decodeInquiry(payload)
      if (!inquiry) return this.error(sequence, 'syntax')
      return [this.reply(sequence, encodeAnswer(answerTo(this.head, inquiry)))]
    }
    const command = decodeCommand(payload)
    if (!command) return this.error(sequence, 'syntax')
    if (command.kind === 'cancel') return this.cancel(sequence, command.socket)
    const groups = groupsOf(command)
    const replaced = this.running.filter((r) => r.groups.some((g) => groups.includes(g)))
    const socket = [1, 2].find(
      (s) => !this.running.some((r) => r.socket === s) || replaced.some((r) => r.socket === s),
    )
    if (this.bufferFull || !socket) return this.error(sequence, 'buffer-full')
    const outcome = perform(this.head, command)
    if (outcome === 'refused') return this.error(sequence, 'not-executable', socket)
    this.performed.push({ sequence, command })
    if (this.performed.length > 100_000) this.performed.shift()
    const replies = replaced.flatMap((r) => this.error(r.sequence, 'cancelled', r.socket))
    this.running = this.running.filter((r) => !replaced.includes(r))
    replies.push(this.reply(sequence, encodeReply({ kind: 'ack', socket })))
    if (outcome.done()) replies.push(this.reply(sequence, encodeReply({ kind: 'completed', socket })))
    else this.running.push({ socket, sequence, groups, done: outcome.done })
    return replies
  }

  private cancel(sequence: number, socket: number): Uint8Array[] {
    const target = this.running.find((r) => r.socket === socket)
    if (!target) return this.error(sequence, 'no-socket', socket)
    halt(this.head, target.groups)
    this.running = this.running.filter((r) => r !== target)
    return [...this.error(target.sequence, 'cancelled', socket), ...this.error(sequence, 'cancelled', socket)]
  }
}
