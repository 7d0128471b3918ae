/** The cameras' side of a serial daisy chain, without I/O: packets in, packets out. */
import { chainWords } from '../../core/visca/chain'
import type { ViscaDevice } from './device'

export interface ChainLink {
  device: ViscaDevice
  /** Powered: one that is not lets nothing through to those behind it. */
  on: boolean
  /** It was given an address since it was powered. */
  addressed: boolean
}

const same = (a: Uint8Array, b: Uint8Array) => a.length === b.length && a.every((x, i) => x === b[i])

export class ChainResponder {
  readonly links: ChainLink[]

  constructor(devices: readonly ViscaDevice[]) {
    this.links = devices.map((device) => ({ device, on: true, addressed: false }))
  }

  /** As far as the cable reaches. */
  private get reached(): ChainLink[] {
    const end = this.links.findIndex((link) => !link.on)
    return end < 0 ? this.links : this.links.slice(0, end)
  }

  receive(packet: Uint8Array): Uint8Array[] {
    const { reached } = this
    // The last camera sends back what is for all.
    if (packet[0] === chainWords.BROADCAST) return this.broadcast(packet, reached)
    const address = packet[0]! & 0x07
    const target = reached.find((link) => link.addressed && link.device.address === address)
    return target ? target.device.receive(packet, 0).map((r) => r.packet) : []
  }

  poll(): Uint8Array[] {
    return this.reached
      .filter((link) => link.addressed)
      .flatMap((link) => link.device.poll().map((r) => r.packet))
  }

  /** One camera was power cycled: it tells the controller that the chain has changed. */
  rebooted(device: ViscaDevice): Uint8Array[] {
    const link = this.links.find((l) => l.device === device)!
    device.reboot()
    link.addressed = false
    return this.reached.includes(link) ? [Uint8Array.of(0x80 | (device.address << 4), 0x38, 0xff)] : []
  }

  private broadcast(packet: Uint8Array, reached: readonly ChainLink[]): Uint8Array[] {
    if (reached.length === 0) return []
    if (packet.length === 4 && packet[1] === 0x30) {
      let next = packet[2]!
      for (const link of reached) {
        link.device.address = next
        link.addressed = true
        next += 1
      }
      return [Uint8Array.of(chainWords.BROADCAST, 0x30, next, 0xff)]
    }
    if (same(packet, chainWords.CLEAR_ALL)) {
      for (const link of reached) link.device.reboot()
      return [packet]
    }
    return []
  }
}
