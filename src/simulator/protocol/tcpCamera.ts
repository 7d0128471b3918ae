/** A stand-in's VISCA port over TCP: packets alone, on any number of connections. */
import { createServer, type Server, type Socket } from 'node:net'
import { PacketStream } from '../../core/visca/stream'
import type { Head } from '../body/head'
import type { ControlPort } from './controlPort'
import { ViscaDevice } from './device'
import { type Faults, NO_FAULTS } from './faults'

const POLL_MS = 8

export class TcpCamera implements ControlPort {
  private readonly device: ViscaDevice
  private readonly server: Server
  private readonly connections = new Map<number, Socket>()
  private readonly timer: ReturnType<typeof setInterval>
  private faults: Faults = NO_FAULTS
  private nextTag = 1

  /** @param answerMs what this camera takes to think */
  constructor(
    private readonly head: Head,
    private readonly host: string,
    private readonly port: number,
    private readonly answerMs: number,
  ) {
    this.device = new ViscaDevice(head)
    this.server = createServer((socket) => this.accept(socket))
    this.timer = setInterval(() => {
      head.advance(performance.now())
      for (const { tag, packet } of this.device.poll()) this.send(tag, packet)
    }, POLL_MS)
  }

  listen(): Promise<void> {
    return new Promise((resolve, reject) => {
      this.server.once('error', reject)
      this.server.listen(this.port, this.host, () => {
        this.server.off('error', reject)
        resolve()
      })
    })
  }

  setFaults(faults: Faults): void {
    this.faults = faults
    this.device.setFaults(faults)
  }

  reboot(): void {
    this.device.reboot()
    for (const socket of this.connections.values()) socket.destroy()
  }

  close(): void {
    clearInterval(this.timer)
    this.reboot()
    this.server.close()
  }

  private accept(socket: Socket): void {
    const tag = this.nextTag++
    const stream = new PacketStream()
    this.connections.set(tag, socket)
    socket.setNoDelay(true)
    socket.on('error', () => {})
    socket.on('close', () => this.connections.delete(tag))
    socket.on('data', (bytes) => {
      // Mute, the connection only seems to be there.
      if (this.faults.mute) return
      for (const packet of stream.push(bytes)) {
        setTimeout(() => {
          this.head.advance(performance.now())
          for (const reply of this.device.receive(packet, tag)) this.send(reply.tag, reply.packet)
        }, this.answerMs + this.faults.delayMs)
      }
    })
  }

  private send(tag: number, packet: Uint8Array): void {
    if (!this.faults.mute) this.connections.get(tag)?.write(packet)
  }
}
