/** Such a VISCA camera behind a real socket: UDP with numbers or without, or TCP. */
import { createSocket, type Socket as UdpSocket } from 'node:dgram'
import { type AddressInfo, createServer, type Server, type Socket } from 'node:net'
import { FieldFraming, type FramingOddities } from './fieldFraming'
import type { FieldVisca } from './fieldVisca'

export interface PortOddities {
  /** From where, and to where, its answers over UDP go. */
  answers: 'as asked' | 'from another port' | 'to the fixed port'
  /** TCP: how many may be connected; each one more is closed at once. */
  clients: number
}

const PLAIN_PORT: PortOddities = { answers: 'as asked', clients: 8 }
const FIXED_PORT = 52381
const POLL_MS = 10

export class FieldViscaPort {
  /** TCP connections that were made so far. */
  connections = 0
  private readonly oddities: PortOddities
  private readonly framing: FieldFraming
  private readonly sockets: UdpSocket[] = []
  private readonly clients = new Set<Socket>()
  private server: Server | null = null
  private timer: ReturnType<typeof setInterval> | null = null
  /** Where the last question came from. */
  private send: (bytes: readonly number[]) => void = () => {}

  constructor(
    private readonly over: 'framed' | 'raw' | 'tcp',
    private readonly camera: FieldVisca,
    { framing, ...oddities }: Partial<PortOddities> & { framing?: Partial<FramingOddities> } = {},
  ) {
    this.oddities = { ...PLAIN_PORT, ...oddities }
    this.framing = new FieldFraming(camera, framing)
  }

  /** @returns its port */
  async listen(host: string, port = 0): Promise<number> {
    this.timer = setInterval(() => this.poll(), POLL_MS)
    return this.over === 'tcp' ? this.listenTcp(host, port) : this.listenUdp(host, port)
  }

  close(): void {
    if (this.timer) clearInterval(this.timer)
    for (const socket of this.sockets) socket.close()
    for (const client of this.clients) client.destroy()
    this.server?.close()
  }

  private poll(): void {
    const now = performance.now()
    const due = this.over === 'framed' ? this.framing.poll(now) : this.camera.poll(now).map((a) => a.bytes)
    for (const bytes of due) this.send(bytes)
  }

  private take(bytes: readonly number[]): void {
    const now = performance.now()
    const answers =
      this.over === 'framed'
        ? this.framing.receive(bytes, now)
        : this.camera.receive(bytes, 0, now).map((a) => a.bytes)
    for (const answer of answers) this.send(answer)
  }

  private bound(host: string, port: number): Promise<UdpSocket> {
    const socket = createSocket('udp4')
    this.sockets.push(socket)
    return new Promise((resolve, reject) => {
      socket.once('error', reject)
      socket.bind(port, host, () => resolve(socket))
    })
  }

  private async listenUdp(host: string, port: number): Promise<number> {
    const [ear, other] = [await this.bound(host, port), await this.bound(host, 0)]
    const { answers } = this.oddities
    ear.on('message', (bytes, from) => {
      const mouth = answers === 'from another port' ? other : ear
      const to = answers === 'to the fixed port' ? FIXED_PORT : from.port
      this.send = (answer) => mouth.send(Uint8Array.from(answer), to, from.address, () => {})
      this.take([...bytes])
    })
    return ear.address().port
  }

  private listenTcp(host: string, port: number): Promise<number> {
    const server = createServer((socket) => {
      this.connections += 1
      socket.on('error', () => {})
      if (this.clients.size >= this.oddities.clients) return void socket.destroy()
      this.clients.add(socket)
      socket.on('close', () => this.clients.delete(socket))
      let held: number[] = []
      socket.on('data', (bytes) => {
        this.send = (answer) => socket.write(Uint8Array.from(answer))
        held.push(...bytes)
        for (let end = held.indexOf(0xff); end >= 0; end = held.indexOf(0xff)) {
          this.take(held.slice(0, end + 1))
          held = held.slice(end + 1)
        }
      })
    })
    this.server = server
    return new Promise((resolve, reject) => {
      server.once('error', reject)
      server.listen(port, host, () => resolve((server.address() as AddressInfo).port))
    })
  }
}
