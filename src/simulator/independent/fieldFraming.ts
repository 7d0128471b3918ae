/** VISCA over IP with numbers, as such a camera makes of it: datagrams in, datagrams out. */
import type { Answer, FieldVisca } from './fieldVisca'

export interface FramingOddities {
  /** How the reset of the numbers is answered. */
  resets: 'same' | 'other' | 'never'
  /** Under which number it replies. */
  numbers: 'echo' | 'zero' | 'own'
  /** It wants numbers above this until they are reset: another controller was here. */
  countsFrom: number
  /** Acknowledgement and completion come in one datagram. */
  joins: boolean
  /** After this many packets it has lost count, and refuses all until it is reset; 0: never. */
  losesCountAfter: number
}

export const PLAIN_FRAMING: FramingOddities = {
  resets: 'same',
  numbers: 'echo',
  countsFrom: 0,
  joins: false,
  losesCountAfter: 0,
}

const framed = (type: number, number: number, payload: readonly number[]): number[] => [
  type >> 8,
  type & 0xff,
  payload.length >> 8,
  payload.length & 0xff,
  (number >>> 24) & 0xff,
  (number >>> 16) & 0xff,
  (number >>> 8) & 0xff,
  number & 0xff,
  ...payload,
]

const REPLY = 0x0111
const CONTROL_REPLY = 0x0201

export class FieldFraming {
  private readonly oddities: FramingOddities
  private newest: number
  private own = 0x4000
  private taken = 0
  private lost = false
  private readonly answered = new Map<number, number[][]>()

  constructor(
    private readonly camera: FieldVisca,
    oddities: Partial<FramingOddities> = {},
  ) {
    this.oddities = { ...PLAIN_FRAMING, ...oddities }
    this.newest = this.oddities.countsFrom
  }

  receive(datagram: readonly number[], nowMs: number): number[][] {
    const type = (datagram[0]! << 8) | datagram[1]!
    const number = datagram.slice(4, 8).reduce((all, b) => all * 256 + b, 0)
    const payload = datagram.slice(8)
    if (type === 0x0200) return this.control(number, payload)
    if (type !== 0x0100 && type !== 0x0110) return []
    const before = this.answered.get(number)
    if (before) return before
    this.taken += 1
    const { losesCountAfter } = this.oddities
    if (losesCountAfter > 0 && this.taken % losesCountAfter === 0) this.lost = true
    if (this.lost || number < this.newest) return [framed(CONTROL_REPLY, number, [0x0f, 0x01])]
    this.newest = number
    const replies = this.frame(this.camera.receive(payload, number, nowMs))
    // A packet that it dropped was never seen.
    if (replies.length > 0 || this.camera.oddities.acks === 'none') this.answered.set(number, replies)
    return replies
  }

  poll(nowMs: number): number[][] {
    return this.frame(this.camera.poll(nowMs))
  }

  private control(number: number, payload: readonly number[]): number[][] {
    if (payload[0] !== 0x01) return []
    const { resets } = this.oddities
    this.newest = 0
    this.lost = false
    this.answered.clear()
    if (resets === 'never') return []
    return [framed(CONTROL_REPLY, resets === 'same' ? number : number + 7, [0x01])]
  }

  private frame(answers: readonly Answer[]): number[][] {
    const { joins, numbers } = this.oddities
    const under = (tag: number) => (numbers === 'echo' ? tag : numbers === 'zero' ? 0 : ++this.own)
    if (!joins || answers.length < 2) return answers.map(({ tag, bytes }) => framed(REPLY, under(tag), bytes))
    return [
      framed(
        REPLY,
        under(answers[0]!.tag),
        answers.flatMap(({ bytes }) => bytes),
      ),
    ]
  }
}
