/**
 * A chain of stand-ins on a pseudo-terminal. The bytes take their time as on a real line: at 9600 baud
 * each needs 1.04 ms, and neither end can send faster.
 */
import { type ChildProcess, spawn } from 'node:child_process'
import { existsSync, mkdirSync } from 'node:fs'
import { dirname } from 'node:path'
import { SerialPort } from 'serialport'
import { PacketStream } from '../../core/visca/stream'
import type { Head } from '../body/head'
import { ChainResponder } from './chain'
import type { ControlPort } from './controlPort'
import { ViscaDevice } from './device'
import { type Faults, FaultyPath, NO_FAULTS } from './faults'

const POLL_MS = 8

export class SerialChain {
  private readonly responder: ChainResponder
  private readonly devices: ViscaDevice[]
  private readonly path = new FaultyPath(NO_FAULTS)
  private readonly msPerByte: number
  private cable: ChildProcess | null = null
  private port: SerialPort | null = null
  private readonly stream = new PacketStream()
  private inFreeAtMs = 0
  private out: number[] = []
  private outDueMs = 0
  private timer: ReturnType<typeof setInterval> | null = null
  private pump: ReturnType<typeof setTimeout> | null = null
  private unplugged = false

  /**
   * @param near the end that the server opens
   * @param heard is told the bytes at the moment when the first of them is on the line
   */
  constructor(
    private readonly heads: readonly Head[],
    private readonly near: string,
    baud: number,
    private readonly heard: (bytes: Uint8Array) => void = () => {},
  ) {
    this.devices = heads.map((head) => new ViscaDevice(head))
    this.responder = new ChainResponder(this.devices)
    this.msPerByte = 10_000 / baud
  }

  async listen(): Promise<void> {
    await this.plug()
    this.timer = setInterval(() => {
      const now = performance.now()
      for (const head of this.heads) head.advance(now)
      for (const packet of this.responder.poll()) this.send(packet)
    }, POLL_MS)
  }

  /** The part of one camera of the chain. */
  camera(index: number): ControlPort {
    const device = this.devices[index]!
    const link = this.responder.links[index]!
    return {
      listen: async () => {},
      setFaults: (faults) => {
        device.setFaults(faults)
        link.on = !faults.mute
        this.setFaults({ ...faults, mute: false })
      },
      reboot: () => {
        for (const packet of this.responder.rebooted(device)) this.send(packet)
      },
      close: () => {},
    }
  }

  close(): void {
    if (this.timer) clearInterval(this.timer)
    if (this.pump) clearTimeout(this.pump)
    this.unplug()
  }

  private setFaults(faults: Faults): void {
    this.path.set(faults)
    if (faults.unplugged === this.unplugged) return
    this.unplugged = faults.unplugged
    if (faults.unplugged) this.unplug()
    else void this.plug()
  }

  private unplug(): void {
    this.port?.removeAllListeners()
    this.port?.on('error', () => {})
    if (this.port?.isOpen) this.port.close(() => {})
    this.port = null
    this.cable?.kill('SIGTERM')
    this.cable = null
  }

  private async plug(): Promise<void> {
    const far = `${this.near}.far`
    mkdirSync(dirname(this.near), { recursive: true })
    const end = (link: string) => `pty,raw,echo=0,mode=666,link=${link}`
    const cable = spawn('socat', [end(this.near), end(far)], { stdio: 'ignore' })
    this.cable = cable
    const failed = new Promise<never>((_, reject) => {
      cable.once('error', () => reject(new Error('the program socat is missing')))
    })
    for (let i = 0; i < 100 && !(existsSync(far) && existsSync(this.near)); i++) {
      await Promise.race([failed, new Promise((resolve) => setTimeout(resolve, 20))])
    }
    const port = new SerialPort({ path: far, baudRate: 9600, autoOpen: false })
    await new Promise<void>((resolve, reject) => port.open((error) => (error ? reject(error) : resolve())))
    this.stream.clear()
    this.out = []
    port.on('data', (bytes: Buffer) => this.arrive(bytes))
    port.on('error', () => {})
    this.port = port
  }

  /** Bytes that were written at once arrive one after the other. */
  private arrive(bytes: Buffer): void {
    this.heard(bytes)
    const now = performance.now()
    this.inFreeAtMs = Math.max(now, this.inFreeAtMs) + bytes.length * this.msPerByte
    setTimeout(() => {
      for (const packet of this.stream.push(bytes)) {
        for (const head of this.heads) head.advance(performance.now())
        for (const reply of this.responder.receive(packet)) this.send(reply)
      }
    }, this.inFreeAtMs - now)
  }

  private send(packet: Uint8Array): void {
    if (this.path.copies().length === 0) return
    for (const byte of packet) this.out.push(...this.path.noise(), byte)
    if (this.pump) return
    this.outDueMs = Math.max(this.outDueMs, performance.now())
    this.flow()
  }

  /** Hands on as many bytes as the line has carried by now. */
  private flow(): void {
    const now = performance.now()
    const count = Math.min(this.out.length, Math.floor((now - this.outDueMs) / this.msPerByte))
    if (count > 0) {
      this.port?.write(Buffer.from(this.out.splice(0, count)))
      this.outDueMs += count * this.msPerByte
    }
    this.pump = this.out.length > 0 ? setTimeout(() => this.flow(), Math.max(1, this.msPerByte * 2)) : null
  }
}
