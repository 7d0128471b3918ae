/**
 * The VISCA of such a camera, from byte literals: packets in, packets out, with the oddities that are met in the
 * field as switches. No I/O; time is an argument.
 */
import type { FieldHead } from './fieldHead'
import { FieldImage } from './fieldImage'

export interface ViscaOddities {
  /** How commands are answered. */
  acks: 'both' | 'completion' | 'none'
  /** Answers to questions carry the number of a socket. */
  answersInSocket: boolean
  /** As which camera it answers over IP. */
  answersAs: number
  /** Digits of pan and of tilt. */
  digits: readonly [4 | 5, 4 | 5]
  /** Its status comes in two bytes instead of four. */
  shortStatus: boolean
  /** Questions, as hex behind `09`, that it leaves unanswered, and that it does not know. */
  ignores: readonly string[]
  refuses: readonly string[]
  /** It answers every question that it does not know with this. */
  answersAnything: number | null
  /** The first time that each question comes it is refused, as after switching on. */
  refusesAtFirst: boolean
  /** Packets that come sooner than this after another are dropped, ms; stops too. */
  gapMs: number
  /** Another controller has left both sockets busy: only clearing the buffers frees them. */
  socketsLeftBusy: boolean
  /** Every command keeps its socket for this long, ms. */
  holdsSocketMs: number
  /** Its memories are numbered from this. */
  firstSlot: 0 | 1
  /** It has the usual picture settings. */
  pictures: boolean
  /** From this slot on a recall opens its menu. */
  menuFromSlot: number
  /** Which orders switch its lamps; red and green are two of the first family. */
  tally: 'lamp' | 'red and green' | 'states' | 'none'
}

export const PLAIN_VISCA: ViscaOddities = {
  acks: 'both',
  answersInSocket: false,
  answersAs: 1,
  digits: [4, 4],
  shortStatus: false,
  ignores: [],
  refuses: [],
  answersAnything: null,
  refusesAtFirst: false,
  gapMs: 0,
  socketsLeftBusy: false,
  holdsSocketMs: 0,
  firstSlot: 0,
  pictures: true,
  menuFromSlot: 80,
  tally: 'lamp',
}

export interface Answer {
  /** What it answers. */
  tag: number
  bytes: number[]
  /** It comes by itself, later than the packet that it answers. */
  late: boolean
}

const hex = (bytes: readonly number[]) => bytes.map((b) => b.toString(16).padStart(2, '0')).join(' ')
const digitsOf = (value: number, count: number): number[] => {
  const whole = value < 0 ? value + 16 ** count : value
  return Array.from({ length: count }, (_, i) => Math.floor(whole / 16 ** (count - 1 - i)) % 16)
}
const fromDigits = (bytes: readonly number[]): number => {
  const value = bytes.reduce((all, b) => all * 16 + (b & 0x0f), 0)
  return value >= 16 ** bytes.length / 2 ? value - 16 ** bytes.length : value
}

export class FieldVisca {
  readonly oddities: ViscaOddities
  readonly image = new FieldImage()
  /** Address on a line of several; over IP always 1. */
  address = 1
  /** Packets that were dropped because they came too soon. */
  dropped = 0
  private sockets: ({ tag: number; untilMs: number } | null)[] = [null, null]
  private lastMs = Number.NEGATIVE_INFINITY
  private readonly met = new Set<string>()

  constructor(
    readonly head: FieldHead,
    oddities: Partial<ViscaOddities> = {},
  ) {
    this.oddities = { ...PLAIN_VISCA, ...oddities }
    if (this.oddities.socketsLeftBusy)
      this.sockets = [1, 2].map(() => ({ tag: -1, untilMs: Number.MAX_VALUE }))
  }

  /** One packet with its header and terminator. @param tag comes back with what answers it */
  receive(packet: readonly number[], tag: number, nowMs: number): Answer[] {
    const { gapMs } = this.oddities
    if (nowMs - this.lastMs < gapMs) {
      this.dropped += 1
      return []
    }
    this.lastMs = nowMs
    if (packet.length < 3 || packet[packet.length - 1] !== 0xff) return []
    const text = hex(packet.slice(1, -1))
    const answers = text.startsWith('09 ')
      ? this.question(text.slice(3), nowMs)
      : this.command(packet, text, tag, nowMs)
    return answers.map((bytes) => ({ tag, bytes, late: false }))
  }

  /** What has come due. */
  poll(nowMs: number): Answer[] {
    const out: Answer[] = []
    this.sockets.forEach((held, i) => {
      if (!held || nowMs < held.untilMs || (held.untilMs === 0 && this.head.busy)) return
      this.sockets[i] = null
      if (held.tag >= 0 && this.oddities.acks !== 'none')
        out.push({ tag: held.tag, bytes: [this.from, 0x50 | (i + 1), 0xff], late: true })
    })
    return out
  }

  private get from(): number {
    return 0x80 + 16 * (this.address === 1 ? this.oddities.answersAs : this.address)
  }

  private question(asked: string, nowMs: number): number[][] {
    const { ignores, refuses, refusesAtFirst, digits, shortStatus, answersInSocket, answersAnything } =
      this.oddities
    if (ignores.includes(asked)) return []
    const unknown = [[this.from, 0x60, 0x02, 0xff]]
    if (refuses.includes(asked)) return unknown
    if (refusesAtFirst && !this.met.has(asked)) {
      this.met.add(asked)
      return unknown
    }
    const { head } = this
    const at = head.report(nowMs)
    const answer = (...data: number[]) => [[this.from, answersInSocket ? 0x51 : 0x50, ...data, 0xff]]
    switch (asked) {
      case '06 12':
        return answer(...digitsOf(at.pan, digits[0]), ...digitsOf(at.tilt, digits[1]))
      case '06 11':
        return answer(head.traits.panSpeeds.length, head.traits.tiltSpeeds.length)
      case '06 10':
        return shortStatus ? answer(0x00, head.busy ? 0x04 : 0x00) : answer(0, 0, 0, head.busy ? 4 : 0)
      case '04 47':
        return answer(...digitsOf(at.zoom, 4))
      case '04 48':
        return answer(...digitsOf(head.focus, 4))
      case '04 00':
        return answer(head.power ? 0x02 : 0x03)
      case '04 38':
        return answer(head.autofocus ? 0x02 : 0x03)
      case '00 02':
        return answer(0x00, 0x99, 0x0f, 0x1e, 0x01, 0x02, 0x02)
      default: {
        const value = this.oddities.pictures ? this.image.answer(asked) : null
        if (value) return answer(...value)
        return answersAnything === null ? unknown : answer(answersAnything)
      }
    }
  }

  private command(p: readonly number[], text: string, tag: number, nowMs: number): number[][] {
    if (text === '01 00 01') {
      this.sockets = [null, null]
      return [[this.from, 0x50, 0xff]]
    }
    if (/^2[12]$/.test(text)) return this.cancel(Number(text[1]), nowMs)
    const free = this.sockets.indexOf(null)
    if (free < 0) return [[this.from, 0x60, 0x03, 0xff]]
    const result = this.obey(p, text, nowMs)
    if (result === 'unknown') return [[this.from, 0x60, 0x02, 0xff]]
    if (result === 'refused') return [[this.from, 0x61, 0x41, 0xff]]
    return this.answerCommand(tag, free, result === 'travels', nowMs)
  }

  private answerCommand(tag: number, socket: number, travels: boolean, nowMs: number): number[][] {
    const { acks, holdsSocketMs } = this.oddities
    const done = [this.from, 0x50 | (socket + 1), 0xff]
    const ack = [this.from, 0x40 | (socket + 1), 0xff]
    if (travels || holdsSocketMs > 0) {
      this.sockets[socket] = { tag, untilMs: travels ? 0 : nowMs + holdsSocketMs }
      return acks === 'both' ? [ack] : []
    }
    if (acks === 'none') return []
    return acks === 'both' ? [ack, done] : [done]
  }

  private cancel(socket: number, nowMs: number): number[][] {
    if (!this.sockets[socket - 1]) return [[this.from, 0x60 | socket, 0x05, 0xff]]
    this.sockets[socket - 1] = null
    this.head.cancel(nowMs)
    return [[this.from, 0x60 | socket, 0x04, 0xff]]
  }

  private obey(
    p: readonly number[],
    text: string,
    nowMs: number,
  ): 'done' | 'travels' | 'unknown' | 'refused' {
    const { head, image } = this
    const is = (start: string) => text.startsWith(start)
    const pictured = this.oddities.pictures ? image.obey(p, text, nowMs) : null
    if (pictured) return pictured
    if (is('01 06 01') && p.length === 9) {
      if (image.menuOpen) {
        const arrow =
          p[7] === 1 ? 'up' : p[7] === 2 ? 'down' : p[6] === 1 ? 'left' : p[6] === 2 ? 'right' : null
        if (arrow) image.pressed.push(arrow)
        return 'done'
      }
      const pan = p[6] === 1 ? -1 : p[6] === 2 ? 1 : 0
      const tilt = p[7] === 1 ? 1 : p[7] === 2 ? -1 : 0
      head.drive(pan * p[4]!, tilt * p[5]!, nowMs)
      return 'done'
    }
    if (is('01 06 02')) {
      const [a, b] = this.oddities.digits
      if (p.length !== 7 + a + b) return 'unknown'
      const panTo = fromDigits(p.slice(6, 6 + a))
      const tiltTo = fromDigits(p.slice(6 + a, 6 + a + b))
      head.goTo(panTo, tiltTo, p[4]!, p[5]!, nowMs)
      return 'travels'
    }
    if (is('01 06 04')) {
      head.home(nowMs)
      return 'travels'
    }
    if (is('01 04 07')) {
      const way = { 0: 0, 2: 1, 3: -1 }[p[4]!] ?? (p[4]! >> 4 === 2 ? 1 : p[4]! >> 4 === 3 ? -1 : null)
      if (way === null) return 'unknown'
      head.driveZoom(way, p[4]! < 0x10 ? 3 : p[4]! & 0x07, nowMs)
      return 'done'
    }
    if (is('01 04 47') && p.length === 9) {
      head.zoomTo(
        p.slice(4, 8).reduce((all, b) => all * 16 + b, 0),
        nowMs,
      )
      return 'travels'
    }
    if (is('01 04 08')) return 'done'
    if (is('01 04 48')) {
      head.focus = p.slice(4, 8).reduce((all, b) => all * 16 + b, 0)
      return 'done'
    }
    if (is('01 04 38')) {
      head.autofocus = p[4] === 0x02
      return 'done'
    }
    if (is('01 04 00')) {
      head.power = p[4] === 0x02
      return 'done'
    }
    if (is('01 04 3f')) return this.memory(p[4]!, p[5]!, nowMs)
    const { tally } = this.oddities
    if (is('01 7e 04 1a 00') && tally === 'red and green') {
      head.green = p[6] === 0x02
      return 'done'
    }
    if (is('01 7e 01 0a 00') && (tally === 'lamp' || tally === 'red and green')) {
      head.red = p[6] === 0x02
      return 'done'
    }
    if (is('01 0a 02 02') && tally === 'states') {
      head.red = p[5] === 0x02
      head.green = p[5] === 0x01
      return 'done'
    }
    return 'unknown'
  }

  private memory(action: number, slot: number, nowMs: number): 'done' | 'travels' | 'refused' {
    const { menuFromSlot, firstSlot } = this.oddities
    if (slot >= menuFromSlot) {
      this.image.menuOpen = true
      return 'done'
    }
    if (slot < firstSlot) return 'refused'
    if (action === 0x01) this.head.keep(slot)
    if (action !== 0x02) return 'done'
    return this.head.recall(slot, nowMs) ? 'travels' : 'refused'
  }
}
