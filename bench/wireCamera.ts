/** A camera on the wire that stamps each packet as it comes in. */
import { createSocket, type Socket } from 'node:dgram'
import type { AddressInfo } from 'node:net'
import { headProfile } from '../src/core/heads/registry'
import { decodeCommand, type ViscaCommand } from '../src/core/visca/commands'
import { decodeDatagram } from '../src/core/visca/ip'
import { Head } from '../src/simulator/body/head'
import { ViscaResponder } from '../src/simulator/protocol/responder'

export class WireCamera {
  onCommand: (command: ViscaCommand, atMs: number) => void = () => {}
  private readonly head = new Head(
    headProfile('marsh-20x'),
    { panDeg: 0, tiltDeg: 0, zoom: 0 },
    () => 8,
    performance.now(),
  )
  private readonly responder = new ViscaResponder(this.head)
  private readonly socket: Socket = createSocket('udp4')
  private closed = false

  async listen(): Promise<number> {
    this.socket.on('message', (bytes, peer) => {
      const atMs = performance.now()
      const datagram = decodeDatagram(bytes)
      const command = datagram?.type === 'command' ? decodeCommand(datagram.payload) : null
      if (command) this.onCommand(command, atMs)
      // Cameras do not wait for each other: whatever else has arrived is stamped before this one answers.
      setImmediate(() => this.answer(bytes, peer.port, peer.address, atMs))
    })
    await new Promise<void>((resolve) => this.socket.bind(0, '127.0.0.1', resolve))
    return (this.socket.address() as AddressInfo).port
  }

  close(): void {
    this.closed = true
    this.socket.close()
  }

  private answer(bytes: Uint8Array, port: number, address: string, atMs: number): void {
    if (this.closed) return
    this.head.advance(atMs)
    for (const reply of [...this.responder.receive(bytes), ...this.responder.poll()])
      this.socket.send(reply, port, address)
  }
}
