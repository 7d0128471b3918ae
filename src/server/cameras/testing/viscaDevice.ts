/** A VISCA camera for the tests, from byte literals: it shares no codec with the driver. Raw packets, no header. */
import type { Link } from '../../links/link'
import type { HandClock } from './handClock'
import type { PlainHead } from './plainHead'
import type { Way } from './way'

const nibbles = (value: number, count: number): number[] =>
  Array.from({ length: count }, (_, i) => (value >> (4 * (count - 1 - i))) & 0xf)
const fromNibbles = (bytes: readonly number[], signed: boolean): number => {
  const value = bytes.reduce((all, b) => all * 16 + (b & 0xf), 0)
  const top = 16 ** bytes.length
  return signed && value >= top / 2 ? value - top : value
}

export interface ViscaUnits {
  panPerDeg: number
  tiltPerDeg: number
  zoomTele: number
  panSpeeds: readonly number[]
  tiltSpeeds: readonly number[]
}

export class ViscaDevice implements Link {
  private receive: (bytes: Uint8Array) => void = () => {}
  private opened: () => void = () => {}
  digitalZoom: boolean | null = null

  constructor(
    private readonly head: PlainHead,
    private readonly units: ViscaUnits,
    private readonly way: Way,
    private readonly clock: HandClock,
  ) {}

  onReceive(listener: (bytes: Uint8Array) => void) {
    this.receive = listener
  }
  onTrouble() {}
  onOpen(listener: () => void) {
    this.opened = listener
  }
  renew() {
    this.opened()
  }
  close() {}

  send(bytes: Uint8Array): void {
    if (!this.way.passes()) return
    this.clock.after(this.way.delayMs, () => {
      const answers = this.obey([...bytes])
      if (!this.way.passes()) return
      this.clock.after(this.way.delayMs, () => {
        for (const answer of answers) this.receive(Uint8Array.from(answer))
      })
    })
  }

  private obey(p: number[]): number[][] {
    const text = p
      .slice(1, -1)
      .map((b) => b.toString(16).padStart(2, '0'))
      .join(' ')
    const is = (start: string) => text.startsWith(start)
    const answer = (...data: number[]) => [[0x90, 0x50, ...data, 0xff]]
    const ack = [[0x90, 0x41, 0xff]]
    const done = [...ack, [0x90, 0x51, 0xff]]
    const { head, units } = this
    const at = head.read()
    if (is('09 06 12'))
      return answer(
        ...nibbles(Math.round(at.pan * units.panPerDeg) & 0xffff, 4),
        ...nibbles(Math.round(at.tilt * units.tiltPerDeg) & 0xffff, 4),
      )
    if (is('09 04 47')) return answer(...nibbles(Math.round(at.zoom * units.zoomTele), 4))
    if (is('09 04 00')) return answer(head.power ? 2 : 3)
    if (is('09 04 38')) return answer(head.auto ? 2 : 3)
    if (is('09 04 48')) return answer(...nibbles(Math.round(head.focus * 0xf000), 4))
    if (is('09 00 02')) return answer(0, 1, 5, 1, 0, 0, 2)
    if (is('09')) return [[0x90, 0x60, 0x02, 0xff]]
    if (is('01 00 01')) return [[0x90, 0x50, 0xff]]
    if (is('01 06 01')) {
      const sign = (b: number, minus: number) => (b === 3 ? 0 : b === minus ? -1 : 1)
      const speed = (table: readonly number[], step: number) => table[Math.min(table.length, step) - 1] ?? 0
      head.drive({
        pan: sign(p[6]!, 1) * speed(units.panSpeeds, p[4]!),
        // 1 is up.
        tilt: -sign(p[7]!, 1) * speed(units.tiltSpeeds, p[5]!),
      })
      return ack
    }
    if (is('01 06 02')) {
      head.goTo({
        pan: fromNibbles(p.slice(6, 10), true) / units.panPerDeg,
        tilt: fromNibbles(p.slice(10, 14), true) / units.tiltPerDeg,
      })
      return ack
    }
    if (is('01 06 04')) {
      head.goTo({ pan: 0, tilt: 0 })
      return ack
    }
    if (is('01 04 07')) {
      const way = p[4]! >> 4
      const step = (p[4]! & 0xf) + 1
      head.drive({ zoom: way === 2 ? 0.05 * step : way === 3 ? -0.05 * step : 0 })
      return ack
    }
    if (is('01 04 47')) {
      head.goTo({ zoom: fromNibbles(p.slice(4, 8), false) / units.zoomTele })
      return ack
    }
    if (is('01 04 3f 01')) {
      head.keep(p[5]!)
      return done
    }
    if (is('01 04 3f 02')) return head.recall(p[5]!) ? done : [[0x90, 0x60, 0x41, 0xff]]
    if (is('01 04 38')) {
      head.auto = p[4] === 2
      return done
    }
    if (is('01 04 00')) {
      head.power = p[4] === 2
      return done
    }
    if (is('01 04 06')) {
      this.digitalZoom = p[4] === 2
      return done
    }
    // All else it takes and does nothing that can be seen.
    return done
  }
}
