/** What a stand-in speaks on its datagram socket: numbered packets or packets alone. */
import { isPacket } from '../../core/visca/packet'
import type { Head } from '../body/head'
import { type DeviceParts, ViscaDevice } from './device'
import { ViscaResponder } from './responder'

export interface DatagramProtocol {
  readonly device: ViscaDevice
  /** @param from whose it is */
  receive(bytes: Uint8Array, from: string): Uint8Array[]
  poll(): Uint8Array[]
  reboot(): void
}

export const framed = (head: Head): DatagramProtocol => new ViscaResponder(head)

export function raw(head: Head, parts: DeviceParts = { lens: true }): DatagramProtocol {
  const device = new ViscaDevice(head, parts)
  return {
    device,
    receive: (bytes) => (isPacket(bytes) ? device.receive(bytes, 0).map((r) => r.packet) : []),
    poll: () => device.poll().map((r) => r.packet),
    reboot: () => device.reboot(),
  }
}
