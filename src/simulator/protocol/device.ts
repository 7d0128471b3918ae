/**
 * The camera's side of VISCA without I/O and without framing: packets in, packets out. Two sockets; a
 * command that runs is completed later. Each reply carries the tag of what it answers.
 */
import { type NamedControl, readControl, templateBytes } from '../../core/heads/namedControls'
import { controlsOf } from '../../core/heads/pictureControls'
import { decodeCommand, type ViscaCommand } from '../../core/visca/commands'
import { decodeInquiry, encodeAnswer } from '../../core/visca/inquiries'
import { encodeReply, type ReplyError } from '../../core/visca/replies'
import type { Head } from '../body/head'
import { answerTo, controlAnswer, type Group, groupsOf, halt, perform, performControl } from './actions'
import type { Faults } from './faults'

/** What is asked by `06 06`. */
const IS_MENU_OPEN = [0x06, 0x06].join()

export interface Tagged {
  tag: number
  packet: Uint8Array
}

interface Running {
  socket: number
  tag: number
  groups: readonly Group[]
  done: () => boolean
}

/** What a device is made of: the head of a rig has no lens. */
export interface DeviceParts {
  lens: boolean
}

export class ViscaDevice {
  address = 1
  /** A fault: every command is answered with "buffer full". */
  bufferFull = false
  /** A fault: what was acknowledged is never completed. */
  neverComplete = false
  /** A fault: it does not know the questions where it stands. */
  noPosition = false
  /** Counts each command that took effect, for tests of "exactly once". */
  readonly performed: { tag: number; command: ViscaCommand }[] = []
  private running: Running[] = []
  private readonly controls: readonly NamedControl[]

  constructor(
    private readonly head: Head,
    private readonly parts: DeviceParts = { lens: true },
  ) {
    this.controls = controlsOf(head.profile)
  }

  setFaults({ bufferFull, neverComplete, noPosition }: Faults): void {
    Object.assign(this, { bufferFull, neverComplete, noPosition })
  }

  /** Takes one packet, of whose header only the payload counts. */
  receive(packet: Uint8Array, tag: number): Tagged[] {
    return packet[1] === 0x09 ? this.answer(packet, tag) : this.act(packet, tag)
  }

  /** Completions that have come due. */
  poll(): Tagged[] {
    if (this.neverComplete) return []
    const out: Tagged[] = []
    this.running = this.running.filter((r) => {
      if (!r.done()) return true
      out.push(this.reply(r.tag, { kind: 'completed', socket: r.socket }))
      return false
    })
    return out
  }

  /** Power cycled: nothing of before is remembered. */
  reboot(): void {
    this.running = []
  }

  private reply(tag: number, reply: Parameters<typeof encodeReply>[0]): Tagged {
    return { tag, packet: encodeReply(reply, this.address) }
  }

  private error(tag: number, error: ReplyError, socket = 0): Tagged[] {
    return [this.reply(tag, { kind: 'error', socket, error })]
  }

  private answer(packet: Uint8Array, tag: number): Tagged[] {
    const asked = [...packet.subarray(2, -1)].join()
    if (asked === IS_MENU_OPEN && this.parts.lens) {
      const bytes = [this.head.menu.open ? 0x02 : 0x03]
      return [{ tag, packet: encodeAnswer({ kind: 'control:menu', bytes }, this.address) }]
    }
    const control = this.controls.find((c) => c.ask !== undefined && templateBytes(c.ask).join() === asked)
    if (control && this.parts.lens) {
      const kind = `control:${control.key}` as const
      const bytes = controlAnswer(this.head, control)
      return [{ tag, packet: encodeAnswer({ kind, bytes }, this.address) }]
    }
    const inquiry = decodeInquiry(packet)
    const ofLens = inquiry === 'zoomPosition' || inquiry === 'focusPosition' || inquiry === 'focusMode'
    const ofPose = inquiry === 'ptPosition' || inquiry === 'zoomPosition'
    if (!inquiry || (ofLens && !this.parts.lens) || (ofPose && this.noPosition))
      return this.error(tag, 'syntax')
    return [{ tag, packet: encodeAnswer(answerTo(this.head, inquiry), this.address) }]
  }

  private act(packet: Uint8Array, tag: number): Tagged[] {
    const command = decodeCommand(packet)
    if (!command) return this.own(packet, tag)
    if (command.kind === 'cancel') return this.cancel(tag, command.socket)
    if (command.kind === 'tallyState' || command.kind === 'tallyGreen') return this.error(tag, 'syntax')
    if (command.kind === 'clear') return this.clear(tag)
    const groups = groupsOf(command)
    if (!this.parts.lens && !groups.includes('panTilt') && command.kind !== 'power')
      return this.error(tag, 'syntax')
    const replaced = this.running.filter((r) => r.groups.some((g) => groups.includes(g)))
    const socket = [1, 2].find(
      (s) => !this.running.some((r) => r.socket === s) || replaced.some((r) => r.socket === s),
    )
    if (this.bufferFull || !socket) return this.error(tag, 'buffer-full')
    const outcome = perform(this.head, command)
    if (outcome === 'refused') return this.error(tag, 'not-executable', socket)
    this.performed.push({ tag, command })
    if (this.performed.length > 100_000) this.performed.shift()
    const replies = replaced.flatMap((r) => this.error(r.tag, 'cancelled', r.socket))
    this.running = this.running.filter((r) => !replaced.includes(r))
    replies.push(this.reply(tag, { kind: 'ack', socket }))
    if (outcome.done() && !this.neverComplete) replies.push(this.reply(tag, { kind: 'completed', socket }))
    else this.running.push({ socket, tag, groups, done: outcome.done })
    return replies
  }

  /** Commands of this head's own. */
  private own(packet: Uint8Array, tag: number): Tagged[] {
    if (this.parts.lens && this.head.power && this.head.menu.obey([...packet.subarray(1, -1)]))
      return this.atOnce(tag)
    const order = this.parts.lens ? readControl(packet, this.controls) : null
    if (!order) return this.error(tag, 'syntax')
    if (performControl(this.head, order) === 'refused') return this.error(tag, 'not-executable', 1)
    return this.atOnce(tag)
  }

  private atOnce(tag: number): Tagged[] {
    return [this.reply(tag, { kind: 'ack', socket: 1 }), this.reply(tag, { kind: 'completed', socket: 1 })]
  }

  /** Both sockets are free again, and whatever ran in them goes on to its end. */
  private clear(tag: number): Tagged[] {
    this.running = []
    return [this.reply(tag, { kind: 'completed', socket: 0 })]
  }

  private cancel(tag: number, socket: number): Tagged[] {
    const target = this.running.find((r) => r.socket === socket)
    if (!target) return this.error(tag, 'no-socket', socket)
    halt(this.head, target.groups)
    this.running = this.running.filter((r) => r !== target)
    return [...this.error(target.tag, 'cancelled', socket), ...this.error(tag, 'cancelled', socket)]
  }
}
