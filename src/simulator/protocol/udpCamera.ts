/** A stand-in camera's VISCA port: UDP in and out, through a path that can be made faulty. */
import { createSocket, type RemoteInfo, type Socket } from 'node:dgram'
import type { Head } from '../body/head'
import type { ControlPort } from './controlPort'
import { type Faults, FaultyPath, NO_FAULTS } from './faults'
import type { DatagramProtocol } from './wireProtocol'

const POLL_MS = 8

export class UdpCamera implements ControlPort {
  private readonly path = new FaultyPath(NO_FAULTS)
  private readonly socket: Socket
  private readonly timer: ReturnType<typeof setInterval>
  private peer: RemoteInfo | null = null

  constructor(
    private readonly head: Head,
    private readonly responder: DatagramProtocol,
    private readonly host: string,
    private readonly port: number,
  ) {
    this.socket = createSocket('udp4')
    this.socket.on('message', (message, peer) => {
      for (const delay of this.path.copies()) this.after(delay, () => this.take(message, peer))
    })
    this.timer = setInterval(() => {
      this.head.advance(performance.now())
      if (this.peer) this.send(this.responder.poll(), this.peer)
    }, POLL_MS)
  }

  listen(): Promise<void> {
    return new Promise((resolve, reject) => {
      this.socket.once('error', reject)
      this.socket.bind(this.port, this.host, () => {
        this.socket.off('error', reject)
        this.socket.on('error', () => {})
        resolve()
      })
    })
  }

  setFaults(faults: Faults): void {
    this.path.set(faults)
    this.responder.device.setFaults(faults)
  }

  reboot(): void {
    this.responder.reboot()
    this.peer = null
  }

  close(): void {
    clearInterval(this.timer)
    this.socket.close()
  }

  private after(ms: number, act: () => void): void {
    if (ms <= 0) act()
    else setTimeout(act, ms)
  }

  private take(message: Uint8Array, peer: RemoteInfo): void {
    this.peer = peer
    this.head.advance(performance.now())
    this.send(this.responder.receive(message, `${peer.address}:${peer.port}`), peer)
  }

  private send(datagrams: Uint8Array[], peer: RemoteInfo): void {
    for (const datagram of datagrams) {
      for (const delay of this.path.copies()) {
        this.after(delay, () => this.socket.send(datagram, peer.port, peer.address, () => {}))
      }
    }
  }
}
